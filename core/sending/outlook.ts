/** What a plan comes to: by mailbox and day, and for those who wait. What the Sending page shows and compares. */
import { type DayNumber, dayNumberOf, textOfDay, weekdayOn } from "../calendar.ts";
import type { Plan, PlanInput } from "./plan-parts.ts";
import { limitAfter } from "./sender.ts";
import { isNewcomer } from "./what-if.ts";

export interface OutlookCell {
  planned: number;
  /** The most that day, a ramp included; 0 while it rests. */
  limit: number;
}

export interface Outlook {
  /** Local days "YYYY-MM-DD", today first, weekends without email left out. */
  days: string[];
  /** By mailbox, one cell for each of `days`. */
  cells: Record<number, OutlookCell[]>;
  /** Over the whole plan, for a drawing. */
  perDay: { day: string; firsts: number; followUps: number }[];
  total: number;
  today: number;
  /** When the last of those within reach gets their first email; null if there is none. */
  lastFirstAt: number | null;
  /** When the last of the people of a what-if gets their first email, and how many of them get none within the plan. */
  lastNewAt: number | null;
  newBeyondPlan: number;
  /** People in line for a first email, and those of them for whom the plan has no day. */
  waitingForFirst: number;
  beyondPlan: number;
  /** Follow-ups that go a day or more after they are due. */
  lateFollowUps: number;
  /** People whose thread lies in a mailbox that does not send. */
  waitingThreads: number;
  /** The first day on which not every mailbox is full; null if all are to the end. */
  roomOn: string | null;
}

const LATE = 24 * 3_600_000;

/** Days are those of `zone`; `shown` of them in the grid. */
export function outlook(input: PlanInput, { touches }: Plan, zone: string, shown = 12): Outlook {
  const { now, senders, journeys } = input;
  const counts = new Map<DayNumber, Map<number, number>>();
  const kinds = new Map<DayNumber, { firsts: number; followUps: number }>();
  const due = new Map(journeys.map(({ id, dueAt, ahead }) => [`${id} ${ahead[0]?.id}`, dueAt]));
  let lateFollowUps = 0;
  let lastFirstAt: number | null = null;
  let lastNewAt: number | null = null;
  let firsts = 0;
  let firstsOfNew = 0;
  for (const { at, senderId, followUp, journeyId, stepId } of touches) {
    const day = dayNumberOf(at, zone);
    const perSender = counts.get(day) ?? new Map<number, number>();
    counts.set(day, perSender.set(senderId, (perSender.get(senderId) ?? 0) + 1));
    const kind = kinds.get(day) ?? { firsts: 0, followUps: 0 };
    kinds.set(day, kind);
    if (followUp) {
      kind.followUps++;
      if (at - (due.get(`${journeyId} ${stepId}`) ?? at) >= LATE) lateFollowUps++;
    } else {
      kind.firsts++;
      firsts++;
      lastFirstAt = at;
      if (isNewcomer(journeyId)) {
        lastNewAt = at;
        firstsOfNew++;
      }
    }
  }
  const sending = new Set(senders.map(({ id }) => id));
  const today = dayNumberOf(now, zone);
  const days: DayNumber[] = [];
  for (let day = today; days.length < shown; day++)
    if (day === today || weekdayOn(day) <= 5 || counts.has(day)) days.push(day);
  const cells: Outlook["cells"] = {};
  for (const sender of senders) {
    let sendingDays = sender.ramp?.daysSoFar ?? 0;
    cells[sender.id] = days.map((day) => {
      const planned = counts.get(day)?.get(sender.id) ?? 0;
      const rests = sender.restsUntil !== null && dayNumberOf(sender.restsUntil, zone) > day;
      const limit = rests ? 0 : limitAfter(sender, sendingDays);
      if (planned > 0 || (day === today && sender.sentToday > 0)) sendingDays++;
      return { planned, limit };
    });
  }
  const room = days.find((_, nth) =>
    senders.some(
      ({ id, sentToday }) =>
        (cells[id]?.[nth]?.planned ?? 0) + (nth === 0 ? sentToday : 0) < (cells[id]?.[nth]?.limit ?? 0),
    ),
  );
  const waitingForFirst = journeys.filter(({ followUp }) => !followUp).length;
  return {
    days: days.map(textOfDay),
    cells,
    perDay: [...kinds].sort(([a], [b]) => a - b).map(([day, kind]) => ({ day: textOfDay(day), ...kind })),
    total: touches.length,
    today: [...(counts.get(today)?.values() ?? [])].reduce((a, b) => a + b, 0),
    lastFirstAt,
    lastNewAt,
    newBeyondPlan: journeys.filter(({ id }) => isNewcomer(id)).length - firstsOfNew,
    waitingForFirst,
    beyondPlan: Math.max(0, waitingForFirst - firsts),
    lateFollowUps,
    waitingThreads: journeys.filter(
      ({ followUp, senderIds }) => followUp && !senderIds.some((id) => sending.has(id)),
    ).length,
    roomOn: room === undefined ? null : textOfDay(room),
  };
}
