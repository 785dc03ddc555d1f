/** What cleaning changed on a list: by rule, one by one, and the way back. */
import { z } from "zod";
import {
  CLEANED_FIELDS,
  type CleanedField,
  cleanPerson,
  type PersonFields,
} from "../../core/prospects/cleaning/person.ts";
import { CLEANING_RULES, type CleaningRule } from "../../core/prospects/cleaning/rules.ts";
import type { App } from "../app.ts";
import { writeField } from "../db/fields.ts";
import { sql } from "../db/open.ts";
import { prospectById } from "../db/prospects.ts";
import { done, fieldErrors, type Outcome } from "../errors.ts";

const ruleList = (text: string) => text.split(",").filter((rule) => rule !== "") as CleaningRule[];
const ON_LIST = `(@listId IS NULL OR c.prospect_id IN (SELECT prospect_id FROM list_prospects WHERE list_id = @listId))
  AND c.prospect_id IN (SELECT id FROM prospects WHERE live = 1)
  -- A last name out of nothing is the other half of a name that was parted.
  AND NOT (c.original = '' AND c.field = 'lastName')`;

export interface RuleCount {
  rule: CleaningRule;
  /** Values that it changed, and those where it was refused. */
  applied: number;
  refused: number;
}

/** How often each rule changed something on a list (or anywhere), the busiest first. */
export function countRules({ db }: App, listId: number | null): RuleCount[] {
  const counts = new Map<CleaningRule, RuleCount>();
  const rows = sql<{ listId: number | null }, { rules: string; refused: string; count: number }>(
    db,
    `SELECT c.rules, c.refused, count(*) AS count FROM cleanings c WHERE ${ON_LIST} GROUP BY c.rules, c.refused`,
  ).all({ listId });
  for (const { rules, refused, count } of rows)
    for (const [list, kind] of [
      [ruleList(rules), "applied"],
      [ruleList(refused), "refused"],
    ] as const)
      for (const rule of list) {
        const entry = counts.get(rule) ?? { rule, applied: 0, refused: 0 };
        entry[kind] += count;
        counts.set(rule, entry);
      }
  return [...counts.values()].sort((a, b) => b.applied + b.refused - a.applied - a.refused);
}

export interface CleaningRow {
  prospectId: number;
  name: string;
  field: CleanedField;
  original: string;
  cleaned: string;
  rules: CleaningRule[];
  refused: CleaningRule[];
}

export const CLEANINGS_PAGE = 50;

/** The values that a rule changed, or was refused to. */
export function listCleanings(
  { db }: App,
  listId: number | null,
  rule: CleaningRule,
  page: number,
): CleaningRow[] {
  return sql<
    Record<string, unknown>,
    Omit<CleaningRow, "rules" | "refused"> & { rules: string; refused: string }
  >(
    db,
    `SELECT c.prospect_id AS prospectId, c.field, c.original, c.cleaned, c.rules, c.refused,
       coalesce(nullif(trim(p.first_name || ' ' || p.last_name), ''), p.email, '') AS name
     FROM cleanings c JOIN prospects p ON p.id = c.prospect_id
     WHERE ${ON_LIST} AND instr(',' || c.rules || ',' || c.refused || ',', ',' || @rule || ',') > 0
     ORDER BY c.prospect_id, c.field LIMIT ${CLEANINGS_PAGE} OFFSET @offset`,
  )
    .all({ listId, rule, offset: page * CLEANINGS_PAGE })
    .map((row) => ({ ...row, rules: ruleList(row.rules), refused: ruleList(row.refused) }));
}

const form = z.object({
  listId: z.coerce.number().int().nullable(),
  rule: z.enum(CLEANING_RULES),
  /** One value; without it the rule as a whole. */
  prospectId: z.coerce.number().int().nullable().default(null),
  refuse: z.boolean(),
});

/**
 * Refuses a rule, for one person's value or for a whole list, or allows it again: the values are made anew from
 * their originals. A value that somebody has changed by hand since stays. Returns how many changed.
 */
export function refuseRule(app: App, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return { ok: false, errors: fieldErrors(read.error) };
  const { listId, rule, prospectId, refuse } = read.data;
  const { db } = app;
  return db
    .transaction(() => {
      const ids = sql<Record<string, unknown>, { id: number }>(
        db,
        `SELECT DISTINCT c.prospect_id AS id FROM cleanings c WHERE ${ON_LIST}
           AND (@prospectId IS NULL OR c.prospect_id = @prospectId)
           AND instr(',' || ${refuse ? "c.rules" : "c.refused"} || ',', ',' || @rule || ',') > 0`,
      ).all({ listId, prospectId, rule });
      let count = 0;
      for (const { id } of ids) count += cleanAnew(app, id, rule, refuse);
      return done(count);
    })
    .immediate();
}

function cleanAnew(app: App, prospectId: number, rule: CleaningRule, refuse: boolean): number {
  const { db } = app;
  const prospect = prospectById(db, prospectId);
  if (!prospect) return 0;
  const rows = sql<
    { prospectId: number },
    { field: CleanedField; original: string; cleaned: string; rules: string; refused: string }
  >(db, "SELECT field, original, cleaned, rules, refused FROM cleanings WHERE prospect_id = @prospectId").all(
    { prospectId },
  );
  const current: PersonFields = {
    ...(Object.fromEntries(CLEANED_FIELDS.map((field) => [field, prospect[field] ?? ""])) as PersonFields),
    companyDomain: prospect.companyDomain ?? "",
  };
  const raw = { ...current };
  const refused: Partial<Record<CleanedField, Set<CleaningRule>>> = {};
  for (const row of rows) {
    raw[row.field] = row.original;
    const rules = new Set(ruleList(row.refused));
    const concerned = ruleList(refuse ? row.rules : row.refused).includes(rule);
    if (concerned && refuse) rules.add(rule);
    if (concerned && !refuse) rules.delete(rule);
    refused[row.field] = rules;
  }
  const { fields, changes } = cleanPerson(raw, refused);
  let count = 0;
  for (const { field, cleaned } of rows) {
    const rules = changes.find((change) => change.field === field)?.rules ?? [];
    sql<Record<string, unknown>>(
      db,
      `UPDATE cleanings SET cleaned = @cleaned, rules = @rules, refused = @refused
       WHERE prospect_id = @prospectId AND field = @field`,
    ).run({
      prospectId,
      field,
      cleaned: fields[field],
      rules: rules.join(","),
      refused: [...(refused[field] ?? [])].join(","),
    });
    if (fields[field] === cleaned || current[field] !== cleaned) continue;
    writeCleaned(app, prospectId, prospect.companyId, field, fields[field]);
    count++;
  }
  return count;
}

/** A company's name is the company's: it changes for everybody there. */
function writeCleaned(
  { db }: App,
  prospectId: number,
  companyId: number | null,
  field: CleanedField,
  value: string,
): void {
  if (field === "company") {
    if (companyId !== null)
      sql<Record<string, unknown>>(db, "UPDATE companies SET name = @value WHERE id = @companyId").run({
        companyId,
        value,
      });
  } else if (field !== "companyDomain") writeField(db, prospectId, field, value);
}
