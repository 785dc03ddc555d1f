/** Prospects as rows, and the values that their merge fields take. */

import { countryName } from "../../core/countries.ts";
import type { Stage } from "../../core/prospects/stages.ts";
import type { Verdict, VerdictReason } from "../../core/prospects/verdict.ts";
import type { MergeValues } from "../../core/writing/merge.ts";
import { fieldsIn } from "./json.ts";
import { type Db, sql } from "./open.ts";

export interface Prospect {
  id: number;
  /** "" if none is known. */
  email: string;
  firstName: string;
  lastName: string;
  companyId: number | null;
  company: string;
  companyDomain: string | null;
  title: string;
  city: string;
  country: string;
  timeZone: string | null;
  /** ISO 639-1 as it is kept; "" where it is worked out (server/prospects/people/language.ts). */
  language: string;
  phone: string;
  profile: string;
  stage: Stage;
  ownerId: number | null;
  custom: Record<string, string>;
  /** What a column wrote into a field of these names and nobody has read. */
  unread: Record<string, string>;
  verdict: Verdict | null;
  verdictReason: VerdictReason | null;
  verdictDetail: string;
  verdictAt: number | null;
  origin: "import" | "directory" | "typed" | "form";
  originId: number | null;
  mergedInto: number | null;
  erasedAt: number | null;
  createdAt: number;
}

const COLUMNS = `p.id, coalesce(p.email, '') AS email, p.first_name AS firstName, p.last_name AS lastName,
  p.company_id AS companyId, p.company, c.domain AS companyDomain, p.title, p.city, p.country,
  p.time_zone AS timeZone, p.language, p.phone, p.profile, p.stage, p.owner_id AS ownerId, p.custom, p.unread, p.verdict,
  p.verdict_reason AS verdictReason, p.verdict_detail AS verdictDetail, p.verdict_at AS verdictAt,
  p.origin, p.origin_id AS originId, p.merged_into AS mergedInto, p.erased_at AS erasedAt, p.created_at AS createdAt`;
const FROM = "FROM prospects p LEFT JOIN companies c ON c.id = p.company_id";

type ProspectRow = Omit<Prospect, "custom" | "unread"> & { custom: string; unread: string };
const prospectOf = (row: ProspectRow): Prospect => ({
  ...row,
  custom: fieldsIn(row.custom),
  unread: fieldsIn(row.unread),
});

export function prospectById(db: Db, id: number): Prospect | undefined {
  const row = sql(db, `SELECT ${COLUMNS} ${FROM} WHERE p.id = @id`).get<ProspectRow>({ id });
  return row && prospectOf(row);
}

/** Whom a number leads to by now: who it was merged into, and nobody once they were erased. */
export function remainingProspect(db: Db, id: number): Prospect | undefined {
  const row = sql(
    db,
    `SELECT ${COLUMNS} ${FROM} WHERE p.live = 1 AND p.id = (SELECT coalesce(merged_into, id) FROM prospects WHERE id = @id)`,
  ).get<ProspectRow>({ id });
  return row && prospectOf(row);
}

/** Every address that leads to a prospect: their own, then those of entries that were merged into theirs. */
export function addressesOf(db: Db, id: number): string[] {
  return sql(
    db,
    `SELECT email FROM prospects WHERE (id = @id OR merged_into = @id) AND email IS NOT NULL ORDER BY id != @id, id`,
  )
    .all<{ email: string }>({ id })
    .map(({ email }) => email);
}

/** The prospects of a list, in the order in which they were added. */
export function prospectsOfList(db: Db, listId: number, limit: number, offset = 0): Prospect[] {
  return sql(
    db,
    `SELECT ${COLUMNS} ${FROM} JOIN list_prospects lp ON lp.prospect_id = p.id
     WHERE lp.list_id = @listId AND p.live = 1 ORDER BY p.id LIMIT @limit OFFSET @offset`,
  )
    .all<ProspectRow>({ listId, limit, offset })
    .map(prospectOf);
}

export function fullName(person: { firstName: string; lastName: string; email: string }): string {
  return `${person.firstName} ${person.lastName}`.trim() || person.email || "Somebody without a name";
}

/** Who has this address, under their own name or one that was merged into it. */
export function prospectIdByEmail(db: Db, email: string): number | null {
  return (
    sql(db, "SELECT coalesce(merged_into, id) AS id FROM prospects WHERE email = @email").get<{ id: number }>(
      { email },
    )?.id ?? null
  );
}

/** What the prospect's own merge fields say; the sender's are added by who renders. */
export function prospectValues(prospect: Prospect): MergeValues {
  return {
    ...prospect.custom,
    first_name: prospect.firstName,
    last_name: prospect.lastName,
    email: prospect.email,
    company: prospect.company,
    title: prospect.title,
    city: prospect.city,
    country: countryName(prospect.country),
    language: prospect.language,
    phone: prospect.phone,
    profile: prospect.profile,
  };
}

/** Fields that hold what the assistant wrote and nobody has read: what somebody has changed since is theirs. */
export const unreadFields = ({ custom, unread }: Pick<Prospect, "custom" | "unread">): string[] =>
  Object.keys(unread).filter((field) => custom[field] === unread[field]);

/** The names of all fields that lists have of their own. */
export function allCustomFields(db: Db): string[] {
  return sql(db, "SELECT name FROM custom_fields ORDER BY name")
    .all<{ name: string }>([])
    .map(({ name }) => name);
}

/** Adds names to those that a filter offers. */
export function noteCustomFields(db: Db, names: Iterable<string>): void {
  const add = sql(db, "INSERT INTO custom_fields (name) VALUES (?) ON CONFLICT DO NOTHING");
  for (const name of names) add.run([name]);
}

/** A list's own fields with how many of it have one, most used first; columns that are worked out for it count before any has. */
export function customFields(db: Db, listId: number): { name: string; count: number }[] {
  return sql(
    db,
    `SELECT name, max(count) AS count FROM (
       SELECT j.key AS name, count(*) AS count FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id, json_each(p.custom) j
       WHERE lp.list_id = @listId GROUP BY j.key
       UNION ALL SELECT c.code, 0 FROM list_columns l JOIN columns c ON c.id = l.column_id WHERE l.list_id = @listId)
     GROUP BY name ORDER BY count DESC, name`,
  ).all<{ name: string; count: number }>({ listId });
}

/** Of another address nothing is known yet. */
export function forgetVerdict(db: Db, id: number): void {
  sql(
    db,
    "UPDATE prospects SET verdict = NULL, verdict_reason = NULL, verdict_detail = '', verdict_at = NULL WHERE id = @id",
  ).run({ id });
}
