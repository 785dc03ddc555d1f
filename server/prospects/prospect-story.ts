import { dueAfter } from "../../core/sending/plan.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { touchesOfJourney } from "../db/ledger.ts";
import { sql } from "../db/open.ts";
import { type Prospect, prospectById } from "../db/prospects.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { AppError } from "../errors.ts";
import { type ConversationItem, conversation } from "../replies/conversation.ts";

export interface StoryTouch {
  stepId: string;
  name: string;
  at: number;
  state: "done" | "planned" | "cancelled";
}

export interface StoryEvent {
  id: number;
  at: number;
  kind: string;
  detail: string | null;
}

export interface StoryJourney {
  id: number;
  sequenceId: number;
  sequenceName: string;
  state: "active" | "finished" | "stopped";
  startedAt: number;
  endedAt: number | null;
  stopReason: string | null;
  stopDetail: string | null;
  nextAt: number | null;
  waitReason: string | null;
  waitDetail: string | null;
  mailbox: string | null;
  touches: StoryTouch[];
}

export interface ProspectStory {
  prospect: Prospect;
  blocked: boolean;
  lists: { id: number; name: string }[];
  journeys: StoryJourney[];
  events: StoryEvent[];
  conversation: ConversationItem[];
  colleagues: { id: number; name: string; title: string; stage: string }[];
}

/** Everything known about one prospect. Throws `not_found`. */
export function prospectStory(app: App, id: number): ProspectStory {
  const { db } = app;
  const prospect = prospectById(db, id);
  if (!prospect) throw new AppError("not_found");
  return {
    prospect,
    blocked: isBlocked(db, prospect.email),
    lists: sql<{ id: number }, { id: number; name: string }>(
      db,
      "SELECT l.id, l.name FROM lists l JOIN list_prospects lp ON lp.list_id = l.id WHERE lp.prospect_id = @id ORDER BY l.name",
    ).all({ id }),
    journeys: journeysOf(app, id, prospect.timeZone),
    events: sql<{ id: number }, StoryEvent>(
      db,
      "SELECT id, at, kind, detail FROM events WHERE prospect_id = @id ORDER BY at, id",
    ).all({ id }),
    conversation: conversation(app, id),
    colleagues: sql<{ id: number }, ProspectStory["colleagues"][number]>(
      db,
      `SELECT o.id, coalesce(nullif(trim(o.first_name || ' ' || o.last_name), ''), o.email) AS name, o.title, o.stage
       FROM prospects p JOIN prospects o ON o.company_id = p.company_id AND o.id != p.id
       WHERE p.id = @id ORDER BY o.last_name LIMIT 8`,
    ).all({ id }),
  };
}

function journeysOf({ db }: App, prospectId: number, zone: string | null): StoryJourney[] {
  const rows = sql<{ prospectId: number }, Omit<StoryJourney, "touches">>(
    db,
    `SELECT j.id, j.sequence_id AS sequenceId, s.name AS sequenceName, j.state, j.started_at AS startedAt,
       j.ended_at AS endedAt, j.stop_reason AS stopReason, j.stop_detail AS stopDetail, j.next_at AS nextAt,
       j.wait_reason AS waitReason, j.wait_detail AS waitDetail, m.address AS mailbox
     FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     LEFT JOIN mailboxes m ON m.id = coalesce(j.mailbox_id, j.next_mailbox_id)
     WHERE j.prospect_id = @prospectId ORDER BY j.id DESC`,
  ).all({ prospectId });
  return rows.map((row) => {
    const sequence = sequenceById(db, row.sequenceId) as Sequence;
    const sent = new Map(
      touchesOfJourney(db, row.id).map(({ stepId, sentAt, claimedAt }) => [stepId, sentAt ?? claimedAt]),
    );
    const touches: StoryTouch[] = [];
    let last = row.startedAt;
    for (const step of sequence.steps) {
      const sentAt = sent.get(step.id);
      const isNext = touches.every(({ state }) => state === "done");
      // Beyond the next touch nothing is decided; the wait tells when it would fall due.
      const due = dueAfter(last, step.waitDays, sequence.hours, zone ?? sequence.zone, row.id, step.id);
      const at = sentAt ?? (isNext && row.nextAt !== null ? row.nextAt : due);
      touches.push({
        stepId: step.id,
        name: step.name,
        at,
        state: sentAt ? "done" : row.state === "active" ? "planned" : "cancelled",
      });
      last = at;
    }
    return { ...row, touches };
  });
}
