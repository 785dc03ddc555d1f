/** Everything the tool decided for somebody in one sequence, in order, and what it has in mind next. */
import { z } from "zod";
import type { StopReason, WaitReason } from "../../core/sending/reasons.ts";
import type { Condition } from "../../core/sequence/condition.ts";
import { everyNode, type Path } from "../../core/sequence/path.ts";
import { conditionSchema } from "../../core/sequence/path-schema.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { pathOfVersion } from "../db/sequences.ts";

export const DECISION_KINDS = [
  "start",
  "fork",
  "skip",
  "lapse",
  "move",
  "wait",
  "hold",
  "release",
  "claim",
  "stop",
  "finish",
] as const;
export type DecisionKind = (typeof DECISION_KINDS)[number];

/** By what it was decided; which of these there are depends on the kind. */
export interface DecisionInputs {
  /** What was asked, at a fork or of a step. */
  ask: Condition | null;
  mailbox: string | null;
  /** When the plan had it go. */
  planned: number | null;
  /** Emails of the mailbox that day, this one among them, and its limit. */
  sentToday: number | null;
  limit: number | null;
  until: number | null;
  /** Whether somebody else held it, or a person did. */
  scope: string | null;
}

export interface DecisionLine {
  id: number;
  at: number;
  kind: DecisionKind;
  /** The step or fork it was about; "" if it is no longer there. */
  nodeName: string;
  outcome: string;
  inputs: DecisionInputs;
}

export interface WhyView {
  journeyId: number;
  prospectId: number;
  name: string;
  sequenceId: number;
  sequenceName: string;
  state: "active" | "finished" | "stopped";
  path: Path;
  lines: DecisionLine[];
  /** More decisions than are shown, the oldest left out. */
  earlier: number;
  next: {
    at: number | null;
    mailbox: string | null;
    mailboxId: number | null;
    stepName: string;
    reason: WaitReason | null;
    detail: string | null;
  } | null;
  stopReason: StopReason | null;
  stopDetail: string | null;
}

const MOST = 200;

const inputs = z.looseObject({
  mailbox: z.union([z.number(), z.string()]).nullish(),
  planned: z.number().nullish(),
  sentToday: z.number().nullish(),
  limit: z.number().nullish(),
  until: z.number().nullish(),
  scope: z.string().nullish(),
});

/** Null if there is no such journey, or it is on a sequence that another keeps to themselves. */
export function whyOf({ db }: App, by: By, journeyId: number): WhyView | null {
  const journey = sql(
    db,
    `SELECT j.id AS journeyId, p.id AS prospectId,
       ${nameSql()} AS name, s.id AS sequenceId,
       s.name AS sequenceName, j.state, j.version, j.place_id AS placeId, j.next_at AS nextAt, m.address AS mailbox,
       m.id AS mailboxId, j.wait_reason AS waitReason, j.wait_detail AS waitDetail, j.stop_reason AS stopReason,
       j.stop_detail AS stopDetail
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id JOIN sequences s ON s.id = j.sequence_id
     LEFT JOIN mailboxes m ON m.id = j.next_mailbox_id WHERE j.id = @journeyId`,
  ).get<
    Omit<WhyView, "path" | "lines" | "next" | "earlier"> & {
      version: number;
      placeId: string | null;
      nextAt: number | null;
      mailbox: string | null;
      mailboxId: number | null;
      waitReason: WaitReason | null;
      waitDetail: string | null;
    }
  >({ journeyId });
  if (!journey || mayNot({ db }, by, "sequence.see", journey.sequenceId)) return null;
  const { version, placeId, nextAt, mailbox, mailboxId, waitReason, waitDetail, ...open } = journey;
  const path = pathOfVersion(db, journey.sequenceId, version);
  const names = new Map(
    everyNode(path).map((node) => [node.id, node.kind === "end" ? "the end" : node.name]),
  );
  const rows = sql(
    db,
    `SELECT count(*) OVER () AS total, id, at, kind, node_id AS nodeId, outcome, inputs FROM decisions
     WHERE journey_id = @journeyId ORDER BY id DESC LIMIT ${MOST}`,
  ).all<Omit<DecisionLine, "inputs" | "nodeName"> & { inputs: string; nodeId: string; total: number }>({
    journeyId,
  });
  const addresses = new Map(
    sql(db, "SELECT id, address FROM mailboxes")
      .all<{ id: number; address: string }>([])
      .map(({ id, address }) => [id, address]),
  );
  return {
    ...open,
    path,
    earlier: Math.max(0, (rows[0]?.total ?? 0) - rows.length),
    lines: rows.toReversed().map(({ inputs: text, nodeId, total: _, ...row }) => {
      const raw: unknown = JSON.parse(text);
      const read = inputs.catch({}).parse(raw);
      const ask = conditionSchema.safeParse(raw);
      return {
        ...row,
        nodeName: names.get(nodeId) ?? "",
        inputs: {
          ask: ask.success ? ask.data : null,
          mailbox: typeof read.mailbox === "number" ? (addresses.get(read.mailbox) ?? null) : null,
          planned: read.planned ?? null,
          sentToday: read.sentToday ?? null,
          limit: read.limit ?? null,
          until: read.until ?? null,
          scope: read.scope ?? null,
        },
      };
    }),
    next:
      journey.state === "active"
        ? {
            at: nextAt,
            mailbox,
            mailboxId,
            stepName: placeId === null ? "" : (names.get(placeId) ?? ""),
            reason: waitReason,
            detail: waitDetail,
          }
        : null,
  };
}
