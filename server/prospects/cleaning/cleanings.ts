/** What cleaning changed on a list: by rule, one by one, and the way back. */
import { z } from "zod";
import {
  CLEANED_FIELDS,
  type CleanedField,
  cleanPerson,
  type PersonFields,
} from "../../../core/prospects/cleaning/person.ts";
import { CLEANING_RULES, type CleaningRule } from "../../../core/prospects/cleaning/rules.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import {
  type CleanedValue,
  cleaningOf,
  isOtherHalf,
  parseCleaning,
  saveCleaning,
} from "../../db/cleanings.ts";
import { writeField } from "../../db/fields.ts";
import { keptCount, listTruth } from "../../db/kept-counts.ts";
import { nameSql } from "../../db/names.ts";
import { type Db, sql, transact } from "../../db/open.ts";
import { prospectById } from "../../db/prospects.ts";
import { done, fieldErrors, type Outcome } from "../../errors.ts";

/** Asked of each by itself: a page of fifty must not gather 100,000 first. */
const ON_LIST = `(@listId IS NULL OR EXISTS (
    SELECT 1 FROM list_prospects lp WHERE lp.list_id = @listId AND lp.prospect_id = c.prospect_id))
  AND EXISTS (SELECT 1 FROM prospects x WHERE x.id = c.prospect_id AND x.live = 1)`;
const WITH_RULE = "instr(' ' || c.rules || ' ' || c.refused || ' ', ' ' || @rule || ' ') > 0";

export interface RuleCount {
  rule: CleaningRule;
  /** Values that it changed, and those where it was refused. */
  applied: number;
  refused: number;
}

/** How often each rule changed something on a list (or anywhere), the busiest first. */
export function countRules({ db }: App, listId: number | null): RuleCount[] {
  return keptCount(db, `rules ${listId}`, listTruth(db, listId), () => rulesOf(db, listId));
}

function rulesOf(db: Db, listId: number | null): RuleCount[] {
  const counts = new Map<string, RuleCount>();
  const rows = sql(
    db,
    `SELECT c.rules, c.refused, count(*) AS count FROM cleanings c WHERE ${ON_LIST} GROUP BY c.rules, c.refused`,
  ).all<{ rules: string; refused: string; count: number }>({ listId });
  for (const row of rows)
    for (const [words, kind] of [
      [row.rules, "applied"],
      [row.refused, "refused"],
    ] as const)
      for (const rule of words.split(" ").filter((word) => word !== "")) {
        const entry = counts.get(rule) ?? { rule: rule as CleaningRule, applied: 0, refused: 0 };
        entry[kind] += row.count;
        counts.set(rule, entry);
      }
  return [...counts.values()].sort((a, b) => b.applied + b.refused - a.applied - a.refused);
}

/** How many people of a list were cleaned in any way. */
export function countCleaned({ db }: App, listId: number): number {
  return keptCount(
    db,
    `cleaned ${listId}`,
    listTruth(db, listId),
    () =>
      sql(
        db,
        `SELECT count(*) AS count FROM list_prospects lp JOIN cleanings c ON c.prospect_id = lp.prospect_id
         WHERE lp.list_id = @listId AND c.rules != ''`,
      ).get<{ count: number }>({ listId })?.count ?? 0,
  );
}

export interface CleaningRow extends CleanedValue {
  prospectId: number;
  name: string;
}

export const CLEANINGS_PAGE = 50;

/** A page of the people where a rule changed something, or was refused to, with those values. */
export function listCleanings(
  { db }: App,
  listId: number | null,
  rule: CleaningRule,
  page: number,
): CleaningRow[] {
  return sql(
    db,
    `SELECT c.prospect_id AS prospectId, c.fields,
       ${nameSql()} AS name
     FROM cleanings c JOIN prospects p ON p.id = c.prospect_id
     WHERE ${ON_LIST} AND ${WITH_RULE} ORDER BY c.prospect_id LIMIT ${CLEANINGS_PAGE} OFFSET @offset`,
  )
    .all<{ prospectId: number; fields: string; name: string }>({
      listId,
      rule,
      offset: page * CLEANINGS_PAGE,
    })
    .flatMap(({ fields, ...who }) =>
      parseCleaning(fields)
        .filter((value) => !isOtherHalf(value) && [...value.rules, ...value.refused].includes(rule))
        .map((value) => ({ ...who, ...value })),
    );
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
 * their originals. Returns for how many people something changed.
 */
export function refuseRule(app: App, by: By, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return { ok: false, errors: fieldErrors(read.error) };
  const { listId, rule, prospectId, refuse } = read.data;
  const { db } = app;
  return transact(app, (): Outcome<number> => {
    const ids = sql(
      db,
      `SELECT c.prospect_id AS id FROM cleanings c WHERE ${ON_LIST} AND ${WITH_RULE}
           AND (@prospectId IS NULL OR c.prospect_id = @prospectId)`,
    ).all<{ id: number }>({ listId, prospectId, rule });
    // One value is the person's; a whole rule is the list's, and everybody's on it.
    const no =
      (prospectId === null && listId !== null ? mayNot(app, by, "list.change", listId) : null) ??
      mayNot(
        app,
        by,
        "prospect.change",
        ids.map(({ id }) => id),
      );
    if (no) return no;
    let count = 0;
    for (const { id } of ids) count += cleanAnew(app, id, rule, refuse);
    return done(count);
  });
}

function cleanAnew(app: App, prospectId: number, rule: CleaningRule, refuse: boolean): number {
  const { db } = app;
  const prospect = prospectById(db, prospectId);
  const values = cleaningOf(db, prospectId);
  if (!prospect) return 0;
  const current: PersonFields = {
    ...(Object.fromEntries(
      CLEANED_FIELDS.map((field) => [field, prospect[field as "city"] ?? ""]),
    ) as PersonFields),
    companyDomain: prospect.companyDomain ?? "",
  };
  const raw = { ...current };
  const refused: Partial<Record<CleanedField, Set<CleaningRule>>> = {};
  for (const value of values) {
    raw[value.field] = value.original;
    const rules = new Set(value.refused);
    if (refuse && value.rules.includes(rule)) rules.add(rule);
    if (!refuse) rules.delete(rule);
    refused[value.field] = rules;
  }
  const { fields, changes } = cleanPerson(raw, refused);
  let count = 0;
  const anew = values.map(({ field, original, cleaned }): CleanedValue => {
    // What somebody has changed by hand since stays.
    if (fields[field] !== cleaned && current[field] === cleaned) {
      writeCleaned(app, prospectId, prospect.companyId, field, fields[field]);
      count++;
    }
    return {
      field,
      original,
      cleaned: fields[field],
      rules: changes.find((change) => change.field === field)?.rules ?? [],
      refused: [...(refused[field] ?? [])],
    };
  });
  saveCleaning(db, prospectId, anew);
  return count === 0 ? 0 : 1;
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
      sql(db, "UPDATE companies SET name = @value WHERE id = @companyId").run({
        companyId,
        value,
      });
  } else if (field !== "companyDomain") writeField(db, prospectId, field, value);
}
