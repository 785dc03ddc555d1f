/** Findings that a user does not want to hear of again for a sequence. */
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";

const LONGEST = 300;

export function setAsideFinding(app: App, by: By, sequenceId: number, key: string): Outcome<null> {
  const no = mayNot(app, by, "sequence.see", sequenceId);
  if (no) return no;
  if (key === "" || key.length > LONGEST) return refused({ form: "There is no such finding." });
  sql(
    app.db,
    `INSERT OR IGNORE INTO findings_set_aside (user_id, sequence_id, key, at)
     SELECT @by, id, @key, @now FROM sequences WHERE id = @sequenceId`,
  ).run({ by, sequenceId, key, now: app.clock.now() });
  return done(null);
}

/** Every finding of a sequence is said again. */
export function bringFindingsBack(app: App, by: By, sequenceId: number): Outcome<null> {
  const no = mayNot(app, by, "sequence.see", sequenceId);
  if (no) return no;
  sql(app.db, "DELETE FROM findings_set_aside WHERE user_id = @by AND sequence_id = @sequenceId").run({
    by,
    sequenceId,
  });
  return done(null);
}

export const setAsideKeys = (db: Db, by: By, sequenceId: number): Set<string> =>
  new Set(
    sql(db, "SELECT key FROM findings_set_aside WHERE user_id = @by AND sequence_id = @sequenceId")
      .all<{ key: string }>({ by, sequenceId })
      .map(({ key }) => key),
  );
