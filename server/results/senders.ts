/** How those who send do, week by week: mailboxes, their domains and providers, and since when one is no longer what it was. */
import { DAY, dayNumberOf, startOfDay, textOfDay } from "../../core/calendar.ts";
import { driftOf } from "../../core/results/drift.ts";
import { mondayOf, WEEKS_SHOWN } from "../../core/results/weeks.ts";
import type { App } from "../app.ts";
import { keptCount } from "../db/kept-counts.ts";
import { type Db, sql } from "../db/open.ts";
import { outcomesTruth } from "../db/outcomes.ts";
import type { Look } from "./look.ts";

export const SENDERS_BY = ["mailbox", "domain", "provider"] as const;
export type SendersBy = (typeof SENDERS_BY)[number];

/** As the address says; what it does not know is the mailboxes. */
export const sendersBy = (asked: unknown): SendersBy =>
  SENDERS_BY.find((each) => each === asked) ?? "mailbox";

export interface SenderLine {
  /** An address, a domain, or who hosts it; "" where that is not known. */
  name: string;
  /** Null of several. */
  mailboxId: number | null;
  /** By week, each by its Monday, the oldest first: emails made, those that came back, and those that were answered. */
  weeks: { day: string; made: number; bounced: number; answered: number }[];
  made: number;
  bounced: number;
  answered: number;
  drift: SenderDrift | null;
}

/** Since the week of this day more come back, or fewer answer, than before. */
export interface SenderDrift {
  of: "bounced" | "answered";
  since: string;
}

/** Odds of what is looked for against what was usual, and how much has to come together: about one false alarm in two years of weeks. */
const BOUNCED = { oddsTimes: 2.5, threshold: 4 };
const SILENT = { oddsTimes: 2, threshold: 5 };
/** What is usual, as far as so few weeks can tell. */
const USUAL_WEEKS = 4;
const LEAST_USUAL = 80;
const FEW_BOUNCES = 0.01;

interface Mailbox {
  mailboxId: number;
  userId: number;
  address: string;
  provider: string;
}

/** `look`: of whose mailboxes, or of which; whom they wrote to narrows nothing here. */
export function senders(
  app: App,
  zone: string,
  by: SendersBy = "mailbox",
  { rep, mailbox: only }: Pick<Look, "rep" | "mailbox"> = {},
): SenderLine[] {
  const { db, clock } = app;
  const first = mondayOf(dayNumberOf(clock.now(), zone)) - 7 * (WEEKS_SHOWN - 1);
  const mailboxes = sql(
    db,
    "SELECT id AS mailboxId, user_id AS userId, address, provider FROM mailboxes WHERE removed_at IS NULL ORDER BY address",
  ).all<Mailbox>([]);
  const truth = `${first} ${zone} ${outcomesTruth(db)} ${mailboxes.map(({ mailboxId }) => mailboxId).join(" ")}`;
  const sent = keptCount(db, "sent by week", truth, () => sentByWeek(db, mailboxes, first, zone));
  const all = summedBySteps([...sent.values()].flat(2));
  const lines = new Map<string, { line: SenderLine; weeks: BySteps[] }>();
  for (const mailbox of mailboxes) {
    if (rep !== undefined && mailbox.userId !== rep) continue;
    if (only !== undefined && mailbox.mailboxId !== only) continue;
    const name = nameOf(mailbox, by);
    const known = lines.get(name);
    const own = sent.get(mailbox.mailboxId) ?? [];
    const weeks = own.map((week, nth) => summedBySteps([...week, ...(known?.weeks[nth]?.values() ?? [])]));
    lines.set(name, {
      weeks,
      line: {
        ...{ name, mailboxId: by === "mailbox" ? mailbox.mailboxId : null },
        weeks: weeks.map((week, nth) => ({ day: textOfDay(first + 7 * nth), ...together(week.values()) })),
        ...together(weeks.flatMap((week) => [...week.values()])),
        drift: null,
      },
    });
  }
  return [...lines.values()]
    .filter(({ line }) => line.made > 0)
    .map(({ line, weeks }) => ({ ...line, drift: driftOfWeeks(line.weeks, weeks, all) }));
}

interface Sums {
  made: number;
  bounced: number;
  answered: number;
}

/** What one step of one sequence came to. */
interface StepSums extends Sums {
  step: string;
}
type BySteps = ReadonlyMap<string, StepSums>;

function together(all: Iterable<Sums>): Sums {
  const sum = { made: 0, bounced: 0, answered: 0 };
  for (const { made, bounced, answered } of all) {
    sum.made += made;
    sum.bounced += bounced;
    sum.answered += answered;
  }
  return sum;
}

