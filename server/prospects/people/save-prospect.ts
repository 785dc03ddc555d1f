import { z } from "zod";
import { isZone } from "../../../core/calendar.ts";
import { languageCode } from "../../../core/languages.ts";
import { checkAddress } from "../../../core/prospects/address.ts";
import { countryCode } from "../../../core/prospects/cleaning/places.ts";
import { webDomain } from "../../../core/prospects/cleaning/web.ts";
import { fieldOfCode } from "../../../core/prospects/fields.ts";
import { isFreeMail } from "../../../core/prospects/free-mail.ts";
import { STAGES } from "../../../core/prospects/stages.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { changeField } from "../../consequences/change-field.ts";
import { recordChange } from "../../db/changes.ts";
import { companyFinder } from "../../db/companies.ts";
import { CUSTOM, isField, readField } from "../../db/fields.ts";
import { type Db, sql, transact } from "../../db/open.ts";
import { forgetVerdict, prospectIdByEmail } from "../../db/prospects.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { reconsiderHolds } from "../../sequences/reconsider-holds.ts";
import { askVerify } from "../addresses/verify-addresses.ts";

/** Fills in what a merge field takes its value from. */
export function fillField(
  app: App,
  userId: number | null,
  { prospectId, field, value }: { prospectId: number; field: string; value: string },
): Outcome<null> {
  const no = mayNot(app, userId, "prospect.change", prospectId);
  if (no) return no;
  const typed = value.trim().slice(0, 1_000);
  if (typed === "") return refused({ [field]: "Type what belongs there." });
  const stored = fieldOfCode(field);
  if (!stored && !isField(`${CUSTOM}${field}`)) return refused({ form: "Choose a field." });
  return saveProspect(app, userId, { id: prospectId, [stored ?? `${CUSTOM}${field}`]: typed });
}

const text = z.string().trim().max(200).optional();
const form = z.object({
  id: z.coerce.number().int(),
  email: text.refine(
    (email) => !email || checkAddress(email).ok,
    "This is no address. Example: ilse@kaimuseum.example",
  ),
  firstName: text,
  lastName: text,
  title: text,
  city: text,
  country: text,
  phone: text,
  profile: text,
  company: text,
  companyDomain: text.refine(
    (domain) => !domain || (webDomain(domain) !== null && !isFreeMail(webDomain(domain) ?? "")),
    "This is no company's web site. Example: kaimuseum.example",
  ),
  stage: z.enum(STAGES).optional(),
  owner: text,
  language: text,
  timeZone: text.refine(
    (zone) => !zone || isZone(zone),
    "There is no time zone of this name. Example: Europe/Lisbon",
  ),
});

/** What somebody typed into a field, as it is stored: a country's name as its code. */
export const typedValue = (field: string, text: string): string =>
  field === "country"
    ? (countryCode(text) ?? text)
    : field === "language"
      ? (languageCode(text) ?? text)
      : text;

/** A list's own fields in a form, by "custom:name". */
const ownFields = z
  .record(z.string(), z.unknown())
  .transform((all) =>
    Object.entries(all).flatMap(([field, value]): [string, string][] =>
      field.startsWith(CUSTOM) && isField(field) && typeof value === "string"
        ? [[field, value.trim().slice(0, 2_000)]]
        : [],
    ),
  );

/** Changes what the form holds of a prospect's fields, and keeps what was there; journeys that waited for an empty one go on. */
export function saveProspect(
  app: App,
  userId: number | null,
  input: unknown,
  /** What says so, if it is not the user's own hand: "Ledgerhouse". */
  detail = "",
): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, company, companyDomain, ...fields } = read.data;
  const own = ownFields.parse(input);
  const no = mayNot(app, userId, "prospect.change", id);
  if (no) return no;
  const { db, clock } = app;
  const now = clock.now();
  if (fields.email) {
    fields.email = fields.email.toLowerCase();
    const other = prospectIdByEmail(db, fields.email);
    if (other !== null && other !== id)
      return refused({ email: "Somebody else has this address. Merge the two under Duplicates." });
  }
  transact(app, (app) => {
    const { db } = app;
    const record = (field: string, before: string, after: string) =>
      recordChange(db, {
        ...{ prospectId: id, field, before, after, source: "edit", sourceId: null, userId, at: now, detail },
      });
    for (const [field, before, after] of setCompany(db, id, company, companyDomain))
      record(field, before, after);
    for (const [field, typed] of [...Object.entries(fields), ...own]) {
      if (typed === undefined) continue;
      const before = readField(db, id, field);
      const after = typedValue(field, typed);
      if (before === after) continue;
      changeField(db, { prospectId: id, at: now, userId }, field, after);
      record(field, before, after);
      if (field !== "email") continue;
      forgetVerdict(db, id);
      if (after !== "") askVerify(app, userId, { prospectIds: [id] });
    }
    reconsiderHolds(app, { prospectId: id });
  });
  return done(null);
}

/**
 * Says where somebody works; blank means nowhere that is known. A company that has no web site yet gets the one that is
 * typed, for all who work there. Returns what changed: field, before, after.
 */
function setCompany(
  db: Db,
  id: number,
  typedName: string | undefined,
  typedDomain: string | undefined,
): [field: string, before: string, after: string][] {
  if (typedName === undefined && typedDomain === undefined) return [];
  const at = () =>
    sql(
      db,
      `SELECT p.company_id AS companyId, p.company AS name, coalesce(c.domain, '') AS domain
       FROM prospects p LEFT JOIN companies c ON c.id = p.company_id WHERE p.id = @id`,
    ).get<{ companyId: number | null; name: string; domain: string }>({ id }) ?? {
      companyId: null,
      name: "",
      domain: "",
    };
  const before = at();
  const name = typedName ?? before.name;
  const domain = typedDomain === undefined ? before.domain : (webDomain(typedDomain) ?? "");
  if (name === before.name && domain === before.domain) return [];
  const isFree = sql(db, "SELECT 1 FROM companies WHERE domain = @domain").get({ domain }) === undefined;
  if (name === before.name && before.companyId !== null && before.domain === "" && isFree)
    sql(db, "UPDATE companies SET domain = @domain WHERE id = @companyId").run({
      domain,
      companyId: before.companyId,
    });
  else
    sql(
      db,
      `UPDATE prospects SET company_id = @companyId,
         company = coalesce(nullif(@name, ''), (SELECT name FROM companies WHERE id = @companyId), '') WHERE id = @id`,
    ).run({
      id,
      name,
      companyId: companyFinder(db)({ name, domain: name === before.name || typedDomain ? domain : "" }),
    });
  const after = at();
  const changed: [string, string, string][] = [
    ["company", before.name, after.name],
    ["companyDomain", before.domain, after.domain],
  ];
  return changed.filter(([, was, is]) => was !== is);
}
