/**
 * The one door at which it is asked who may (core/team/may.ts): every use case asks before it writes, with the number of
 * whoever wants it and of the thing. Roles and owners are read here and now: who was a manager a moment ago may be none.
 */
import {
  type Act,
  type Belonging,
  KINDS,
  type Kind,
  lineOf,
  may,
  type Role,
  type Sharing,
} from "../../core/team/may.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import type { Refused } from "../errors.ts";

/** Who acts: a user's number, or null for the program itself, which carries out what somebody was allowed before. */
export type By = number | null;

/**
 * Of each kind, whose the things numbered in `i` are: `owners` as a JSON array, `sharing`, or nothing for those that are not
 * there, which the use case says itself.
 */
const WHOSE: Record<Exclude<Kind, "team" | "own">, string> = {
  // A personal one is its owner's and the managers' to see.
  sequence:
    "SELECT json_array(x.user_id) AS owners, iif(x.is_personal, 'mine', 'use') AS sharing FROM sequences x WHERE x.id IN (SELECT value FROM i)",
  mailbox:
    "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM mailboxes x WHERE x.id IN (SELECT value FROM i)",
  account:
    "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM social_accounts x WHERE x.id IN (SELECT value FROM i)",
  prospect:
    "SELECT json_array(x.owner_id) AS owners, NULL AS sharing FROM prospects x WHERE x.id IN (SELECT value FROM i)",
  // By the prospect: whose they are, and whose sequence they are on.
  journey: `SELECT json_array(x.owner_id, (SELECT s.user_id FROM journeys j JOIN sequences s ON s.id = j.sequence_id
      WHERE j.prospect_id = x.id AND j.state = 'active')) AS owners, NULL AS sharing FROM prospects x WHERE x.id IN (SELECT value FROM i)`,
  list: "SELECT json_array(x.owner_id) AS owners, x.sharing FROM lists x WHERE x.id IN (SELECT value FROM i)",
  filter:
    "SELECT json_array(x.user_id) AS owners, x.sharing FROM filters x WHERE x.id IN (SELECT value FROM i)",
  piece:
    "SELECT json_array(x.user_id) AS owners, x.sharing FROM pieces x WHERE x.id IN (SELECT value FROM i)",
  profile:
    "SELECT json_array(x.user_id) AS owners, x.sharing FROM profiles x WHERE x.id IN (SELECT value FROM i)",
  shelf:
    "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM shelf x WHERE x.id IN (SELECT value FROM i)",
  import:
    "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM imports x WHERE x.id IN (SELECT value FROM i)",
  search:
    "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM searches x WHERE x.id IN (SELECT value FROM i)",
  job: "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM jobs x WHERE x.id IN (SELECT value FROM i)",
  reply: `SELECT json_array(m.user_id) AS owners, NULL AS sharing FROM replies x JOIN mailboxes m ON m.id = x.mailbox_id
      WHERE x.id IN (SELECT value FROM i)`,
  touch: `SELECT json_array(x.user_id, s.user_id) AS owners, NULL AS sharing FROM touches x JOIN journeys j ON j.id = x.journey_id
      JOIN sequences s ON s.id = j.sequence_id WHERE x.id IN (SELECT value FROM i)`,
  answer: `SELECT json_array(m.user_id) AS owners, NULL AS sharing FROM touches x JOIN mailboxes m ON m.id = x.mailbox_id
      WHERE x.id IN (SELECT value FROM i)`,
  undecided: `SELECT json_array(m.user_id, (SELECT s.user_id FROM journeys j JOIN sequences s ON s.id = j.sequence_id
      WHERE j.id = x.journey_id)) AS owners, NULL AS sharing
      FROM touches x JOIN mailboxes m ON m.id = x.mailbox_id WHERE x.id IN (SELECT value FROM i)`,
  set_aside: `SELECT json_array(m.user_id) AS owners, NULL AS sharing FROM set_aside x JOIN mailboxes m ON m.id = x.mailbox_id
      WHERE x.id IN (SELECT value FROM i)`,
  reminder:
    "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM reminders x WHERE x.id IN (SELECT value FROM i)",
  meeting:
    "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM meetings x WHERE x.id IN (SELECT value FROM i)",
  // By the company: whoever has people or sequences that wait there.
  company_hold: `SELECT (SELECT json_group_array(o.id) FROM (
        SELECT s.user_id AS id FROM prospects p JOIN journeys j ON j.prospect_id = p.id AND j.state = 'active'
          JOIN sequences s ON s.id = j.sequence_id WHERE p.company_id = x.id
        UNION SELECT p.owner_id FROM prospects p WHERE p.company_id = x.id AND p.owner_id IS NOT NULL AND p.live = 1) o) AS owners,
      NULL AS sharing FROM companies x WHERE x.id IN (SELECT value FROM i)`,
  // What somebody put there is theirs; who opted out, or whose mail came back, is nobody's but the managers'.
  block: `SELECT iif(x.reason = 'added_by_rep', json_array(x.user_id), '[]') AS owners, NULL AS sharing FROM block_list x
      WHERE x.id IN (SELECT value FROM i)`,
  // By the number that the changes of one press share.
  bulk: `SELECT DISTINCT json_array(x.user_id) AS owners, NULL AS sharing FROM changes x
      WHERE x.source = 'bulk' AND x.source_id IN (SELECT value FROM i)`,
  undo: "SELECT json_array(x.user_id) AS owners, NULL AS sharing FROM undo_records x WHERE x.id IN (SELECT value FROM i)",
};