function summedBySteps(all: Iterable<StepSums>): Map<string, StepSums> {
  const sums = new Map<string, StepSums>();
  for (const each of all) {
    const known = sums.get(each.step);
    sums.set(each.step, { step: each.step, ...together(known ? [known, each] : [each]) });
  }
  return sums;
}

/** By mailbox, each week's emails by their steps, the oldest first. */
function sentByWeek(
  db: Db,
  mailboxes: readonly Mailbox[],
  first: number,
  zone: string,
): Map<number, StepSums[][]> {
  const from = startOfDay(first * DAY + DAY / 2, zone);
  const week = sql(
    db,
    `SELECT sequence_id || ' ' || step_id AS step, count(*) AS made, count(bounced_at) AS bounced, count(answered_at) AS answered
     FROM touch_outcomes WHERE mailbox_id = @mailboxId AND at >= @from AND at < @from + ${7 * DAY} GROUP BY sequence_id, step_id`,
  );
  return new Map(
    mailboxes.map(({ mailboxId }) => [
      mailboxId,
      Array.from({ length: WEEKS_SHOWN }, (_, nth) =>
        week.all<StepSums>({ mailboxId, from: from + nth * 7 * DAY }),
      ),
    ]),
  );
}

function nameOf({ address, provider }: Mailbox, by: SendersBy): string {
  if (by === "mailbox") return address;
  return by === "domain" ? address.slice(address.lastIndexOf("@") + 1) : provider;
}

/** The mailboxes that drift, as far as today tells. */
export function drifts(app: App, zone: string): (SenderDrift & { mailboxId: number; address: string })[] {
  const today = dayNumberOf(app.clock.now(), zone);
  return keptCount(app.db, "drifts", `${today}`, () =>
    senders(app, zone).flatMap(({ mailboxId, name, drift }) =>
      drift && mailboxId !== null ? [{ ...drift, mailboxId, address: name }] : [],
    ),
  );
}

/** Of fewer emails by others a step's rate is not told. */
const ENOUGH_BY_OTHERS = 40;

/**
 * Against the first weeks in which anything was sent; the last week's answers are still on their way. That fewer answer follow-ups
 * than first emails is no drift: what is expected of a week is what the other senders' emails of the same steps brought.
 */
function driftOfWeeks(
  all: SenderLine["weeks"],
  bySteps: readonly BySteps[],
  everybodys: BySteps,
): SenderDrift | null {
  const own = summedBySteps(bySteps.flatMap((week) => [...week.values()]));
  const weeks = all
    .map((week, nth) => ({ ...week, expected: expectedOf(bySteps[nth] ?? new Map(), own, everybodys) }))
    .filter(({ made }) => made > 0);
  const before = weeks.slice(0, USUAL_WEEKS);
  const usual = together(before);
  if (usual.made < LEAST_USUAL) return null;
  const later = weeks.slice(USUAL_WEEKS);
  const dayOf = (nth: number) => later[nth]?.day ?? "";
  const bounced = driftOf(
    later.map((week) => ({ part: week.bounced, whole: week.made })),
    { usual: Math.max(FEW_BOUNCES, usual.bounced / usual.made), ...BOUNCED },
  );
  if (bounced.alarmAt !== null) return { of: "bounced", since: dayOf(bounced.since ?? bounced.alarmAt) };
  if (usual.answered === 0) return null;
  /** How this sender did against the others while all was well. */
  const share =
    usual.answered /
    Math.max(
      1,
      before.reduce((sum, { expected }) => sum + (expected ?? 0), 0),
    );
  const silent = driftOf(
    later
      .filter(({ day }) => day !== all.at(-1)?.day)
      .map(({ made, answered, expected }) => ({
        part: made - answered,
        whole: made,
        usual: 1 - Math.min(0.9, expected === null ? usual.answered / usual.made : (share * expected) / made),
      })),
    { usual: 1 - usual.answered / usual.made, ...SILENT },
  );
  return silent.alarmAt === null ? null : { of: "answered", since: dayOf(silent.since ?? silent.alarmAt) };
}

/** How many answers the others' emails of the same steps would have brought; null where too few others sent them. */
function expectedOf(week: BySteps, own: BySteps, everybodys: BySteps): number | null {
  let expected = 0;
  for (const { step, made } of week.values()) {
    const others = (everybodys.get(step)?.made ?? 0) - (own.get(step)?.made ?? 0);
    if (others < ENOUGH_BY_OTHERS) return null;
    expected += (made * ((everybodys.get(step)?.answered ?? 0) - (own.get(step)?.answered ?? 0))) / others;
  }
  return expected;
}
