/**
 * The one door at which it is asked who may (core/team/may.ts): every use case asks before it writes, with the number of
 * whoever wants it and of the thing. Roles and owners are read here and now: who was a manager a moment ago may be none.
 */
import { z } from "zod";
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
import { jsonOf } from "../db/json.ts";
import { type Db, sql } from "../db/open.ts";
import type { Refused } from "../errors.ts";

/** Whose several things are; null: the managers'. */
const ownersSchema = z.array(z.number().nullable());

/** Who acts: a user's number, or null for the program itself, which carries out what somebody was allowed before. */
export type By = number | null;

/** Of each kind, whose its things are: `id`, `owners` as a JSON array, `sharing`. What is not there has no row: the use case says so itself. */
const WHOSE: Record<Exclude<Kind, "team" | "own">, string> = {
  // A personal one is its owner's and the managers' to see.
  sequence:
    "SELECT x.id, json_array(x.user_id) AS owners, iif(x.is_personal, 'mine', 'use') AS sharing FROM sequences x",
  mailbox: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM mailboxes x",
  account: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM social_accounts x",
  prospect: "SELECT x.id, json_array(x.owner_id) AS owners, NULL AS sharing FROM prospects x",
  host: "SELECT x.id, json_array(x.id) AS owners, iif(x.settings ->> 'colleaguesBook' = 0, 'mine', 'use') AS sharing FROM users x",
  // By the prospect: whose they are, and whose sequence they are on.
  journey: `SELECT x.id, json_array(x.owner_id, (SELECT s.user_id FROM journeys j JOIN sequences s ON s.id = j.sequence_id
      WHERE j.prospect_id = x.id AND j.state = 'active')) AS owners, NULL AS sharing FROM prospects x`,
  list: "SELECT x.id, json_array(x.owner_id) AS owners, x.sharing FROM lists x",
  filter: "SELECT x.id, json_array(x.user_id) AS owners, x.sharing FROM filters x",
  piece: "SELECT x.id, json_array(x.user_id) AS owners, x.sharing FROM pieces x",
  profile: "SELECT x.id, json_array(x.user_id) AS owners, x.sharing FROM profiles x",
  shelf: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM shelf x",
  column: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM columns x",
  page: "SELECT x.id, json_array(x.user_id) AS owners, x.sharing FROM page_templates x",
  film: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM films x",
  file: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM files x",
  import: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM imports x",
  search: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM searches x",
  job: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM jobs x",
  reply: `SELECT x.id, json_array(m.user_id) AS owners, NULL AS sharing FROM replies x JOIN mailboxes m ON m.id = x.mailbox_id`,
  touch: `SELECT x.id, json_array(x.user_id, s.user_id) AS owners, NULL AS sharing FROM touches x JOIN journeys j ON j.id = x.journey_id
      JOIN sequences s ON s.id = j.sequence_id`,
  answer: `SELECT x.id, json_array(m.user_id) AS owners, NULL AS sharing FROM touches x JOIN mailboxes m ON m.id = x.mailbox_id`,
  undecided: `SELECT x.id, json_array(m.user_id, (SELECT s.user_id FROM journeys j JOIN sequences s ON s.id = j.sequence_id
      WHERE j.id = x.journey_id)) AS owners, NULL AS sharing
      FROM touches x JOIN mailboxes m ON m.id = x.mailbox_id`,
  set_aside: `SELECT x.id, json_array(m.user_id) AS owners, NULL AS sharing FROM set_aside x JOIN mailboxes m ON m.id = x.mailbox_id`,
  reminder: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM reminders x",
  meeting: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM meetings x",
  // By the company: each sequence on which somebody waits there, for its mail goes on.
  company_hold: `SELECT x.company_id AS id, json_array(s.user_id) AS owners, NULL AS sharing FROM prospects x
      JOIN journeys j ON j.prospect_id = x.id AND j.state = 'active' JOIN sequences s ON s.id = j.sequence_id`,
  // What somebody put there is theirs; who opted out, or whose mail came back, is nobody's but the managers'.
  block: `SELECT x.id, iif(x.reason = 'added_by_rep', json_array(x.user_id), '[]') AS owners, NULL AS sharing FROM block_list x`,
  // By the number that the changes of one press share.
  bulk: `SELECT DISTINCT x.source_id AS id, json_array(x.user_id) AS owners, NULL AS sharing FROM changes x
      WHERE x.source = 'bulk'`,
  undo: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM undo_records x",
  webhook: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM webhooks x",
  rule: "SELECT x.id, json_array(x.user_id) AS owners, NULL AS sharing FROM rules x",
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
  const user = actor(db, by);
  if (!user) return refusal("You are not a user here any more.");
  const wanted = typeof ids === "number" ? [ids] : ids;
  if (kind === "own")
    return wanted.every((id) => may(user, act, belonging([id]))) ? null : refusal("This is somebody else's.");
  if (kind === "team")
    return may(user, act, NOBODYS) ? null : refusal("Only a manager changes what holds for everybody.");
  if (user.role === "manager" && who !== "self") return null;
  const rows = sql(
    db,
    `WITH i AS (SELECT value FROM json_each(@ids))
     SELECT w.owners, w.sharing, count(*) AS count FROM (${WHOSE[kind]}) w WHERE w.id IN (SELECT value FROM i)
     GROUP BY w.owners, w.sharing`,
  ).all<Whose>({ ids: JSON.stringify(wanted) });
  const theirs = rows.filter((row) => !may(user, act, belongingOf(kind, row)));
  return theirs.length === 0 ? null : refusal(wordsFor(db, kind, theirs, wanted.length));
}

