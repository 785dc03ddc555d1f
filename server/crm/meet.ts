/** A thing that the CRM shows meets what is here: who it is, what follows on either side, and, if it is no trial, what does. */
import { partAt, valueAt } from "../../core/connections/json-path.ts";
import { bringIntoStep, type Values } from "../../core/crm/merge.ts";
import { FIELD_WORDS } from "../../core/prospects/fields.ts";
import type { User } from "../accounts/session.ts";
import type { AppTx } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { fieldsIn } from "../db/json.ts";
import { noteHappening } from "../db/listeners.ts";
import { type Db, sql } from "../db/open.ts";
import { type Prospect, prospectById, prospectIdByEmail, remainingProspect } from "../db/prospects.ts";
import { bulkEdit } from "../prospects/people/bulk-edit.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { ownFieldsOf, takePerson } from "../prospects/people/take-person.ts";
import type { Crm } from "./crm.ts";
import type { Found } from "./report.ts";
import { valuesHere, valuesThere } from "./translate.ts";

export interface Link {
  id: number;
  prospectId: number | null;
  thereId: string;
  base: string | null;
  there: string;
  state: "linked" | "gone_there" | "gone_here" | "left";
}

const LINK = "SELECT id, prospect_id AS prospectId, there_id AS thereId, base, there, state FROM crm_links";

export const linkThere = (db: Db, crmId: number, thereId: string): Link | undefined =>
  sql(db, `${LINK} WHERE crm_id = @crmId AND kind = 'person' AND there_id = @thereId`).get<Link>({
    crmId,
    thereId,
  });
export const linkOf = (db: Db, crmId: number, prospectId: number): Link | undefined =>
  sql(db, `${LINK} WHERE prospect_id = @prospectId AND crm_id = @crmId`).get<Link>({ crmId, prospectId });

/** Who was found or made there is this one of ours, whatever their record says. */
export function linkWith(db: Db, crm: Crm, prospectId: number, thereId: string): void {
  sql(
    db,
    `INSERT INTO crm_links (crm_id, kind, prospect_id, there_id, there_at) VALUES (@crmId, 'person', @prospectId, @thereId, 0)
     ON CONFLICT DO NOTHING`,
  ).run({ crmId: crm.id, prospectId, thereId });
}

export const fieldWords = (field: string): string =>
  FIELD_WORDS[field as keyof typeof FIELD_WORDS] ??
  { stage: "Stage", owner: "Owner" }[field] ??
  field.replace(/^custom:/, "").replaceAll("_", " ");

const thereAt = (crm: Crm, item: unknown): number => {
  const updated = valueAt(item, crm.dialect.people.updated);
  const at = /^\d+$/.test(updated) ? Number(updated) : Date.parse(updated);
  return Number.isNaN(at) ? 0 : at;
};
const isTrue = (value: unknown) => value === true || value === 1 || value === "true" || value === "yes";

/** A company is kept as it is called there; whoever works there is looked at again when that changes. */
export function meetCompany({ db }: AppTx, crm: Crm, item: unknown): void {
  const { companies } = crm.dialect;
  const thereId = valueAt(item, companies.id);
  if (thereId === "") return;
  const there = JSON.stringify(item);
  const values = { crmId: crm.id, thereId, there, at: Date.parse(valueAt(item, companies.updated)) || 0 };
  const { changes } = sql(
    db,
    `INSERT INTO crm_links (crm_id, kind, there_id, there, there_at) VALUES (@crmId, 'company', @thereId, @there, @at)
     ON CONFLICT (crm_id, kind, there_id) DO UPDATE SET there = @there, there_at = @at WHERE there != @there`,
  ).run(values);
  if (changes === 1)
    sql(
      db,
      "UPDATE crm_links SET is_dirty = 1 WHERE crm_id = @crmId AND company_there = @thereId AND kind = 'person'",
    ).run({ crmId: crm.id, thereId });
}

/** As the CRM last showed it; null for none, or one that is not known yet. */
function companyOf(db: Db, crm: Crm, item: unknown): { id: string; record: unknown } | null {
  const id = valueAt(item, crm.dialect.company);
  if (id === "") return null;
  const row = sql(
    db,
    "SELECT there FROM crm_links WHERE crm_id = @crmId AND kind = 'company' AND there_id = @id",
  ).get<{
    there: string;
  }>({ crmId: crm.id, id });
  return { id, record: row ? JSON.parse(row.there) : null };
}

