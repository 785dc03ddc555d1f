/** What is known of the people of a look, for "Who answers", and when what they got was sent, for "Hours". */
import { hourOf, weekdayOf } from "../../core/calendar.ts";
import { readTitle } from "../../core/prospects/titles/read-title.ts";
import { creditOf, GREEN_AT, type Green } from "../../core/results/credit.ts";
import type { Attribute, Someone } from "../../core/results/groups.ts";
import type { Sent } from "../../core/results/hours.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import type { Material } from "./look.ts";

/** Upper ends of the sizes of companies, in people. */
const SIZES = [10, 50, 200, 1_000] as const;

const sizeOf = (employees: number): string => {
  const upper = SIZES.find((most) => employees <= most);
  const lower = SIZES.findLast((most) => employees > most);
  return upper === undefined
    ? `over ${SIZES.at(-1)?.toLocaleString("en-GB")}`
    : `${lower ? lower + 1 : 1} to ${upper.toLocaleString("en-GB")}`;
};

/** What kind of job a title names: "head of collections" and "registrar" in whatever language. */
function jobOf(title: string): string {
  const job = readTitle(title).jobs.find(({ isNotNow }) => !isNotNow);
  return job ? [job.fields[0], job.role?.name].filter(Boolean).join(" ") : "";
}

interface Known {
  journeyId: number;
  title: string;
  country: string;
  industry: string | null;
  employees: number | null;
  source: string;
  verdict: string | null;
  provider: string | null;
}

interface OnList {
  journeyId: number;
  listId: number;
  name: string;
  profileId: number | null;
  profile: string | null;
}

/** Everybody who was reached, and whether it came to `green`. */
export function someoneOf(
  app: App,
  by: By,
  sequenceId: number,
  { starts }: Material,
  green: Green,
): Someone[] {
  const { db } = app;
  const known = new Map(
    sql(
      db,
      `SELECT j.id AS journeyId, p.title, p.country, c.industry, c.employees, p.origin AS source, p.verdict,
         (SELECT h.provider FROM mail_hosts h WHERE h.domain = substr(p.email, instr(p.email, '@') + 1)) AS provider
       FROM journeys j JOIN prospects p ON p.id = j.prospect_id LEFT JOIN companies c ON c.id = p.company_id
       WHERE j.sequence_id = @sequenceId`,
    )
      .all<Known>({ sequenceId })
      .map((row) => [row.journeyId, row]),
  );
  const hidden = hiddenFrom(app, by, "list.see");
  const lists = new Map<number, string[]>();
  const profiles = new Map<number, Set<string>>();
  const hiddenProfiles = hiddenFrom(app, by, "profile.use");
  for (const { journeyId, listId, name, profileId, profile } of sql(
    db,
    `SELECT j.id AS journeyId, l.id AS listId, l.name, f.id AS profileId, f.name AS profile
     FROM journeys j JOIN list_prospects lp ON lp.prospect_id = j.prospect_id
     JOIN lists l ON l.id = lp.list_id LEFT JOIN profiles f ON f.id = l.profile_id WHERE j.sequence_id = @sequenceId`,
  ).all<OnList>({ sequenceId })) {
    if (hidden.has(listId)) continue;
    lists.set(journeyId, [...(lists.get(journeyId) ?? []), name]);
    if (profile !== null && profileId !== null && !hiddenProfiles.has(profileId))
      profiles.set(journeyId, new Set(profiles.get(journeyId)).add(profile));
  }
  return starts
    .filter(({ reachedAt }) => reachedAt !== null)
    .map((start): Someone => {
      const row = known.get(start.id);
      const one = (value: string | null | undefined) => (value ? [value] : []);
      const values: Record<Attribute, string[]> = {
        title: one(row && jobOf(row.title)),
        seniority: one(row?.title ? readTitle(row.title).rank : null),
        industry: one(row?.industry),
        size: one(row?.employees ? sizeOf(row.employees) : null),
        country: one(row?.country),
        list: lists.get(start.id) ?? [],
        source: one(row?.source),
        profile: [...(profiles.get(start.id) ?? [])],
        verdict: one(row?.verdict),
        provider: one(row?.provider),
      };
      return { values, isHit: start[GREEN_AT[green]] !== null };
    });
}

/** Each email that got through, by when it was there where the prospect is, and whether they answered it. */
export function sentAt(
  app: App,
  sequenceId: number,
  zone: string,
  { starts, touches: byStart }: Material,
  green: Green,
): Sent[] {
  const zones = new Map(
    sql(
      app.db,
      `SELECT j.id, p.time_zone AS zone FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE j.sequence_id = @sequenceId`,
    )
      .all<{ id: number; zone: string | null }>({ sequenceId })
      .map((row) => [row.id, row.zone ?? zone]),
  );
  return starts.flatMap((start) => {
    const own = byStart.get(start.id) ?? [];
    const there = zones.get(start.id) ?? zone;
    const owed = creditOf(start, own, green, "answered")[0]?.touch;
    return own
      .filter(({ reachedAt, kind }) => reachedAt !== null && (kind === "email" || kind === "approved_email"))
      .map((touch) => ({
        weekday: weekdayOf(touch.at, there),
        hour: Math.floor(hourOf(touch.at, there)),
        isHit: touch === owed,
      }));
  });
}
