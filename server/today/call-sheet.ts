import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { bestHourOf } from "../sequences/best-hour.ts";
import { type Person, personById } from "./person.ts";

export interface CallSheet {
  person: Person;
  /** Local time of theirs, and the hour at which they are best reached, "HH:mm". */
  bestAt: string | null;
  owner: string | null;
  notes: { text: string; by: string; at: number }[];
  /** What happened lately, the newest first. */
  events: { kind: string; at: number; detail: string | null }[];
  /** The last letters to and fro, the newest first. */
  letters: { from: "us" | "them"; at: number; text: string }[];
}

const OFFICE = { days: [1, 2, 3, 4, 5], opens: "08:00", closes: "18:00" };

/** What a rep has beside them while they ring somebody up. Null for somebody who is gone. */
export function callSheet({ db, clock }: App, prospectId: number): CallSheet | null {
  const person = personById(db, prospectId);
  if (!person) return null;
  const country = sql(
    db,
    "SELECT p.country, u.name AS owner FROM prospects p LEFT JOIN users u ON u.id = p.owner_id WHERE p.id = @id",
  ).get<{ country: string; owner: string | null }>({ id: prospectId });
  const best = person.zone
    ? bestHourOf(
        db,
        { id: prospectId, zone: person.zone, country: country?.country ?? "", title: person.title },
        OFFICE,
        clock.now(),
      )
    : null;
  return {
    person,
    bestAt: best
      ? `${String(Math.floor(best.minute / 60)).padStart(2, "0")}:${String(best.minute % 60).padStart(2, "0")}`
      : null,
    owner: country?.owner ?? null,
    notes: sql(
      db,
      `SELECT n.text, u.name AS "by", n.at FROM notes n JOIN users u ON u.id = n.user_id WHERE n.prospect_id = @prospectId ORDER BY n.id DESC LIMIT 4`,
    ).all<CallSheet["notes"][number]>({ prospectId }),
    events: sql(
      db,
      `SELECT kind, at, detail FROM events WHERE prospect_id = @prospectId AND kind NOT IN ('journey_started', 'journey_stopped') ORDER BY id DESC LIMIT 7`,
    ).all<CallSheet["events"][number]>({ prospectId }),
    letters: sql(
      db,
      `SELECT * FROM (SELECT 'us' AS "from", sent_at AS at, body AS text FROM touches WHERE prospect_id = @prospectId AND state = 'sent' AND kind != 'test'
       UNION ALL SELECT 'them', at, text FROM replies WHERE prospect_id = @prospectId AND kind = 'person') ORDER BY at DESC LIMIT 2`,
    ).all<CallSheet["letters"][number]>({ prospectId }),
  };
}
