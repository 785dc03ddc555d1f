/** Searches of the directory: asked for with a profile, run as a job, reviewed before anybody is kept. */

import { checkAddress } from "../../../core/prospects/address.ts";
import { cleanPerson, type FieldChange, type PersonFields } from "../../../core/prospects/cleaning/person.ts";
import { readEmployees } from "../../../core/prospects/employees.ts";
import { judgeFit, profileSchema, type TargetProfile } from "../../../core/prospects/profile.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { erasedCheck } from "../../db/erased.ts";
import { askJob } from "../../db/jobs.ts";
import { sql } from "../../db/open.ts";
import { done, type Outcome, refused } from "../../errors.ts";
import type { Report } from "../../jobs/report.ts";
import { askDirectory, type DirectoryPerson } from "./directory.ts";
import { profileById } from "./profiles.ts";

/** What is kept of a found person, cleaned. */
export interface FoundFields {
  email: string;
  fields: PersonFields;
  changes: FieldChange[];
  company: { industry: string; employees: number | string | null; region: string; about: string };
}

/** Starts a search; the search's id. */
export function startSearch(app: App, userId: number | null, profileId: number): Outcome<number> {
  const { db, clock } = app;
  const no = mayNot(app, userId, "profile.use", profileId);
  if (no) return no;
  const profile = profileById(app, profileId);
  if (!profile) return refused({ form: "This profile no longer exists. Choose another." });
  const now = clock.now();
  return done(
    db
      .transaction(() => {
        const id = Number(
          sql(
            db,
            `INSERT INTO searches (profile_id, profile_name, definition, user_id, at)
             VALUES (@profileId, @name, @definition, @userId, @now)`,
          ).run({
            profileId,
            name: profile.name,
            definition: JSON.stringify(profile.definition),
            userId,
            now,
          }).lastInsertRowid,
        );
        const jobId = askJob(db, { kind: "search", input: { searchId: id }, userId, now });
        sql(db, "UPDATE searches SET job_id = @jobId WHERE id = @id").run({
          id,
          jobId,
        });
        return id;
      })
      .immediate(),
  );
}

/** Reads the directory page by page from where it stopped, and judges everybody it brings. */
export async function runSearch(app: App, searchId: number, report: Report): Promise<void> {
  const { db } = app;
  const search = sql(db, "SELECT definition, next_page AS page FROM searches WHERE id = @searchId").get<{
    definition: string;
    page: number | null;
  }>({ searchId });
  if (!search) return;
  const profile = profileSchema.parse(JSON.parse(search.definition));
  const isErased = erasedCheck(app);
  const keep = sql(
    db,
    `INSERT INTO found_people (search_id, reference, raw, fields, name, fits, reason, detail, known_id)
     VALUES (@searchId, @reference, @raw, @fields, @name, @fits, @reason, @detail, @knownId)
     ON CONFLICT (search_id, reference) DO NOTHING`,
  );
  const turn = sql(db, "UPDATE searches SET next_page = @page WHERE id = @searchId");
  for (let page = search.page; page !== null; ) {
    const found = await askDirectory(app, profile, page);
    const next: number | null = page < found.pages ? page + 1 : null;
    db.transaction(() => {
      for (const person of found.people) {
        const read = readPerson(person);
        if (isErased(read.email)) continue;
        const fit = judgePerson(profile, read);
        const { fields, email } = read;
        keep.run({
          searchId,
          reference: person.id,
          raw: JSON.stringify(person),
          fields: JSON.stringify(read),
          name: `${fields.firstName} ${fields.lastName}`.trim(),
          fits: fit.fits ? 1 : 0,
          reason: fit.reason,
          detail: fit.detail,
          knownId: knownId(app, email, fields),
        });
      }
      turn.run({ searchId, page: next });
    }).immediate();
    if (await report(next === null ? found.pages : next - 1, found.pages)) return;
    page = next;
  }
}

function readPerson(person: DirectoryPerson): FoundFields {
  const { company } = person;
  const { fields, changes } = cleanPerson({
    firstName: person.firstName,
    lastName: person.lastName,
    company: company.name,
    companyDomain: company.domain,
    title: person.title,
    city: company.city,
    country: company.country,
    timeZone: "",
    language: "",
    phone: person.phone,
    profile: person.profile,
  });
  const address = checkAddress(person.email);
  const { industry, employees, region, about } = company;
  return {
    email: address.ok ? address.address : "",
    fields,
    changes,
    company: { industry, employees, region, about },
  };
}

function judgePerson(profile: TargetProfile, { email, fields, company }: FoundFields) {
  return judgeFit(profile, {
    email,
    firstName: fields.firstName,
    profile: fields.profile,
    title: fields.title,
    industry: company.industry,
    employees: readEmployees(company.employees),
    country: fields.country,
    region: company.region,
    city: fields.city,
    keywords: company.about,
  });
}

/** Who of ours this is: by address, or by name at the company. */
function knownId({ db }: App, email: string, fields: PersonFields): number | null {
  return (
    sql(
      db,
      `SELECT coalesce(merged_into, id) AS id FROM prospects WHERE email = @email
       UNION ALL
       SELECT p.id FROM companies c JOIN prospects p ON p.company_id = coalesce(c.merged_into, c.id)
       WHERE c.domain = @domain AND p.live = 1 AND p.last_name = @last AND p.first_name = @first
       LIMIT 1`,
    ).get<{ id: number }>({
      email: email || null,
      domain: fields.companyDomain,
      first: fields.firstName,
      last: fields.lastName,
    })?.id ?? null
  );
}
