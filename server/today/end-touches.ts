/** Several equal things at once: twenty invitations that were sent in one go are noted in one go. */
import { z } from "zod";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { endTouch } from "./end-touch.ts";
import { putOff } from "./put-off.ts";
import { endReminder } from "./reminders.ts";

const MOST_AT_ONCE = 400;

const id = z.number().int();
const form = z.object({
  how: z.enum(["done", "skipped", "later"]),
  touchIds: z.array(id).max(MOST_AT_ONCE),
  reminderIds: z.array(id).max(MOST_AT_ONCE),
});

/** Ends each, or puts it off to tomorrow, by the rules of one. Returns how many; refused if nothing was open any more. */
export function endTouches(app: App, user: User, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { how, touchIds, reminderIds } = read.data;
  const outcomes = [
    ...touchIds.map((id) => (how === "later" ? putOff(app, user, id, 1) : endTouch(app, user, { id }, how))),
    ...reminderIds.map((id) => endReminder(app, user, id, how === "later" ? { days: 1 } : how)),
  ];
  const ended = outcomes.filter(({ ok }) => ok).length;
  const no = outcomes.find((outcome) => !outcome.ok);
  return ended === 0 && no && !no.ok ? no : done(ended);
}