interface Whose {
  owners: string;
  sharing: Sharing | null;
  count: number;
}

/** Null if `by` may; else the refusal, with words that say whose it is. Of several things, all have to be allowed. */
export function mayNot(
  { db }: Pick<App, "db">,
  by: By,
  act: Act,
  ids: number | readonly number[] = [],
): Refused | null {
  if (by === null) return null;
  const { of: kind, who } = lineOf(act);
  if (typeof ids === "number") {
    const gone = isGone(db, kind, ids);
    if (gone) return gone;
  }
  if (who === "everybody") return null;
  const user = sql<{ by: number }, { id: number; role: Role }>(
    db,
    "SELECT id, role FROM users WHERE id = @by AND removed_at IS NULL",
  ).get({ by });
  if (!user) return refusal("You are not a user here any more.");
  const wanted = typeof ids === "number" ? [ids] : ids;
  if (kind === "own")
    return wanted.every((id) => may(user, act, belonging([id]))) ? null : refusal("This is somebody else's.");
  if (kind === "team")
    return may(user, act, NOBODYS) ? null : refusal("Only a manager changes what holds for everybody.");
  if (user.role === "manager" && who !== "self") return null;
  const rows = sql<{ ids: string }, Whose>(
    db,
    `WITH i AS (SELECT value FROM json_each(@ids))
     SELECT w.owners, w.sharing, count(*) AS count FROM (${WHOSE[kind]}) w GROUP BY w.owners, w.sharing`,
  ).all({ ids: JSON.stringify(wanted) });
  const theirs = rows.filter(({ owners, sharing }) => {
    const known = (JSON.parse(owners) as (number | null)[]).filter((id) => id !== null);
    const isTeams =
      known.length === 0 && (kind === "prospect" || kind === "journey" || kind === "company_hold");
    return !may(user, act, { owners: known, isTeams, sharing });
  });
  return theirs.length === 0 ? null : refusal(wordsFor(db, kind, theirs, wanted.length));
}

/** Of one thing that something is about to be written about: whether it is there at all. */
const THERE: Partial<Record<Kind, string>> = {
  prospect: "SELECT 1 FROM prospects WHERE id = @id",
  journey: "SELECT 1 FROM prospects WHERE id = @id",
  list: "SELECT 1 FROM lists WHERE id = @id",
  import: "SELECT 1 FROM imports WHERE id = @id",
  sequence: "SELECT 1 FROM sequences WHERE id = @id",
};
function isGone(db: Db, kind: Kind, id: number): Refused | null {
  const query = THERE[kind];
  if (query === undefined) return null;
  if (Number.isSafeInteger(id) && sql<{ id: number }>(db, query).get({ id })) return null;
  const thing = kind === "journey" ? KINDS.prospect : KINDS[kind];
  return { ...refusal(`This ${thing} is no longer here. Reload the page.`), code: "not_found" };
}

const NOBODYS: Belonging = { owners: [], isTeams: false, sharing: null };
const belonging = (owners: number[]): Belonging => ({ ...NOBODYS, owners });
const refusal = (words: string): Refused => ({ ok: false, errors: { form: words }, code: "not_yours" });

function wordsFor(db: Db, kind: Kind, theirs: readonly Whose[], asked: number): string {
  const count = theirs.reduce((sum, row) => sum + row.count, 0);
  if (asked > 1)
    return kind === "prospect" || kind === "journey"
      ? `${count} of these ${asked} people are colleagues'. They, or a manager, can change them.`
      : `${count} of these ${asked} are colleagues'. They, or a manager, can change them.`;
  const owner = (JSON.parse(theirs[0]?.owners ?? "[]") as (number | null)[]).find((id) => id !== null);
  const name =
    owner === undefined
      ? undefined
      : sql<{ owner: number }, { name: string }>(db, "SELECT name FROM users WHERE id = @owner").get({
          owner,
        })?.name;
  return name === undefined
    ? `This ${KINDS[kind]} is the managers'. One of them can change it.`
    : `This ${KINDS[kind]} is ${name}'s. They, or a manager, can change it.`;
}
