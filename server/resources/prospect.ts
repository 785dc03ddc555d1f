/** A person as other programs read them. */
import { z } from "zod";
import { STAGES } from "../../core/prospects/stages.ts";
import { VERDICTS } from "../../core/prospects/verdict.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { blockedSql } from "../db/block-list.ts";
import { fieldsIn } from "../db/json.ts";
import { sql } from "../db/open.ts";
import { matching, type ProspectsQuery } from "../prospects/people/list-prospects.ts";
import { at, id, type Listing, pageOf, time, windowOf } from "./listing.ts";

export const prospectSchema = z
  .object({
    id,
    email: z.string().nullable().meta({ description: "Null where none is known." }),
    firstName: z.string(),
    lastName: z.string(),
    company: z.object({ id, name: z.string(), domain: z.string().nullable() }).nullable(),
    title: z.string(),
    city: z.string(),
    country: z.string().meta({ description: "ISO 3166-1 alpha-2, “” where unknown." }),
    timeZone: z.string().nullable().meta({ description: "An IANA name." }),
    phone: z.string().meta({ description: "E.164." }),
    profile: z.string().meta({ description: "The address of their social profile." }),
    stage: z.enum(STAGES),
    owner: z.object({ id, name: z.string() }).nullable(),
    custom: z.record(z.string(), z.string()).meta({ description: "The team's own fields." }),
    verdict: z.enum(VERDICTS).nullable().meta({ description: "Of the address; null: not verified." }),
    isBlocked: z.boolean(),
    journey: z
      .object({
        id,
        sequenceId: id.nullable().meta({ description: "Null for a colleague's own sequence." }),
        state: z.enum(["active", "finished", "stopped"]),
        nextAt: time.nullable(),
        waitReason: z.string().nullable(),
        stopReason: z.string().nullable(),
      })
      .nullable()
      .meta({ description: "Their latest way through a sequence." }),
    addedAt: time,
  })
  .meta({ id: "Prospect" });
export type ProspectResource = z.infer<typeof prospectSchema>;

interface Row {
  id: number;
  email: string | null;
  firstName: string;
  lastName: string;
  companyId: number | null;
  company: string;
  domain: string | null;
  title: string;
  city: string;
  country: string;
  timeZone: string | null;
  phone: string;
  profile: string;
  stage: ProspectResource["stage"];
  ownerId: number | null;
  owner: string | null;
  custom: string;
  verdict: ProspectResource["verdict"];
  blocked: number;
  journeyId: number | null;
  sequenceId: number;
  journeyState: NonNullable<ProspectResource["journey"]>["state"];
  nextAt: number | null;
  waitReason: string | null;
  stopReason: string | null;
  createdAt: number;
}

const SELECT = `SELECT p.id, p.email, p.first_name AS firstName, p.last_name AS lastName, p.company_id AS companyId, p.company,
    c.domain, p.title, p.city, p.country, p.time_zone AS timeZone, p.phone, p.profile, p.stage, p.owner_id AS ownerId, u.name AS owner,
    p.custom, p.verdict, ${blockedSql("p.email")} AS blocked, j.id AS journeyId, j.sequence_id AS sequenceId,
    j.state AS journeyState, j.next_at AS nextAt, j.wait_reason AS waitReason, j.stop_reason AS stopReason, p.created_at AS createdAt
  FROM prospects p LEFT JOIN companies c ON c.id = p.company_id LEFT JOIN users u ON u.id = p.owner_id
    LEFT JOIN journeys j ON j.id = (SELECT max(id) FROM journeys WHERE prospect_id = p.id)`;

const resourceOf =
  (hidden: ReadonlySet<number>) =>
  (row: Row): ProspectResource => ({
    id: row.id,
    email: row.email,
    firstName: row.firstName,
    lastName: row.lastName,
    company: row.companyId === null ? null : { id: row.companyId, name: row.company, domain: row.domain },
    title: row.title,
    city: row.city,
    country: row.country,
    timeZone: row.timeZone,
    phone: row.phone,
    profile: row.profile,
    stage: row.stage,
    owner: row.ownerId === null ? null : { id: row.ownerId, name: row.owner ?? "" },
    custom: fieldsIn(row.custom),
    verdict: row.verdict,
    isBlocked: row.blocked === 1,
    journey:
      row.journeyId === null
        ? null
        : {
            id: row.journeyId,
            sequenceId: hidden.has(row.sequenceId) ? null : row.sequenceId,
            state: row.journeyState,
            nextAt: at(row.nextAt),
            waitReason: row.waitReason,
            stopReason: row.stopReason,
          },
    addedAt: at(row.createdAt),
  });

/** Whom a query of the Prospects page means, piece by piece. */
export function listProspectResources(app: App, by: By, query: ProspectsQuery, listing: Listing) {
  const { where, values } = matching(app, by, query);
  const window = windowOf(listing, "p.id");
  // The ids first: only of the few that are answered the rest is looked up.
  const rows = sql(
    app.db,
    `${SELECT} WHERE p.id IN (SELECT p.id FROM prospects p WHERE ${where} AND ${window.where} ORDER BY ${window.order})
     ORDER BY p.id ${listing.order}`,
  ).all<Row>({ ...values, ...window.values });
  return pageOf(rows, listing, resourceOf(hiddenFrom(app, by, "sequence.see")));
}

/** One person, by their number or that of an entry that was merged into theirs; null if there is nobody. */
export function prospectResource(app: App, by: By, prospectId: number): ProspectResource | null {
  const row = sql(
    app.db,
    `${SELECT} WHERE p.id = (SELECT coalesce(merged_into, id) FROM prospects WHERE id = @prospectId) AND p.live = 1`,
  ).get<Row>({ prospectId });
  return row ? resourceOf(hiddenFrom(app, by, "sequence.see"))(row) : null;
}
