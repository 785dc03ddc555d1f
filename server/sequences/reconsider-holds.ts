import type { WaitReason } from "../../core/sending/reasons.ts";
import { isEmail, spotsOf } from "../../core/sequence/path.ts";
import type { App, AppTx } from "../app.ts";
import { activeJourney } from "../db/journeys.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { prospectById } from "../db/prospects.ts";
import { pathOfVersion, sequenceById } from "../db/sequences.ts";
import { mustBeRead, needsYes } from "./consider.ts";
import { lackOf, renderStep } from "./render-step.ts";

/**
 * Looks anew at everybody who waits because a text cannot be filled in, after the text or their fields changed. Whom
 * it can be filled in for by now goes on; the others stay held, for what is missing now.
 */
export function reconsiderHolds(app: AppTx, where: { prospectId: number } | { sequenceId: number }): void {
  const { db } = app;
  const column = "prospectId" in where ? "prospect_id" : "sequence_id";
  const held = sql(
    db,
    `SELECT id FROM journeys
     WHERE ${column} = @id AND state = 'active' AND wait_reason IN ('merge_field_empty', 'line_unread', 'picture_unmade', 'text_broken')`,
  ).all<{ id: number }>({ id: "prospectId" in where ? where.prospectId : where.sequenceId });
  for (const { id } of held) {
    const hold = holdOf(app, id);
    sql(db, "UPDATE journeys SET wait_reason = @reason, wait_detail = @detail WHERE id = @id").run({
      id,
      reason: hold?.reason ?? null,
      detail: hold?.detail ?? null,
    });
  }
}

function holdOf(app: App, journeyId: number): { reason: WaitReason; detail: string } | null {
  const { db } = app;
  const journey = activeJourney(db, journeyId);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  const prospect = journey && prospectById(db, journey.prospectId);
  const mailbox =
    journey && mailboxById(db, journey.mailboxId ?? journey.nextMailboxId ?? sequence?.mailboxIds[0] ?? 0);
  // Without a mailbox that is the reason; the text is looked at when it is claimed.
  if (!journey || !sequence || !prospect || !mailbox) return null;
  const path = pathOfVersion(db, sequence.id, journey.version);
  const step = spotsOf(path).get(journey.placeId ?? "")?.node;
  if (!step || !isEmail(step)) return null;
  const rendered = renderStep(app, {
    ...{ path, step, sequenceId: sequence.id, prospect, mailbox },
    leaves: true,
    mustBeRead: !needsYes(db, sequence, step, journey) && mustBeRead(db, sequence, step.id, prospect.id),
  });
  return rendered.ok ? null : lackOf(rendered);
}