export interface Met {
  found: Found[];
  link: Link | null;
  /** What is to be told there. */
  toThere: Record<string, string>;
}

const NOBODY: Met = { found: [], link: null, toThere: {} };

/**
 * Somebody there. In a trial nothing changes but that it is written down who they are here. What is to be told there is
 * left to the push, which looks once more how they are there by then.
 */
export function meetPerson(app: AppTx, crm: Crm, user: User, item: unknown, isTrial: boolean): Met {
  const { db } = app;
  const thereId = valueAt(item, crm.dialect.people.id);
  if (thereId === "") return NOBODY;
  const link = linkThere(db, crm.id, thereId);
  if (link?.state === "left" || link?.state === "gone_here") return NOBODY;
  const company = companyOf(db, crm, item);
  let there = valuesThere(app, crm, item, company?.record);
  const name = `${there.firstName ?? ""} ${there.lastName ?? ""}`.trim() || there.email || thereId;
  const tell = (finding: Found["finding"], words: string): Found => ({ finding, name, words });

  if (isTrue(partAt(item, crm.dialect.people.deleted))) {
    if (!link) return NOBODY;
    if (!isTrial) sql(db, "UPDATE crm_links SET state = 'gone_there' WHERE id = @id").run({ id: link.id });
    return { ...NOBODY, found: [tell("gone", "was deleted there")] };
  }

  const found: Found[] = [];
  let person = whoIsIt(db, link, there.email ?? "");
  if (link && link.prospectId !== null && !person) {
    if (!isTrial) sql(db, "UPDATE crm_links SET state = 'gone_here' WHERE id = @id").run({ id: link.id });
    return NOBODY;
  }
  const another = person && linkOf(db, crm.id, person.id);
  if (another && another.thereId !== thereId)
    return { ...NOBODY, found: [tell("refused", "stands there twice: the other one is in step")] };
  if (!person) {
    if (isTrial) {
      const problem = cannotCome(there);
      return {
        ...NOBODY,
        found: [problem === null ? tell("new", whoItIs(there)) : tell("refused", problem)],
      };
    }
    const taken = takePerson(app, user.id, there, crm.settings.list);
    if (!taken.ok)
      return { ...NOBODY, found: [tell("refused", Object.values(taken.errors)[0] ?? "was not taken")] };
    person = prospectById(db, taken.value.prospectId);
    if (!person) return NOBODY;
    found.push(tell("new", whoItIs(there)));
  } else if (!link?.base) found.push(tell("known", person.email));

  const here = valuesHere(crm, person);
  there = valuesThere(app, crm, item, company?.record, here);
  // Of whom it was who told us, nobody here said anything yet.
  const isNew = found.some(({ finding }) => finding === "new");
  const base = link?.base ? fieldsIn(link.base) : isNew ? agreedOn(here, there) : null;
  const step = bringIntoStep(
    crm.settings.fields,
    { base, here, there },
    (field) => (changedHereAt(db, person.id, field) > thereAt(crm, item) ? "here" : "there"),
    link ? decisions(db, link.id) : {},
  );
  // Nobody is without a stage or an owner because the other side does not say one.
  for (const field of ["stage", "owner"]) if (step.toHere[field] === "") delete step.toHere[field];
  for (const [field, value] of Object.entries(step.toHere))
    found.push(tell("here", wordsOf(field, here[field], value)));
  for (const [field, value] of Object.entries(step.toThere))
    found.push(tell("there", wordsOf(field, there[field], value)));
  const asked = link ? askedBefore(db, link.id) : [];
  for (const field of step.conflicts)
    if (!asked.includes(field)) found.push(tell("conflict", wordsOf(field, here[field], there[field])));
  const kept = keepLink(db, {
    ...{ crm, thereId, prospectId: person.id, companyThere: company?.id ?? null },
    ...{ base: base && JSON.stringify(base), there: JSON.stringify(there), thereAt: thereAt(crm, item) },
  });
  if (isTrial) return { found, link: kept, toThere: step.toThere };

  const refusedHere = changeHere(app, crm, user, person, step.toHere);
  if (refusedHere !== null) found.push(tell("refused", refusedHere));
  if (isTrue(partAt(item, crm.dialect.noMail)) && person.email !== "" && !isBlocked(db, person.email))
    bulkEdit(app, user, { ids: [person.id], action: { kind: "block" } });
  // On what has still to be told there, or was not taken here, nobody agrees yet.
  const open = [...Object.keys(step.toThere), ...(refusedHere === null ? [] : Object.keys(step.toHere))];
  const agreed = Object.fromEntries(
    Object.entries(step.base).flatMap(([field, value]) => {
      if (!open.includes(field)) return [[field, value]];
      return base?.[field] === undefined ? [] : [[field, base[field]]];
    }),
  );
  sql(
    db,
    "UPDATE crm_links SET base = @base, state = 'linked', is_dirty = max(is_dirty, @isDirty) WHERE id = @id",
  ).run({
    ...{ id: kept.id, base: JSON.stringify(agreed), isDirty: Object.keys(step.toThere).length > 0 ? 1 : 0 },
  });
  keepConflicts(app, crm, kept.id, step.conflicts, here, there);
  return { found, link: { ...kept, base: JSON.stringify(agreed) }, toThere: step.toThere };
}

