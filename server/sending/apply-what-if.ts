import { whatIfSchema } from "../../core/sending/what-if.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { setMailboxState } from "./mailboxes/save-mailbox.ts";
import { saveSendingSettings } from "./rules.ts";

/** Makes true what of a what-if can be: limits, gaps and pauses of the mailboxes that somebody may change, and the share. */
export function applyWhatIf(app: App, user: User, input: unknown): Outcome<null> {
  const read = whatIfSchema.safeParse(input);
  if (!read.success) return refused({ form: "This change cannot be read. Reload the page and try again." });
  const { dailyLimit, gapMinutes, followUpPercent, paused } = read.data;
  const no = followUpPercent === null ? null : mayNot(app, user.id, "settings.team");
  if (no) return no;
  const own = allMailboxes(app.db).filter(({ id }) => mayNot(app, user.id, "mailbox.change", id) === null);
  if (own.length === 0 && (dailyLimit !== null || gapMinutes !== null || paused.length > 0))
    return refused({ form: "None of these mailboxes is yours to change." });
  return transact(app, (): Outcome<null> => {
    for (const { id } of own)
      sql(
        app.db,
        `UPDATE mailboxes SET daily_limit = coalesce(@dailyLimit, daily_limit), gap_least = coalesce(@least, gap_least),
             gap_most = coalesce(@most, gap_most), revision = revision + 1 WHERE id = @id`,
      ).run({ id, dailyLimit, least: gapMinutes?.least ?? null, most: gapMinutes?.most ?? null });
    for (const { id } of own) if (paused.includes(id)) setMailboxState(app, user, id, "paused");
    return followUpPercent === null ? done(null) : saveSendingSettings(app, user.id, { followUpPercent });
  });
}
