/** How those who send do, week by week: mailboxes, their domains and providers, and since when one is no longer what it was. */
import { DAY, dayNumberOf, startOfDay, textOfDay } from "../../core/calendar.ts";
import { driftOf } from "../../core/results/drift.ts";
import { mondayOf, WEEKS_SHOWN } from "../../core/results/weeks.ts";
import type { App } from "../app.ts";
import { keptCount } from "../db/kept-counts.ts";
import { sql } from "../db/open.ts";
import { keepOutcomes } from "../db/outcomes.ts";

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
  address: string;
  provider: string;
}

export function senders(app: App, zone: string, by: SendersBy = "mailbox"): SenderLine[] {
  const { db, clock } = app;
  keepOutcomes(db);
  const first = mondayOf(dayNumberOf(clock.now(), zone)) - 7 * (WEEKS_SHOWN - 1);
  const from = startOfDay(first * DAY + DAY / 2, zone);
  const mailboxes = sql(
    db,
    "SELECT id AS mailboxId, address, provider FROM mailboxes WHERE removed_at IS NULL ORDER BY address",
  ).all<Mailbox>([]);
  // Week by week: grouping what is read in order would sort it once more.
  const weekOf = sql(
    db,
    `SELECT count(*) AS made, count(bounced_at) AS bounced, count(answered_at) AS answered
     FROM touch_outcomes WHERE mailbox_id = @mailboxId AND at >= @from AND at < @from + ${7 * DAY}`,
  );
  const lines = new Map<string, SenderLine>();
  for (const mailbox of mailboxes) {
    const name = nameOf(mailbox, by);
    const line = lines.get(name) ?? {
      ...{ name, mailboxId: by === "mailbox" ? mailbox.mailboxId : null, made: 0, bounced: 0, answered: 0 },
      weeks: Array.from({ length: WEEKS_SHOWN }, (_, week) => ({
        ...{ day: textOfDay(first + 7 * week), made: 0, bounced: 0, answered: 0 },
      })),
      drift: null,
    };
    lines.set(name, line);
    for (const [nth, week] of line.weeks.entries()) {
      const own = weekOf.get<Record<"made" | "bounced" | "answered", number>>({
        mailboxId: mailbox.mailboxId,
        from: from + nth * 7 * DAY,
      });
      for (const figure of ["made", "bounced", "answered"] as const) {
        week[figure] += own?.[figure] ?? 0;
        line[figure] += own?.[figure] ?? 0;
      }
    }
  }
  return [...lines.values()]
    .filter(({ made }) => made > 0)
    .map((line) => ({ ...line, drift: driftOfWeeks(line.weeks) }));
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

/** Against the first weeks in which anything was sent; the last week's answers are still on their way. */
function driftOfWeeks(all: SenderLine["weeks"]): SenderDrift | null {
  const weeks = all.filter(({ made }) => made > 0);
  const before = weeks.slice(0, USUAL_WEEKS);
  const made = before.reduce((sum, week) => sum + week.made, 0);
  if (made < LEAST_USUAL) return null;
  const later = weeks.slice(USUAL_WEEKS);
  const dayOf = (nth: number) => later[nth]?.day ?? "";
  const bounced = driftOf(
    later.map((week) => ({ part: week.bounced, whole: week.made })),
    { usual: Math.max(FEW_BOUNCES, before.reduce((sum, week) => sum + week.bounced, 0) / made), ...BOUNCED },
  );
  if (bounced.alarmAt !== null) return { of: "bounced", since: dayOf(bounced.since ?? bounced.alarmAt) };
  const answered = before.reduce((sum, week) => sum + week.answered, 0) / made;
  if (answered === 0) return null;
  const silent = driftOf(
    later
      .filter(({ day }) => day !== all.at(-1)?.day)
      .map((week) => ({ part: week.made - week.answered, whole: week.made })),
    { usual: 1 - answered, ...SILENT },
  );
  return silent.alarmAt === null ? null : { of: "answered", since: dayOf(silent.since ?? silent.alarmAt) };
}
