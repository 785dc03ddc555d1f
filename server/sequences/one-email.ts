/** One email to one prospect: a sequence of its own, by the same rules as all, and a page of its own. */
import { type OneEmail, oneEmailOf, oneEmailSchema, pathOfOneEmail } from "../../core/sequence/one-email.ts";
import { isEmail, type Path } from "../../core/sequence/path.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App, AppTx } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { fullName, type Prospect, prospectById } from "../db/prospects.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { checkSequence } from "./check-sequence.ts";
import { createSequence } from "./create-sequence.ts";
import { sequenceForm } from "./open-sequence.ts";
import { saveSequence } from "./save-sequence.ts";
import { startJourneys } from "./start-sequence.ts";
import { stopByRep } from "./stop-by-rep.ts";

/** The sequence on which somebody is. */
export interface Meanwhile {
  sequenceId: number;
  name: string;
}

export const sequenceOfNow = (db: Db, prospectId: number): Meanwhile | null =>
  sql(
    db,
    `SELECT s.id AS sequenceId, s.name FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     WHERE j.prospect_id = @prospectId AND j.state = 'active'`,
  ).get<Meanwhile>({ prospectId }) ?? null;

/** Why nobody can be written to at all; null if they can. */
export function whyNotWritten(db: Db, prospect: Prospect | undefined): string | null {
  if (!prospect || prospect.erasedAt !== null) return "This person is no longer here.";
  if (prospect.mergedInto !== null)
    return "They were merged into another person. Write from that one's story.";
  if (prospect.email === "") return "No address is known. Type it under Edit first.";
  if (isBlocked(db, prospect.email)) return "They are on the block list: nothing is ever sent there.";
  return prospect.verdict === "bad"
    ? "Their address is bad: an email to it would not arrive. Correct it under Edit first."
    : null;
}

export interface Written {
  sequenceId: number;
  /** The id by which the sequence that was stopped for it goes on again; null if there was none. */
  undoStop: number | null;
}

/** Writes to one prospect. A sequence that they are on is stopped first, if that was said. */
export function writeOneEmail(app: App, user: User, input: unknown): Outcome<Written> {
  const read = oneEmailSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const email = read.data;
  const no = mayNot(app, user.id, "prospect.change", email.prospectId);
  if (no) return no;
  const prospect = prospectById(app.db, email.prospectId);
  const why = whyNotWritten(app.db, prospect);
  if (!prospect || why !== null) return refused({ form: why ?? "" });
  const meanwhile = sequenceOfNow(app.db, prospect.id);
  if (meanwhile && email.meanwhile !== "stop")
    return refused({
      form: `They are on “${meanwhile.name}”. Say that it stops for them, or wait until it is through.`,
    });
  const from = mailboxesFor(app, user, email.mailboxId);
  if (!from.ok) return from;
  return transact(app, (app): Outcome<Written> => {
    const name = `To ${fullName(prospect)}`.slice(0, 80);
    const made = createSequence(app, user.id, { name }, pathOfOneEmail(email));
    if (!made.ok) return made;
    const id = made.value;
    const stored = storeEmail(app, user, id, email, {
      zone: prospect.timeZone ?? user.zone,
      mailboxIds: from.value,
      path: pathOfOneEmail(email),
    });
    if (!stored.ok) return stored;
    const stopped = meanwhile ? stopByRep(app, prospect.id, user.id) : null;
    if (stopped && !stopped.ok) return stopped;
    sql(app.db, "UPDATE sequences SET kind = 'single', state = 'running' WHERE id = @id").run({ id });
    const begun = startJourneys(app, user.id, sequenceById(app.db, id) as Sequence, [prospect.id], {
      again: true,
    });
    // What keeps the start from taking them was asked before; nobody is told that an email goes which does not.
    if (begun.length === 0)
      return refused({ form: "Nothing can be written to them now. Their story says why." });
    return done({ sequenceId: id, undoStop: stopped?.ok ? stopped.value : null });
  });
}

/** The mailboxes that an email goes from: the one that was chosen, or any of one's own. */
function mailboxesFor(app: App, user: User, mailboxId: number | null): Outcome<number[]> {
  if (mailboxId !== null) return mayNot(app, user.id, "mailbox.use", mailboxId) ?? done([mailboxId]);
  const own = allMailboxes(app.db)
    .filter(({ userId, state }) => userId === user.id && state === "active")
    .map(({ id }) => id);
  return own.length > 0 ? done(own) : refused({ form: "None of your mailboxes sends now. Look at Sending." });
}