/** What stands here, as far as the other side says anything. */
const agreedOn = (here: Values, there: Values) =>
  Object.fromEntries(Object.entries(here).filter(([field]) => there[field]));

/** Whom a link leads to by now, or whose address it is; undefined for nobody who is here. */
function whoIsIt(db: Db, link: Link | undefined, email: string): Prospect | undefined {
  if (link && link.prospectId !== null) return remainingProspect(db, link.prospectId);
  const id = email === "" ? null : prospectIdByEmail(db, email);
  return id === null ? undefined : prospectById(db, id);
}

const whoItIs = ({ title = "", company = "", email = "" }: Values) =>
  [title, company, email].filter((part) => part !== "").join(", ");
const shown = (value: string | undefined) => (value === undefined || value === "" ? "nothing" : `“${value}”`);
const wordsOf = (field: string, from: string | undefined, to: string | undefined) =>
  `${fieldWords(field)}: ${shown(from)} → ${shown(to)}`;

/** Why a trial says that somebody would not come; the use case that adds them has the last word. */
function cannotCome({ email = "", lastName = "", company = "", companyDomain = "" }: Values): string | null {
  return email === "" && (lastName === "" || (company === "" && companyDomain === ""))
    ? "has no address, nor a name and a company by which one could be found"
    : null;
}

function changeHere(app: AppTx, crm: Crm, user: User, { id }: Prospect, toHere: Values): string | null {
  if (Object.keys(toHere).length === 0) return null;
  const own = ownFieldsOf(app, toHere);
  const plain = Object.fromEntries(Object.entries(toHere).filter(([field]) => !field.startsWith("custom:")));
  const saved = saveProspect(app, user.id, { id, ...plain, ...own }, crm.name);
  return saved.ok ? null : (Object.values(saved.errors)[0] ?? "was not taken");
}

const changedHereAt = (db: Db, prospectId: number, field: string): number =>
  sql(db, "SELECT max(at) AS at FROM changes WHERE prospect_id = @prospectId AND field = @field").get<{
    at: number | null;
  }>({ prospectId, field })?.at ?? 0;

const askedBefore = (db: Db, linkId: number): string[] =>
  sql(db, "SELECT field FROM crm_conflicts WHERE link_id = @linkId")
    .all<{ field: string }>({ linkId })
    .map(({ field }) => field);

const decisions = (db: Db, linkId: number): Record<string, "here" | "there"> =>
  Object.fromEntries(
    sql(db, "SELECT field, decided FROM crm_conflicts WHERE link_id = @linkId AND decided IS NOT NULL")
      .all<{ field: string; decided: "here" | "there" }>({ linkId })
      .map(({ field, decided }) => [field, decided]),
  );

