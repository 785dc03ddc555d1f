/** One email to one prospect: a sequence of its own, by the same rules as all. */
import { oneEmailSchema, pathOfOneEmail } from "../../core/sequence/one-email.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql, transact } from "../db/open.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { checkSequence } from "./check-sequence.ts";
import { createSequence } from "./create-sequence.ts";
import { sequenceForm } from "./open-sequence.ts";
import { saveSequence } from "./save-sequence.ts";
import { startJourneys } from "./start-sequence.ts";

/** Writes to one prospect, who is on no other sequence. Returns the id of its sequence. */
export function writeOneEmail(app: App, user: User, input: unknown): Outcome<number> {
  const read = oneEmailSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const email = read.data;
  const { db } = app;
  const no = mayNot(app, user.id, "prospect.change", email.prospectId);
  if (no) return no;
  const prospect = prospectById(db, email.prospectId);
  if (!prospect || prospect.erasedAt !== null) return refused({ form: "This person is no longer here." });
  if (prospect.email === "") return refused({ form: "No address is known. Type it under Edit first." });
  if (isBlocked(db, prospect.email))
    return refused({ form: "They are on the block list: nothing is ever sent there." });
  const busy = sql(
    db,
    `SELECT s.name FROM journeys j JOIN sequences s ON s.id = j.sequence_id WHERE j.prospect_id = @id AND j.state = 'active'`,
  ).get<{ name: string }>({ id: prospect.id });
  if (busy)
    return refused({
      form: `They are on “${busy.name}”. Stop that for them first, or wait until it is through.`,
    });
  const mailboxIds = allMailboxes(db)
    .filter(({ userId, state }) => userId === user.id && state === "active")
    .map(({ id }) => id);
  if (mailboxIds.length === 0) return refused({ form: "None of your mailboxes sends now. Look at Sending." });
  const path = pathOfOneEmail(email);
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const name = `To ${fullName(prospect)}`.slice(0, 80);
    const made = createSequence(app, user.id, { name }, path);
    if (!made.ok) return made;
    const draft = sequenceById(db, made.value) as Sequence;
    const saved = saveSequence(
      app,
      {
        ...sequenceForm(draft),
        zone: prospect.timeZone ?? user.zone,
        writesTo: "any",
        mailboxIds,
        settings: { ...draft.settings, holidays: true, tracksOpens: email.followUp?.unless === "opened" },
        path,
      },
      user.id,
    );
    const [problem] = saved.ok ? checkSequence(app, sequenceById(db, made.value) as Sequence).problems : [];
    if (!saved.ok || problem) {
      sql(db, "DELETE FROM sequences WHERE id = @id").run({ id: made.value });
      return saved.ok ? refused({ body: problem?.message ?? "" }) : saved;
    }
    sql(db, "UPDATE sequences SET kind = 'single', state = 'running' WHERE id = @id").run({
      id: made.value,
    });
    startJourneys(app, user.id, sequenceById(db, made.value) as Sequence, [prospect.id], { again: true });
    return done(made.value);
  });
}

/** Takes the follow-up and the reminder off an email, as long as they have not come up. */
export function detachFollowUps(app: App, userId: number, sequenceId: number): Outcome<null> {
  const no = mayNot(app, userId, "sequence.change", sequenceId);
  if (no) return no;
  const sequence = sequenceById(app.db, sequenceId);
  if (sequence?.kind !== "single") return refused({ form: "This is no single email." });
  const saved = saveSequence(app, { ...sequenceForm(sequence), path: sequence.path.slice(0, 1) }, userId);
  return saved.ok ? done(null) : saved;
}
