/** The truth before a start: who of a list goes now, who waits for what, and who is left out. */
import { DAY } from "../../core/calendar.ts";
import { everyStep, isEmail, type Path } from "../../core/sequence/path.ts";
import { LEFT_OUT, STANDINGS, type Standing } from "../../core/sequence/standing.ts";
import type { PROSPECT_FIELDS } from "../../core/writing/fields.ts";
import { requiredFields } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";
import { sureVerdicts } from "./check-sequence.ts";

/** Written to by the team within this time, somebody gets no other sequence. */
export const LATELY = 30 * DAY;

export interface StartCheck {
  counts: Record<Standing, number>;
  /** Of those who lack a field: which, and how many. */
  lacking: { field: string; count: number }[];
  /** The fields that the texts cannot do without. */
  required: string[];
}

/** The fields without which some text of a path cannot be filled in; the sender's own are always there. */
export function requiredOf(path: Path): string[] {
  const texts = everyStep(path).flatMap((step) =>
    isEmail(step) ? step.variants.flatMap(({ subject, body }) => [subject, body]) : [step.text],
  );
  const sender = /^(sender_|booking_link|opt_out_link)/;
  return [...new Set(texts.flatMap(requiredFields))].filter((field) => !sender.test(field));
}

const COLUMN_OF: Record<(typeof PROSPECT_FIELDS)[number], string> = {
  first_name: "p.first_name",
  last_name: "p.last_name",
  email: "coalesce(p.email, '')",
  company: "p.company",
  title: "p.title",
  city: "p.city",
  country: "p.country",
  phone: "p.phone",
  profile: "p.profile",
};

const isEmptySql = (field: string, bind: (name: string) => string): string => {
  const column =
    (COLUMN_OF as Record<string, string>)[field] ??
    `coalesce(json_extract(p.custom, '$.' || ${bind(field)}), '')`;
  return `trim(${column}) = ''`;
};

/** A query's people with their standing, as SQL over `prospects p`; its values are bound by name. */
function standingSql(
  sequence: Pick<Sequence, "id" | "writesTo" | "path">,
  required: readonly string[],
  now: number,
) {
  const values: Record<string, unknown> = {
    sequenceId: sequence.id,
    sure: JSON.stringify(sureVerdicts(sequence.writesTo)),
    lately: now - LATELY,
  };
  const bind = (value: string) => {
    const name = `r${Object.keys(values).length}`;
    values[name] = value;
    return `@${name}`;
  };
  const hasEmail = everyStep(sequence.path).some(isEmail);
  const lacking = required.map((field) => isEmptySql(field, bind));
  const standing = `CASE
    WHEN EXISTS (SELECT 1 FROM journeys j WHERE j.prospect_id = p.id AND j.sequence_id = @sequenceId) THEN 'already'
    WHEN EXISTS (SELECT 1 FROM journeys j WHERE j.prospect_id = p.id AND j.state = 'active') THEN 'elsewhere'
    WHEN EXISTS (SELECT 1 FROM block_list b WHERE (b.kind = 'address' AND b.value = p.email)
      OR (b.kind = 'domain' AND b.value = substr(p.email, instr(p.email, '@') + 1))) THEN 'blocked'
    ${hasEmail ? "WHEN p.verdict = 'bad' THEN 'bad'" : ""}
    WHEN EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.sent_at >= @lately AND t.kind != 'test')
      THEN 'written_lately'
    ${
      hasEmail
        ? `WHEN p.email IS NULL THEN 'no_address'
    WHEN coalesce(p.verdict, 'unchecked') NOT IN (SELECT value FROM json_each(@sure)) THEN 'unproven'`
        : ""
    }
    WHEN EXISTS (SELECT 1 FROM holds h WHERE h.scope = 'company' AND h.scope_id = p.company_id
      AND h.cause_prospect_id IS NOT p.id) THEN 'colleague'
    ${lacking.length > 0 ? `WHEN ${lacking.join(" OR ")} THEN 'lacks_field'` : ""}
    ELSE 'ready' END`;
  return { standing, values };
}

const FROM_LIST =
  "FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id AND p.live = 1 WHERE lp.list_id = @listId";

/** How everybody of the sequence's list stands. */
export function startCheck(
  { db, clock }: App,
  sequence: Pick<Sequence, "id" | "listId" | "writesTo" | "path">,
): StartCheck {
  const required = requiredOf(sequence.path);
  const counts = Object.fromEntries(STANDINGS.map((each) => [each, 0])) as Record<Standing, number>;
  const { listId } = sequence;
  if (listId === null) return { counts, lacking: [], required };
  const { standing, values } = standingSql(sequence, required, clock.now());
  for (const row of sql<Record<string, unknown>, { standing: Standing; count: number }>(
    db,
    `SELECT standing, count(*) AS count FROM (SELECT ${standing} AS standing ${FROM_LIST}) GROUP BY standing`,
  ).all({ ...values, listId }))
    counts[row.standing] = row.count;
  return {
    counts,
    lacking: counts.lacks_field > 0 ? lackingCounts(db, sequence, required, clock.now()) : [],
    required,
  };
}

function lackingCounts(
  db: Db,
  sequence: Pick<Sequence, "id" | "listId" | "writesTo" | "path">,
  required: readonly string[],
  now: number,
): StartCheck["lacking"] {
  return required
    .map((field) => {
      const { standing, values } = standingSql(sequence, required, now);
      const empty = isEmptySql(field, (name) => {
        values.lackedField = name;
        return "@lackedField";
      });
      const row = sql<Record<string, unknown>, { count: number }>(
        db,
        `SELECT count(*) AS count FROM (SELECT ${standing} AS standing, ${empty} AS empty ${FROM_LIST})
         WHERE standing = 'lacks_field' AND empty`,
      ).get({ ...values, listId: sequence.listId });
      return { field, count: row?.count ?? 0 };
    })
    .filter(({ count }) => count > 0);
}

export interface StartPerson {
  id: number;
  name: string;
  company: string;
  standing: Standing;
  /** Their first email was written by hand, or said yes to. */
  isOwn: 0 | 1;
  isApproved: 0 | 1;
}

const PAGE = 60;

/** A page of the list's people, whoever needs something first. */
export function startPeople(
  { db, clock }: App,
  sequence: Pick<Sequence, "id" | "listId" | "writesTo" | "path">,
  wanted: Standing | null,
  page: number,
): StartPerson[] {
  if (sequence.listId === null) return [];
  const { standing, values } = standingSql(sequence, requiredOf(sequence.path), clock.now());
  const order = ["lacks_field", "no_address", "unproven", "colleague", "ready", ...LEFT_OUT];
  return sql<Record<string, unknown>, StartPerson>(
    db,
    `SELECT * FROM (
       SELECT p.id, coalesce(nullif(trim(p.first_name || ' ' || p.last_name), ''), p.email, 'Somebody without a name') AS name,
         p.company, ${standing} AS standing,
         EXISTS (SELECT 1 FROM own_texts o WHERE o.sequence_id = @sequenceId AND o.prospect_id = p.id) AS isOwn,
         EXISTS (SELECT 1 FROM approvals a WHERE a.sequence_id = @sequenceId AND a.prospect_id = p.id) AS isApproved
       ${FROM_LIST})
     WHERE @wanted IS NULL OR standing = @wanted
     ORDER BY (SELECT key FROM json_each(@order) WHERE value = standing), id LIMIT ${PAGE} OFFSET @offset`,
  ).all({ ...values, listId: sequence.listId, wanted, order: JSON.stringify(order), offset: page * PAGE });
}