function keepLink(
  db: Db,
  link: {
    crm: Crm;
    thereId: string;
    prospectId: number;
    companyThere: string | null;
    base: string | null;
    there: string;
    thereAt: number;
  },
): Link {
  const { crm, ...values } = link;
  sql(
    db,
    `INSERT INTO crm_links (crm_id, kind, prospect_id, there_id, company_there, base, there, there_at)
     VALUES (@crmId, 'person', @prospectId, @thereId, @companyThere, @base, @there, @thereAt)
     ON CONFLICT (crm_id, kind, there_id) DO UPDATE SET prospect_id = @prospectId, company_there = @companyThere, there = @there,
       there_at = @thereAt`,
  ).run({ ...values, crmId: crm.id });
  return linkThere(db, crm.id, link.thereId) as Link;
}

/** What both changed is asked, as it stands by now; what was settled meanwhile is not. */
function keepConflicts(
  { db, clock }: AppTx,
  crm: Crm,
  linkId: number,
  fields: readonly string[],
  here: Values,
  there: Values,
): void {
  sql(
    db,
    "DELETE FROM crm_conflicts WHERE link_id = @linkId AND field NOT IN (SELECT value FROM json_each(@fields))",
  ).run({ linkId, fields: JSON.stringify(fields) });
  for (const field of fields)
    sql(
      db,
      `INSERT INTO crm_conflicts (crm_id, link_id, field, here, there, at) VALUES (@crmId, @linkId, @field, @here, @there, @now)
       ON CONFLICT (link_id, field) DO UPDATE SET here = @here, there = @there`,
    ).run({
      ...{ crmId: crm.id, linkId, field, now: clock.now() },
      here: here[field] ?? "",
      there: there[field] ?? "",
    });
}

/** A deal of somebody who is in step. That its stage changed is news; what stood there at the first look is none. */
export function meetDeal(app: AppTx, crm: Crm, item: unknown, isTrial: boolean): Found[] {
  const { db, clock } = app;
  const { dialect } = crm;
  const thereId = valueAt(item, dialect.deals.id);
  const link = linkThere(db, crm.id, valueAt(item, dialect.dealPerson));
  if (thereId === "" || !link || link.prospectId === null) return [];
  const name = valueAt(item, dialect.dealName) || thereId;
  const stage = valueAt(item, dialect.dealStage);
  const stageName = (id: string) => crm.choices.stages.find((each) => each.id === id)?.name ?? id;
  if (isTrial) return [{ finding: "deal", name, words: stageName(stage) }];
  if (isTrue(partAt(item, dialect.deals.deleted))) {
    sql(db, "DELETE FROM crm_deals WHERE crm_id = @crmId AND there_id = @thereId").run({
      crmId: crm.id,
      thereId,
    });
    return [];
  }
  const known = sql(db, "SELECT stage FROM crm_deals WHERE crm_id = @crmId AND there_id = @thereId").get<{
    stage: string;
  }>({ crmId: crm.id, thereId });
  keepDeal(app, crm, {
    thereId,
    prospectId: link.prospectId,
    name,
    stage,
    value: valueAt(item, dialect.dealValue),
  });
  const isNews = known === undefined ? crm.seen.deals !== undefined : known.stage !== stage;
  if (!isNews) return [];
  noteHappening(db, {
    ...{ kind: "deal.moved", at: clock.now(), prospectId: link.prospectId },
    detail: JSON.stringify({ deal: name, from: known ? stageName(known.stage) : "", to: stageName(stage) }),
  });
  return [{ finding: "deal", name, words: stageName(stage) }];
}

export function keepDeal(
  { db, clock }: AppTx,
  crm: Crm,
  deal: { thereId: string; prospectId: number; name: string; stage: string; value: string },
): void {
  sql(
    db,
    `INSERT INTO crm_deals (crm_id, prospect_id, there_id, name, stage, value, changed_at)
     VALUES (@crmId, @prospectId, @thereId, @name, @stage, @value, @now)
     ON CONFLICT (crm_id, there_id) DO UPDATE SET prospect_id = @prospectId, name = @name, value = @value,
       changed_at = iif(stage = @stage, changed_at, @now), stage = @stage`,
  ).run({ ...deal, crmId: crm.id, now: clock.now() });
}
