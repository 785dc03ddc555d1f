import { z } from "zod";
import { isZone } from "../../core/calendar.ts";
import { timeSchema } from "../../core/day-and-time.ts";
import { USUALLY, WRITES_TO } from "../../core/prospects/verdict.ts";
import type { Path } from "../../core/sequence/path.ts";
import { pathSchema } from "../../core/sequence/path-schema.ts";
import { sequenceSettingsSchema } from "../../core/sequence/settings.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { rememberPause } from "../consequences/pausing.ts";
import { sql, transact } from "../db/open.ts";
import { notePause } from "../db/pauses.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { moveJourneys, recountJourneys } from "./move-journeys.ts";
import { reconsiderHolds } from "./reconsider-holds.ts";

const form = z
  .object({
    id: z.number().int(),
    /** What the form was opened with; left out, whatever is there is overwritten. */
    revision: z.number().int().optional(),
    name: z.string().trim().min(1, "Give the sequence a name.").max(80),
    listId: z.number().int().nullable(),
    zone: z.string().refine(isZone, "Choose a time zone."),
    days: z.array(z.number().int().min(1).max(7)).min(1, "Choose at least one weekday."),
    opens: timeSchema,
    closes: timeSchema,
    writesTo: z.enum(WRITES_TO).default(USUALLY),
    isPersonal: z.boolean().default(false),
    mailboxIds: z.array(z.number().int()),
    poolId: z.number().int().nullable().default(null),
    settings: sequenceSettingsSchema.prefault({}),
    path: pathSchema,
    /** Whether those under way go on with the new path, or finish on theirs. */
    underWay: z.enum(["move", "finish"]).default("move"),
  })
  .refine(({ opens, closes }) => opens < closes, {
    path: ["closes"],
    message: "The hours close after they open.",
  });
export type SequenceForm = Omit<z.infer<typeof form>, "underWay">;

/** What a save is answered with when somebody else saved in between. */
const CHANGED_MEANWHILE = "changed_meanwhile";

/**
 * Saves a sequence; once it has been started, a changed path becomes a new version. Returns the version's number. A step
 * keeps its id, so nobody gets it twice. A form that is older than what is stored is refused under `revision`.
 */
export function saveSequence(app: App, input: unknown, userId: By = null): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, revision, days, mailboxIds, path, settings, isPersonal, underWay, ...fields } = read.data;
  const { clock } = app;
  const now = clock.now();
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const before = sequenceById(db, id);
    if (!before || before.deletedAt !== null) return refused({ form: "This sequence no longer exists." });
    const no =
      mayNot(app, userId, "sequence.change", id) ??
      // What it sends from and writes to already stays; what is new has to be one's own, or shared.
      mayNot(
        app,
        userId,
        "mailbox.use",
        mailboxIds.filter((each) => !before.mailboxIds.includes(each)),
      ) ??
      mayNot(
        app,
        userId,
        "account.use",
        settings.accountId === null || settings.accountId === before.settings.accountId
          ? []
          : settings.accountId,
      ) ??
      mayNot(
        app,
        userId,
        "page.use",
        settings.pageId === null || settings.pageId === before.settings.pageId ? [] : settings.pageId,
      ) ??
      mayNot(
        app,
        userId,
        "list.see",
        fields.listId === null || fields.listId === before.listId ? [] : fields.listId,
      );
    if (no) return no;
    const known = sql(
      db,
      `SELECT (SELECT count(*) FROM mailboxes WHERE id IN (SELECT value FROM json_each(@ids))) AS count,
           @poolId IS NULL OR @poolId IN (SELECT id FROM pools) AS pool`,
    ).get<{ count: number; pool: number }>({ ids: JSON.stringify(mailboxIds), poolId: fields.poolId });
    if (known?.count !== new Set(mailboxIds).size || !known.pool)
      return refused({
        mailboxIds: "One of these mailboxes does not exist, or no longer. Reload the page.",
      });
    if (revision !== undefined && revision !== before.revision)
      return refused({ revision: CHANGED_MEANWHILE });
    sql(
      db,
      `UPDATE sequences SET name = @name, list_id = @listId, time_zone = @zone, days = @days, opens = @opens,
           closes = @closes, settings = @settings, writes_to = @writesTo, is_personal = @isPersonal, pool_id = @poolId, revision = revision + 1
         WHERE id = @id`,
    ).run({
      id,
      ...fields,
      days: JSON.stringify(days.toSorted()),
      settings: JSON.stringify(settings),
      isPersonal: isPersonal ? 1 : 0,
    });
    sql(db, "DELETE FROM sequence_mailboxes WHERE sequence_id = @id").run({ id });
    for (const mailboxId of new Set(mailboxIds))
      sql(db, "INSERT INTO sequence_mailboxes (sequence_id, mailbox_id) VALUES (@id, @mailboxId)").run({
        id,
        mailboxId,
      });
    const number = storePath(app, before, path, userId, now);
    const after = sequenceById(db, id) as Sequence;
    if (JSON.stringify(before.path) !== JSON.stringify(path) || before.settings.pageId !== settings.pageId) {
      if (underWay === "move") moveJourneys(app, after, now);
      reconsiderHolds(app, { sequenceId: id });
    }
    if (timing(before) !== timing(after)) recountJourneys(app, id, now);
    return done(number);
  });
}

const timing = ({ hours, zone, settings: { zoneOf, holidays } }: Sequence): string =>
  JSON.stringify([hours, zone, zoneOf, holidays]);

/** Stores a path as the latest version, or in place of a draft's. Returns its number. */
function storePath({ db }: App, before: Sequence, path: Path, userId: number | null, now: number): number {
  const isSame = JSON.stringify(before.path) === JSON.stringify(path);
  // What nobody has received yet is a draft, not a version to keep.
  const number = isSame || before.state === "draft" ? before.version : before.version + 1;
  if (!isSame)
    sql(
      db,
      `INSERT INTO sequence_versions (sequence_id, number, path, saved_by, saved_at)
       VALUES (@id, @number, @path, @userId, @now)
       ON CONFLICT (sequence_id, number) DO UPDATE SET path = @path, saved_by = @userId, saved_at = @now`,
    ).run({ id: before.id, number, path: JSON.stringify(path), userId, now });
  return number;
}

/** Pauses a running sequence or lets a paused one go on. Returns the id by which it is undone. */
export function setSequenceState(app: App, by: By, id: number, state: "running" | "paused"): Outcome<number> {
  const no = mayNot(app, by, "sequence.change", id);
  if (no) return no;
  return transact(app, ({ db, clock }): Outcome<number> => {
    const sequence = sql(
      db,
      "SELECT name FROM sequences WHERE id = @id AND state IN ('running', 'paused')",
    ).get<{
      name: string;
    }>({ id });
    if (!sequence) return refused({ form: "This sequence does not run." });
    const isPaused = state === "paused";
    const at = clock.now();
    const what = { of: "sequence", ids: [id], isPaused, name: sequence.name, userId: by, at } as const;
    return done(
      rememberPause(db, what, () => {
        notePause(db, "sequence", id, isPaused, by, at);
        sql(db, "UPDATE sequences SET state = @state, revision = revision + 1 WHERE id = @id").run({
          id,
          state,
        });
      }),
    );
  });
}