const TEAMS_WITHOUT_OWNER: readonly Kind[] = ["prospect", "journey", "company_hold"];

function belongingOf(kind: Kind, { owners, sharing }: Pick<Whose, "owners" | "sharing">): Belonging {
  const known = jsonOf(ownersSchema, owners).filter((id) => id !== null);
  return { owners: known, isTeams: known.length === 0 && TEAMS_WITHOUT_OWNER.includes(kind), sharing };
}

/** Of several things those that `by` may: what a page asks of somebody is theirs to do. */
export function allowedAmong(
  { db }: Pick<App, "db">,
  by: By,
  act: Act,
  ids: readonly number[],
): ReadonlySet<number> {
  const { of: kind } = lineOf(act);
  const user = by === null ? undefined : actor(db, by);
  if (by === null || user?.role === "manager" || kind === "team" || kind === "own")
    return new Set(mayNot({ db }, by, act, ids) ? [] : ids);
  const rows = sql(
    db,
    `SELECT w.id, w.owners, w.sharing FROM (${WHOSE[kind]}) w WHERE w.id IN (SELECT value FROM json_each(@ids))`,
  ).all<{ id: number; owners: string; sharing: Sharing | null }>({ ids: JSON.stringify(ids) });
  // Where one thing has several parts, all of them have to be allowed.
  const refused = rows.filter((row) => !user || !may(user, act, belongingOf(kind, row)));
  const denied = new Set(refused.map(({ id }) => id));
  return new Set(ids.filter((id) => !denied.has(id)));
}

/** The lists or sequences that others keep to themselves: for `by` they are not there, wherever they are named. */
export function hiddenFrom(
  { db }: Pick<App, "db">,
  by: By,
  act: "list.see" | "sequence.see" | "profile.use" | "page.use",
): ReadonlySet<number> {
  const user = by === null ? undefined : actor(db, by);
  if (by === null || user?.role === "manager") return new Set();
  const kind = lineOf(act).of as "list" | "sequence" | "profile" | "page";
  const kept = sql(
    db,
    `SELECT w.id, w.owners, w.sharing FROM (${WHOSE[kind]}) w WHERE w.sharing = 'mine'`,
  ).all<{ id: number; owners: string; sharing: Sharing }>([]);
  return new Set(kept.filter((row) => !user || !may(user, act, belongingOf(kind, row))).map(({ id }) => id));
}

const actor = (db: Db, by: number) =>
  sql(db, "SELECT id, role FROM users WHERE id = @by AND removed_at IS NULL").get<{ id: number; role: Role }>(
    { by },
  );

/** Of one thing that something is about to be written about: whether it is there at all. */
const THERE: Partial<Record<Kind, string>> = {
  prospect: "SELECT 1 FROM prospects WHERE id = @id",
  journey: "SELECT 1 FROM prospects WHERE id = @id",
  list: "SELECT 1 FROM lists WHERE id = @id",
  import: "SELECT 1 FROM imports WHERE id = @id",
  sequence: "SELECT 1 FROM sequences WHERE id = @id",
  page: "SELECT 1 FROM page_templates WHERE id = @id AND removed_at IS NULL",
  file: "SELECT 1 FROM files WHERE id = @id",
};
function isGone(db: Db, kind: Kind, id: number): Refused | null {
  const query = THERE[kind];
  if (query === undefined) return null;
  if (Number.isSafeInteger(id) && sql(db, query).get({ id })) return null;
  const thing = kind === "journey" ? KINDS.prospect : KINDS[kind];
  return { ...refusal(`This ${thing} is no longer here. Reload the page.`), code: "not_found" };
}

const NOBODYS: Belonging = { owners: [], isTeams: false, sharing: null };
const belonging = (owners: number[]): Belonging => ({ ...NOBODYS, owners });
const refusal = (words: string): Refused => ({ ok: false, errors: { form: words }, code: "not_yours" });

/** What its owner can do with a thing, where it is no change of it. */
const CAN: Partial<Record<Kind, string>> = { prospect: "change that", reply: "answer it" };

function wordsFor(db: Db, kind: Kind, theirs: readonly Whose[], asked: number): string {
  const count = theirs.reduce((sum, row) => sum + row.count, 0);
  if (asked > 1)
    return kind === "prospect" || kind === "journey"
      ? `${count} of these ${asked} people are colleagues'. They, or a manager, can change them.`
      : `${count} of these ${asked} are colleagues'. They, or a manager, can change them.`;
  const owner = jsonOf(ownersSchema, theirs[0]?.owners ?? "[]").find((id) => id !== null);
  const name =
    owner === undefined
      ? undefined
      : sql(db, "SELECT name FROM users WHERE id = @owner").get<{ name: string }>({
          owner,
        })?.name;
  return name === undefined
    ? `This ${KINDS[kind]} is the managers'. One of them can change it.`
    : `This ${KINDS[kind]} is ${name}'s. They, or a manager, can ${CAN[kind] ?? "change it"}.`;
}