/** What is wrong with its texts is said at the field that holds them. */
function storeEmail(
  app: AppTx,
  user: User,
  id: number,
  email: OneEmail,
  { zone, mailboxIds, path }: { zone: string; mailboxIds: number[]; path: Path },
): Outcome<null> {
  const before = sequenceById(app.db, id) as Sequence;
  const tracksOpens = email.followUps.some(({ unless }) => unless === "opened");
  const saved = saveSequence(
    app,
    {
      ...sequenceForm(before),
      ...{ zone, mailboxIds, path },
      writesTo: "any",
      settings: { ...before.settings, holidays: true, tracksOpens, pageId: email.pageId },
    },
    user.id,
  );
  if (!saved.ok) return saved;
  const [problem] = checkSequence(app, sequenceById(app.db, id) as Sequence).problems;
  if (!problem) return done(null);
  const nth = email.followUps.findIndex((followUp) => followUp.id === problem.nodeId);
  return refused({ [nth >= 0 ? `followUps.${nth}.body` : "body"]: problem.message });
}

/** The steps of an email that have gone: they stay as they were. */
const goneSteps = (db: Db, sequenceId: number): Set<string> =>
  new Set(
    sql(
      db,
      `SELECT t.step_id AS stepId FROM touches t JOIN journeys j ON j.id = t.journey_id
       WHERE j.sequence_id = @sequenceId AND t.state NOT IN ('queued', 'draft', 'open')`,
    )
      .all<{ stepId: string }>({ sequenceId })
      .map(({ stepId }) => stepId),
  );

export interface OpenEmail {
  email: OneEmail;
  /** Ids of the parts that have gone; the first email's is "one". */
  gone: string[];
}

/** An email that was written, as it can be changed; null for what is none, or nobody's to see. */
export function openOneEmail(app: App, user: User, sequenceId: number): OpenEmail | null {
  if (mayNot(app, user.id, "sequence.see", sequenceId)) return null;
  const sequence = sequenceById(app.db, sequenceId);
  const person = sql(app.db, "SELECT prospect_id AS id FROM journeys WHERE sequence_id = @sequenceId").get<{
    id: number;
  }>({ sequenceId });
  if (sequence?.kind !== "single" || !person) return null;
  const [only, ...more] = sequence.mailboxIds;
  return {
    email: oneEmailOf(sequence.path, {
      prospectId: person.id,
      mailboxId: only !== undefined && more.length === 0 ? only : null,
      pageId: sequence.settings.pageId,
    }),
    gone: [...goneSteps(app.db, sequenceId)],
  };
}

/** Changes what has not gone yet of an email that was written. */
export function reviseOneEmail(app: App, user: User, sequenceId: number, input: unknown): Outcome<null> {
  const read = oneEmailSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const no = mayNot(app, user.id, "sequence.change", sequenceId);
  if (no) return no;
  const from = mailboxesFor(app, user, read.data.mailboxId);
  if (!from.ok) return from;
  return transact(app, (app): Outcome<null> => {
    const sequence = sequenceById(app.db, sequenceId);
    if (sequence?.kind !== "single") return refused({ form: "This is no single email." });
    const gone = goneSteps(app.db, sequenceId);
    const kept = sequence.path.filter(({ id }) => gone.has(id));
    const path = [...kept, ...pathOfOneEmail(read.data).filter(({ id }) => !gone.has(id))];
    return storeEmail(app, user, sequenceId, read.data, {
      zone: sequence.zone,
      mailboxIds: gone.size > 0 ? sequence.mailboxIds : from.value,
      path,
    });
  });
}

/** Takes the follow-ups and the reminder off an email, as long as they have not come up. */
export function detachFollowUps(app: App, userId: number, sequenceId: number): Outcome<null> {
  const no = mayNot(app, userId, "sequence.change", sequenceId);
  if (no) return no;
  const sequence = sequenceById(app.db, sequenceId);
  if (sequence?.kind !== "single") return refused({ form: "This is no single email." });
  const gone = goneSteps(app.db, sequenceId);
  const [first, ...others] = sequence.path;
  const path = [...(first && isEmail(first) ? [first] : []), ...others.filter(({ id }) => gone.has(id))];
  const saved = saveSequence(app, { ...sequenceForm(sequence), path }, userId);
  return saved.ok ? done(null) : saved;
}
