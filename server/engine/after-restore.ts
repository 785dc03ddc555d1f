/** What a restored copy learns before anything starts: who must not be written to again, and that the engine reads before it sends. */
import { rmSync } from "node:fs";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { addressHash, personKey } from "../db/erased.ts";
import { sql, transact } from "../db/open.ts";
import { beginRecovery, newestInstant } from "../db/recoveries.ts";
import { readStops, stopsFileOf } from "../db/stops.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { markFileOf } from "./marks.ts";

export interface AfterRestore {
  /** The newest instant that the copy knows of. */
  since: number;
  /** Who had been erased or opted out since it was made, and is so again. */
  erased: number;
  optedOut: number;
  /** People whose next email was due by now. */
  due: number;
}

export function afterRestore(app: App): AfterRestore {
  const { db, key, clock, config } = app;
  const now = clock.now();
  const since = newestInstant(db);
  const stops = readStops(stopsFileOf(config));
  let [erased, optedOut] = [0, 0];
  transact(app, (app) => {
    const { db } = app;
    const people = sql(
      db,
      "SELECT id, email, created_at AS createdAt FROM prospects WHERE erased_at IS NULL",
    ).all<{ id: number; email: string | null; createdAt: number }>([]);
    for (const person of stops.erased.size + stops.opted_out.size > 0 ? people : []) {
      const { id, email } = person;
      const hash = email === null ? "" : addressHash(key, email);
      if (stops.erased.has(hash) || stops.erased.has(addressHash(key, personKey(person)))) {
        eraseForGood(app, id);
        erased++;
      } else if (email !== null && stops.opted_out.has(hash) && !isBlocked(email)) {
        apply(db, { kind: "opted_out" }, { at: now, prospectId: id });
        optedOut++;
      }
    }
    beginRecovery(db, "restored", since, now);
  });
  rmSync(markFileOf(config.database), { force: true });
  const due =
    sql(
      db,
      `SELECT count(*) AS count FROM journeys j JOIN sequences s ON s.id = j.sequence_id
       WHERE j.state = 'active' AND s.state = 'running' AND j.due_at <= @now`,
    ).get<{ count: number }>({ now })?.count ?? 0;
  return { since, erased, optedOut, due };

  function isBlocked(email: string): boolean {
    return (
      sql(db, "SELECT 1 FROM block_list WHERE kind = 'address' AND value = @email").get({
        email,
      }) !== undefined
    );
  }
}

const people = (count: number) => (count === 1 ? "1 person" : `${count.toLocaleString("en-GB")} people`);

/** What will happen, for whoever typed the command. */
export function afterRestoreWords({ since, erased, optedOut, due }: AfterRestore): string {
  const when = new Date(since).toISOString().slice(0, 16).replace("T", " ");
  return [
    since > 0
      ? `The copy's newest entry is of ${when} UTC. What was sent since then is read from the mailboxes' Sent folders before anything goes out.`
      : "The copy knows of no email yet.",
    ...(due > 0
      ? [
          `${people(due)} had something due by now: who got it goes on; of whom nothing tells waits for your word on the page Sending.`,
        ]
      : []),
    ...(erased > 0 ? [`${people(erased)} who had been erased since then: erased again.`] : []),
    ...(optedOut > 0 ? [`${people(optedOut)} who had opted out since then: on the block list again.`] : []),
  ].join("\n");
}
