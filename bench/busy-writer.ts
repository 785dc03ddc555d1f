/** Writes to a database all the time, in small transactions, until it is ended: `tsx bench/busy-writer.ts FILE`. */
import { openDb } from "../server/db/open.ts";

const db = openDb(process.argv[2] ?? "");
const touch = db.prepare(
  "UPDATE prospects SET verdict = CASE WHEN verdict = 'good' THEN 'risky' ELSE 'good' END WHERE id = ?",
);
process.stdout.write("ready\n");
for (let id = 1; ; id = (id % 90_000) + 1) {
  touch.run(id);
  await new Promise((next) => setTimeout(next, 4));
}
