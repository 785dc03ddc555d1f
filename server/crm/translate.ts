/** The same person in both sides' words: what a CRM says in ours, and what we say in its own. */
import { putAt, valueAt } from "../../core/connections/json-path.ts";
import type { Values } from "../../core/crm/merge.ts";
import { stageHere } from "../../core/crm/settings.ts";
import { readAddress } from "../../core/prospects/address.ts";
import { CLEANED_FIELDS, cleanPerson, type PersonFields } from "../../core/prospects/cleaning/person.ts";
import type { Stage } from "../../core/prospects/stages.ts";
import type { App } from "../app.ts";
import { CUSTOM } from "../db/fields.ts";
import { sql } from "../db/open.ts";
import type { Prospect } from "../db/prospects.ts";
import type { Crm } from "./crm.ts";

/** Where in a person's record their company is put, which is another thing there. */
const COMPANY = "company.";

/**
 * What a record there says of the mapped fields, cleaned as everything is that comes in, so that both sides can be compared.
 * What has no counterpart here (a stage that is not mapped, an owner who is nobody here) is left out. `here`: what stands
 * here as it was typed stays so, where they say the same.
 */
export function valuesThere(
  app: App,
  crm: Crm,
  item: unknown,
  company: unknown,
  here: Values = {},
): Record<string, string> {
  const { fields, stages } = crm.settings;
  const raw = Object.fromEntries(CLEANED_FIELDS.map((field) => [field, ""])) as Record<string, string>;
  const values: Record<string, string> = {};
  for (const { field, there } of fields) {
    const said =
      field === "owner"
        ? valueAt(item, crm.dialect.owner)
        : there.startsWith(COMPANY)
          ? valueAt(company, there.slice(COMPANY.length))
          : valueAt(item, there);
    if (field === "stage") {
      const stage = said === "" ? "" : stageHere(stages, said);
      if (stage !== null) values.stage = stage;
    } else if (field === "owner") {
      const owner = said === "" ? "" : ownerHere(app, crm, said);
      if (owner !== null) values.owner = owner;
    } else if (field === "email") {
      const address = readAddress(said);
      values.email = address.ok ? address.address.toLowerCase() : "";
    } else if (field.startsWith(CUSTOM)) values[field] = said;
    else raw[field] = said;
  }
  const { fields: cleaned } = cleanPerson(raw as PersonFields);
  for (const field of CLEANED_FIELDS.filter((field) => raw[field] === here[field]))
    cleaned[field] = raw[field] ?? "";
  for (const field of CLEANED_FIELDS)
    if (fields.some((each) => each.field === field)) values[field] = cleaned[field];
  return values;
}

export function valuesHere(crm: Crm, person: Prospect): Record<string, string> {
  const known: Values = {
    ...{
      firstName: person.firstName,
      lastName: person.lastName,
      email: person.email,
      company: person.company,
    },
    ...{ companyDomain: person.companyDomain ?? "", title: person.title, city: person.city },
    ...{
      country: person.country,
      timeZone: person.timeZone ?? "",
      phone: person.phone,
      profile: person.profile,
    },
    ...{ stage: person.stage, owner: person.ownerId === null ? "" : String(person.ownerId) },
  };
  return Object.fromEntries(
    crm.settings.fields.map(({ field }) => [
      field,
      field.startsWith(CUSTOM) ? (person.custom[field.slice(CUSTOM.length)] ?? "") : (known[field] ?? ""),
    ]),
  );
}

/** A person's changes in its words. Of a company only what it is called; it is found or made there by itself (`companyIn`). */
export function bodyOf(app: App, crm: Crm, values: Values): Record<string, unknown> {
  const body: Record<string, unknown> = {};
  for (const { field, there } of crm.settings.fields) {
    const value = values[field];
    if (value === undefined || there.startsWith(COMPANY)) continue;
    if (field === "owner") {
      const owner = value === "" ? null : ownerThere(app, crm, Number(value));
      if (owner !== null) putAt(body, crm.dialect.owner, owner);
    } else if (field === "stage") {
      const word = crm.settings.stages[value as Stage];
      if (word) putAt(body, there, word);
    } else putAt(body, there, value);
  }
  return body;
}

/** The company that somebody's values name; null where none of its fields is among them. */
export function companyIn(crm: Crm, values: Values): { name: string; domain: string } | null {
  const isMapped = crm.settings.fields.some(
    ({ field, there }) => there.startsWith(COMPANY) && field in values,
  );
  return isMapped ? { name: values.company ?? "", domain: values.companyDomain ?? "" } : null;
}

function ownerHere({ db }: App, { choices }: Crm, there: string): string | null {
  const email = choices.owners.find(({ id }) => id === there)?.name;
  const id =
    email === undefined
      ? undefined
      : sql(db, "SELECT id FROM users WHERE lower(email) = @email AND removed_at IS NULL").get<{
          id: number;
        }>({
          email,
        })?.id;
  return id === undefined ? null : String(id);
}

function ownerThere({ db }: App, { choices }: Crm, userId: number): string | null {
  const email = sql(db, "SELECT lower(email) AS email FROM users WHERE id = @userId").get<{ email: string }>({
    userId,
  })?.email;
  return choices.owners.find(({ name }) => name === email)?.id ?? null;
}
