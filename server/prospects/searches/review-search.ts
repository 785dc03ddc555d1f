import { z } from "zod";
import { employeesText, readEmployees } from "../../../core/prospects/employees.ts";
import { type MisfitReason, profileSchema, type TargetProfile } from "../../../core/prospects/profile.ts";
import { type By, hiddenFrom, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { type Job, jobById } from "../../db/jobs.ts";
import { listNames } from "../../db/lists.ts";
import { sql, transact } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { askVerify } from "../addresses/verify-addresses.ts";
import { listFor } from "../list-for.ts";
import { prospectStore } from "../people/store-prospect.ts";
import type { FoundFields } from "./search.ts";

export type FoundShow = "fits" | "misfits" | "known" | "kept";

export interface FoundRow {
  id: number;
  name: string;
  found: FoundFields;
  /** The company's employees, "51–200"; "" if nothing is known. */
  size: string;
  raw: { firstName: string; lastName: string; title: string; company: string };
  fits: boolean;
  reason: string | null;
  detail: string;
  keptId: number | null;
  known: { id: number; owner: string | null; lastWrittenAt: number | null; lists: string | null } | null;
}

export interface Search {
  id: number;
  profileId: number | null;
  profileName: string;
  definition: TargetProfile;
  job: Job | null;
  counts: Record<FoundShow, number> & { withoutAddress: number };
  reasons: { reason: MisfitReason; count: number }[];
}

const SHOWS: Record<FoundShow, string> = {
  fits: "fits = 1 AND known_id IS NULL AND kept_id IS NULL",
  misfits: "fits = 0 AND known_id IS NULL AND kept_id IS NULL",
  known: "known_id IS NOT NULL AND kept_id IS NULL",
  kept: "kept_id IS NOT NULL",
};

export function searchById({ db }: App, id: number): Search | null {
  const row = sql(
    db,
    "SELECT id, profile_id AS profileId, profile_name AS profileName, definition, job_id AS jobId FROM searches WHERE id = @id",
  ).get<Omit<Search, "definition" | "job" | "counts" | "reasons"> & { definition: string; jobId: number }>({
    id,
  });
  if (!row) return null;
  const { jobId, definition, ...rest } = row;
  const counts = sql(
    db,
    `SELECT ${Object.entries(SHOWS)
      .map(([show, where]) => `coalesce(sum(${where}), 0) AS ${show}`)
      .join(", ")},
       coalesce(sum(${SHOWS.fits} AND json_extract(fields, '$.email') = ''), 0) AS withoutAddress
     FROM found_people WHERE search_id = @id`,
  ).get<Search["counts"]>({ id }) as Search["counts"];
  const reasons = sql(
    db,
    `SELECT reason, count(*) AS count FROM found_people WHERE search_id = @id AND ${SHOWS.misfits}
     GROUP BY reason ORDER BY count(*) DESC`,
  ).all<Search["reasons"][number]>({ id });
  return {
    ...rest,
    definition: profileSchema.parse(JSON.parse(definition)),
    job: jobById(db, jobId),
    counts,
    reasons,
  };
}

export const FOUND_PAGE = 50;

/** One page of what a search found, as somebody sees it. */
export function foundPeople(app: App, by: By, searchId: number, show: FoundShow, page: number): FoundRow[] {
  return sql(
    app.db,
    `SELECT f.id, f.name, f.fields, f.raw, f.fits, f.reason, f.detail, f.kept_id AS keptId, f.known_id AS knownId,
       u.name AS owner, ${listNames("f.known_id", ", ")} AS lists,
       (SELECT max(sent_at) FROM touches t WHERE t.prospect_id = f.known_id AND t.kind != 'test') AS lastWrittenAt
     FROM found_people f LEFT JOIN prospects k ON k.id = f.known_id LEFT JOIN users u ON u.id = k.owner_id
     WHERE f.search_id = @searchId AND ${SHOWS[show].replace(/\b(fits|known_id|kept_id)\b/g, "f.$1")}
     ORDER BY f.id LIMIT ${FOUND_PAGE} OFFSET @offset`,
  )
    .all<Record<string, unknown>>({
      searchId,
      offset: page * FOUND_PAGE,
      hidden: JSON.stringify([...hiddenFrom(app, by, "list.see")]),
    })
    .map((row) => {
      const raw = JSON.parse(row.raw as string);
      return {
        id: row.id as number,
        name: row.name as string,
        found: JSON.parse(row.fields as string) as FoundFields,
        size: sizeText(row.fields as string),
        raw: {
          firstName: raw.firstName,
          lastName: raw.lastName,
          title: raw.title,
          company: raw.company.name,
        },
        fits: row.fits === 1,
        reason: row.reason as string | null,
        detail: row.detail as string,
        keptId: row.keptId as number | null,
        known:
          row.knownId === null
            ? null
            : {
                id: row.knownId as number,
                owner: row.owner as string | null,
                lastWrittenAt: row.lastWrittenAt as number | null,
                lists: row.lists as string | null,
              },
      };
    });
}

const keepForm = z.object({
  searchId: z.coerce.number().int(),
  listName: z.string().trim().min(1, "Name the list that they go into.").max(80),
  /** Everybody who fits and is not known, or only these. */
  ids: z.array(z.coerce.number().int()).nullable(),
});

export interface Kept {
  listId: number;
  kept: number;
}

/** Keeps found people on a list; those who are known are put on it as they are. Their addresses are then verified. */
export function keepFound(app: App, userId: number | null, input: unknown): Outcome<Kept> {
  const read = keepForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { searchId, listName, ids } = read.data;
  const { clock } = app;
  const now = clock.now();
  return transact(app, (app): Outcome<Kept> => {
    const { db } = app;
    const no = mayNot(app, userId, "search.keep", searchId);
    if (no) return no;
    const rows = sql(
      db,
      `SELECT id, fields, known_id AS knownId FROM found_people WHERE search_id = @searchId AND kept_id IS NULL
           AND CASE WHEN @ids IS NULL THEN fits = 1 AND known_id IS NULL ELSE id IN (SELECT value FROM json_each(@ids)) END
         ORDER BY id`,
    ).all<{ id: number; fields: string; knownId: number | null }>({
      searchId,
      ids: ids ? JSON.stringify(ids) : null,
    });
    if (rows.length === 0) return refused({ form: "Nobody is left to keep. Choose people first." });
    const list = listFor(app, userId, listName);
    if (!list.ok) return list;
    const listId = list.value;
    sql(
      db,
      `UPDATE lists SET profile_id = coalesce(profile_id, (SELECT profile_id FROM searches WHERE id = @searchId))
         WHERE id = @listId`,
    ).run({ searchId, listId });
    const store = prospectStore(db, {
      origin: "directory",
      originId: searchId,
      ownerId: userId,
      listId,
      importId: null,
      now,
    });
    const enlist = sql(
      db,
      "INSERT INTO list_prospects (list_id, prospect_id) VALUES (@listId, @id) ON CONFLICT DO NOTHING",
    );
    const mark = sql(db, "UPDATE found_people SET kept_id = @prospectId WHERE id = @id");
    const describe = sql(
      db,
      `UPDATE companies SET industry = @industry, employees = @employees, employees_to = @employeesTo, region = @region, about = @about
         WHERE domain = @domain AND industry = ''`,
    );
    for (const { id, fields, knownId } of rows) {
      const found = JSON.parse(fields) as FoundFields;
      const prospectId = knownId ?? store({ ...found, custom: {} }).id;
      if (knownId !== null) enlist.run({ listId, id: knownId });
      mark.run({ id, prospectId });
      const size = readEmployees(found.company.employees);
      describe.run({
        ...found.company,
        employees: size?.from ?? null,
        employeesTo: size?.to ?? null,
        domain: found.fields.companyDomain,
      });
    }
    askVerify(app, userId, { listId });
    return done({ listId, kept: rows.length });
  });
}

/** The latest searches, with how many fit and how many were kept. */
export function latestSearches({ db }: App) {
  return sql(
    db,
    `SELECT s.id, s.profile_name AS name, s.at,
       (SELECT count(*) FROM found_people f WHERE f.search_id = s.id AND f.fits = 1) AS fits,
       (SELECT count(*) FROM found_people f WHERE f.search_id = s.id AND f.kept_id IS NOT NULL) AS kept
     FROM searches s ORDER BY s.id DESC LIMIT 6`,
  ).all<{ id: number; name: string; at: number; fits: number; kept: number }>([]);
}

function sizeText(fields: string): string {
  const size = readEmployees((JSON.parse(fields) as FoundFields).company.employees);
  return size ? employeesText(size) : "";
}
