/** Sequences, their versions and mailboxes. */
import { z } from "zod";
import type { SendingHours } from "../../core/calendar.ts";
import { Kept } from "../../core/kept.ts";
import type { WritesTo } from "../../core/prospects/verdict.ts";
import { everyStep, type Path, type TouchStep } from "../../core/sequence/path.ts";
import { pathSchema } from "../../core/sequence/path-schema.ts";
import { type SequenceSettings, sequenceSettingsSchema } from "../../core/sequence/settings.ts";
import { type Db, sql } from "./open.ts";

export interface Sequence {
  id: number;
  name: string;
  userId: number;
  ownerName: string;
  listId: number | null;
  zone: string;
  hours: SendingHours;
  settings: SequenceSettings;
  /** How sure an address must be. */
  writesTo: WritesTo;
  state: "draft" | "running" | "paused";
  /** `single`: one email with its follow-ups to one prospect. */
  kind: "shared" | "single";
  /** Shown to its owner and to managers only. */
  isPersonal: boolean;
  archivedAt: number | null;
  deletedAt: number | null;
  /** Counts every save, whatever it changed. */
  revision: number;
  /** The latest version, and its path. */
  version: number;
  path: Path;
  /** A pool whose mailboxes take turns; null: mailboxes of its own. */
  poolId: number | null;
  mailboxIds: number[];
}

interface SequenceRow extends Omit<Sequence, "hours" | "settings" | "path" | "isPersonal" | "mailboxIds"> {
  days: string;
  opens: string;
  closes: string;
  settings: string;
  isPersonal: number;
  path: string;
  mailboxIds: string;
}

const SELECT = `SELECT s.id, s.name, s.user_id AS userId, u.name AS ownerName, s.list_id AS listId,
    s.time_zone AS zone, s.days, s.opens, s.closes, s.settings, s.writes_to AS writesTo, s.state, s.kind,
    s.is_personal AS isPersonal, s.archived_at AS archivedAt, s.deleted_at AS deletedAt, s.revision,
    v.number AS version, v.path,
    s.pool_id AS poolId,
    CASE WHEN s.pool_id IS NULL
      THEN (SELECT json_group_array(mailbox_id) FROM sequence_mailboxes WHERE sequence_id = s.id)
      ELSE (SELECT json_group_array(mailbox_id) FROM pool_mailboxes WHERE pool_id = s.pool_id) END AS mailboxIds
  FROM sequences s
  JOIN users u ON u.id = s.user_id
  JOIN sequence_versions v ON v.sequence_id = s.id
    AND v.number = (SELECT max(number) FROM sequence_versions WHERE sequence_id = s.id)`;

const daysSchema = z.array(z.number().int().min(1).max(7)).min(1);
const idsSchema = z.array(z.number().int());

/** Versions never change, so each is parsed once, however often a tick asks. */
const parsedPaths = new Kept<Path>();
const pathOf = (text: string): Path => parsedPaths.get(text, () => pathSchema.parse(JSON.parse(text)));
const parsedSettings = new Kept<SequenceSettings>();
/** What a sequence's row says in JSON. It is shared: change none of it. */
export const settingsOf = (text: string): SequenceSettings =>
  parsedSettings.get(text, () => sequenceSettingsSchema.parse(JSON.parse(text)));
const parsedDays = new Kept<number[]>();
const parsedIds = new Kept<number[]>();

function sequenceOf({
  days,
  opens,
  closes,
  settings,
  isPersonal,
  path,
  mailboxIds,
  ...row
}: SequenceRow): Sequence {
  return {
    ...row,
    hours: { days: parsedDays.get(days, () => daysSchema.parse(JSON.parse(days))), opens, closes },
    settings: settingsOf(settings),
    isPersonal: isPersonal === 1,
    path: pathOf(path),
    mailboxIds: parsedIds.get(mailboxIds, () => idsSchema.parse(JSON.parse(mailboxIds))),
  };
}

/**
 * Every step that a sequence ever had, as its latest version has it or had it last: results and stories tell of steps
 * that were taken out since.
 */
export function stepsEver(db: Db, sequenceId: number): Map<string, TouchStep> {
  const versions = sql(
    db,
    "SELECT path FROM sequence_versions WHERE sequence_id = @sequenceId ORDER BY number",
  ).all<{ path: string }>({ sequenceId });
  return new Map(versions.flatMap(({ path }) => everyStep(pathOf(path))).map((step) => [step.id, step]));
}

/** The numbers of its versions, the oldest first. */
export const versionsOf = (db: Db, sequenceId: number): number[] =>
  sql(db, "SELECT number FROM sequence_versions WHERE sequence_id = @sequenceId ORDER BY number")
    .all<{ number: number }>({ sequenceId })
    .map(({ number }) => number);

/** The path of one version. Throws if there is none of that number. */
export function pathOfVersion(db: Db, sequenceId: number, number: number): Path {
  const row = sql(
    db,
    "SELECT path FROM sequence_versions WHERE sequence_id = @sequenceId AND number = @number",
  ).get<{ path: string }>({ sequenceId, number });
  if (!row) throw new Error(`Sequence ${sequenceId} has no version ${number}.`);
  return pathOf(row.path);
}

export function allSequences(db: Db): Sequence[] {
  return sql(db, `${SELECT} WHERE s.deleted_at IS NULL ORDER BY s.id`).all<SequenceRow>([]).map(sequenceOf);
}

export function sequenceById(db: Db, id: number): Sequence | undefined {
  const row = sql(db, `${SELECT} WHERE s.id = @id`).get<SequenceRow>({ id });
  return row && sequenceOf(row);
}
