/** Sequences, their versions and mailboxes. */
import { z } from "zod";
import type { SendingHours } from "../../core/calendar.ts";
import { Kept } from "../../core/kept.ts";
import type { WritesTo } from "../../core/prospects/verdict.ts";
import { type Step, stepsSchema } from "../../core/sequence/steps.ts";
import { type Db, sql } from "./open.ts";

export interface Sequence {
  id: number;
  name: string;
  userId: number;
  ownerName: string;
  listId: number | null;
  zone: string;
  hours: SendingHours;
  tracks: boolean;
  /** How sure an address must be. */
  writesTo: WritesTo;
  state: "draft" | "running" | "paused";
  version: number;
  steps: Step[];
  mailboxIds: number[];
}

interface SequenceRow extends Omit<Sequence, "hours" | "tracks" | "steps" | "mailboxIds"> {
  days: string;
  opens: string;
  closes: string;
  tracks: number;
  steps: string;
  mailboxIds: string;
}

const SELECT = `SELECT s.id, s.name, s.user_id AS userId, u.name AS ownerName, s.list_id AS listId,
    s.time_zone AS zone, s.days, s.opens, s.closes, s.tracks, s.writes_to AS writesTo, s.state, v.number AS version, v.steps,
    (SELECT json_group_array(mailbox_id) FROM sequence_mailboxes WHERE sequence_id = s.id) AS mailboxIds
  FROM sequences s
  JOIN users u ON u.id = s.user_id
  JOIN sequence_versions v ON v.sequence_id = s.id
    AND v.number = (SELECT max(number) FROM sequence_versions WHERE sequence_id = s.id)`;

const daysSchema = z.array(z.number().int().min(1).max(7)).min(1);
const idsSchema = z.array(z.number().int());

/** Versions never change, so each is parsed once, however often a tick asks. */
const parsedSteps = new Kept<Step[]>();

function sequenceOf({ days, opens, closes, tracks, steps, mailboxIds, ...row }: SequenceRow): Sequence {
  return {
    ...row,
    hours: { days: daysSchema.parse(JSON.parse(days)), opens, closes },
    tracks: tracks === 1,
    steps: parsedSteps.get(steps, () => stepsSchema.parse(JSON.parse(steps))),
    mailboxIds: idsSchema.parse(JSON.parse(mailboxIds)),
  };
}

/**
 * Every step that a sequence ever had, as its latest version has it or had it last: results and stories tell of steps
 * that were taken out since.
 */
export function stepsEver(db: Db, sequenceId: number): Map<string, Step> {
  const versions = sql<{ sequenceId: number }, { steps: string }>(
    db,
    "SELECT steps FROM sequence_versions WHERE sequence_id = @sequenceId ORDER BY number",
  ).all({ sequenceId });
  return new Map(
    versions
      .flatMap(({ steps }) => parsedSteps.get(steps, () => stepsSchema.parse(JSON.parse(steps))))
      .map((step) => [step.id, step]),
  );
}

export function allSequences(db: Db): Sequence[] {
  return sql<[], SequenceRow>(db, `${SELECT} ORDER BY s.id`).all([]).map(sequenceOf);
}

export function sequenceById(db: Db, id: number): Sequence | undefined {
  const row = sql<{ id: number }, SequenceRow>(db, `${SELECT} WHERE s.id = @id`).get({ id });
  return row && sequenceOf(row);
}
