import type { Path } from "../../core/sequence/path.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { pathOfVersion } from "../db/sequences.ts";

export interface VersionRow {
  number: number;
  at: number;
  by: string | null;
  /** People who walk on it. */
  underWay: number;
}

/** Every version of a sequence, the newest first. */
export function versionsOf({ db }: App, sequenceId: number): VersionRow[] {
  return sql(
    db,
    `SELECT v.number, v.saved_at AS at, u.name AS "by",
       (SELECT count(*) FROM journeys j WHERE j.sequence_id = v.sequence_id AND j.version = v.number AND j.state = 'active')
         AS underWay
     FROM sequence_versions v LEFT JOIN users u ON u.id = v.saved_by
     WHERE v.sequence_id = @sequenceId ORDER BY v.number DESC`,
  ).all<VersionRow>({ sequenceId });
}

export const versionPath = ({ db }: App, sequenceId: number, number: number): Path =>
  pathOfVersion(db, sequenceId, number);
