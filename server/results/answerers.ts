/** What is known of the people of a look, for "Who answers", and when what they got was sent, for "Hours". */
import { weekdayAndHour } from "../../core/calendar.ts";
import { readTitle } from "../../core/prospects/titles/read-title.ts";
import { creditOf, GREEN_AT, type Green } from "../../core/results/credit.ts";
import type { Attribute, Someone } from "../../core/results/groups.ts";
import type { Sent } from "../../core/results/hours.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { type Material, rowsOf } from "./look.ts";

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

/** By start, what is known of whom it was. */
export type Known = ReadonlyMap<number, KnownRow>;
type KnownRow = [
  ...[journeyId: number, title: string, country: string, industry: string | null, employees: number | null],
  ...[source: string, verdict: string | null, provider: string | null, zone: string | null],
];

export const knownOf = (db: Db, sequenceId: number): Known =>
  new Map(
    rowsOf<KnownRow>(
      db,
      [
        ...["j.id", "p.title", "p.country", "c.industry", "c.employees", "p.origin", "p.verdict"],
        "(SELECT h.provider FROM mail_hosts h WHERE h.domain = substr(p.email, instr(p.email, '@') + 1))",
        "p.time_zone",
      ],
      `journeys j JOIN prospects p ON p.id = j.prospect_id LEFT JOIN companies c ON c.id = p.company_id
       WHERE j.sequence_id = @sequenceId`,
      { sequenceId },
    ).map((row) => [row[0], row]),
  );

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
  known: Known,
  green: Green,
): Someone[] {
  const { db } = app;
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
  const jobs = new Map<string, string>();
  const kindOfJob = (title: string): string => {
    const read = jobs.get(title) ?? jobOf(title);
    jobs.set(title, read);
    return read;
  };
  const one = (value: string | null | undefined) => (value ? [value] : NONE);
  return starts
    .filter(({ reachedAt }) => reachedAt !== null)
    .map((start): Someone => {
      const [, title = "", country, industry, employees, source, verdict, provider] =
        known.get(start.id) ?? [];
      const values: Record<Attribute, readonly string[]> = {
        title: one(kindOfJob(title)),
        seniority: one(title && readTitle(title).rank),
        industry: one(industry),
        size: one(employees ? sizeOf(employees) : null),
        country: one(country),
        list: lists.get(start.id) ?? NONE,
        source: one(source),
        profile: [...(profiles.get(start.id) ?? NONE)],
        verdict: one(verdict),
        provider: one(provider),
      };
      return { values, isHit: start[GREEN_AT[green]] !== null };
    });
}

const NONE: readonly string[] = [];

/** Each email that got through, by when it was there where the prospect is, and whether they answered it. */
export function sentAt(
  { starts, touches: byStart }: Material,
  known: Known,
  zone: string,
  green: Green,
): Sent[] {
  return starts.flatMap((start) => {
    const own = byStart.get(start.id) ?? [];
    const there = known.get(start.id)?.[8] ?? zone;
    const owed = creditOf(start, own, green, "answered")[0]?.touch;
    return own
      .filter(({ isReached, kind }) => isReached && (kind === "email" || kind === "approved_email"))
      .map((touch) => ({ ...weekdayAndHour(touch.at, there), isHit: touch === owed }));
  });
}
