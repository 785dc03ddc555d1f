/** Whoever sends: a mailbox, or an account of a social network. What it may do on a day, and at which moments of it. */
import {
  type DayNumber,
  instantOnDay,
  MINUTE,
  minutesOf,
  type SendingHours,
  weekdayOn,
} from "../calendar.ts";
import { seeded } from "../random.ts";

/** The rising daily limit of a young mailbox, and of one that comes back from a rest. */
export interface Ramp {
  /** Emails on the first day. */
  start: number;
  /** More on each day on which it sends. */
  step: number;
  /** Days before today on which it has sent since it began to rise. */
  daysSoFar: number;
}

export interface Sender {
  id: number;
  /** The most on one of its days; a ramp rises to it. */
  dailyLimit: number;
  ramp?: Ramp | null;
  /** The most within any sixty minutes. */
  hourlyLimit?: number | null;
  /** Minutes between two, drawn anew for each. */
  gapMinutes: { least: number; most: number };
  /** Where its owner is: its limit counts this zone's days. */
  zone: string;
  /** Hours of its own, besides those of the prospects. */
  hours?: SendingHours | null;
  /** Who runs its mail, as the registrable domain of its mail exchanger; null if unknown. */
  provider?: string | null;
  sentToday: number;
  /** Of these, follow-ups. */
  followUpsToday?: number;
  lastSentAt: number | null;
  /** When it sent in the last hour; needed with an hourly limit. */
  sentLately?: readonly number[];
  /** It rests until then; null if it does not. */
  restsUntil: number | null;
}

/** The most on the day that comes after `daysSent` days of sending since the ramp began. */
export function limitAfter(
  { dailyLimit, ramp }: Pick<Sender, "dailyLimit" | "ramp">,
  daysSent: number,
): number {
  return ramp ? Math.min(dailyLimit, ramp.start + ramp.step * daysSent) : dailyLimit;
}

/** The most today. */
export const limitToday = (sender: Pick<Sender, "dailyLimit" | "ramp">): number =>
  limitAfter(sender, sender.ramp?.daysSoFar ?? 0);

/**
 * The moments of a day at which a sender may send: a grid whose lines are the mean gap apart, each moved by chance, so that
 * two neighbours are never closer than the shortest gap nor further than the longest. A moment belongs to (sender, day,
 * ordinal) alone; so a late or a lost email moves no other. Null: without a gap every moment serves.
 */
export function momentsOf(
  sender: Pick<Sender, "id" | "gapMinutes" | "zone">,
  day: DayNumber,
): number[] | null {
  const { least, most } = sender.gapMinutes;
  const mean = ((least + most) / 2) * MINUTE;
  if (mean <= 0) return null;
  const draw = seeded("moments", sender.id, day);
  const from = instantOnDay(day, 0, sender.zone);
  const to = instantOnDay(day + 1, 0, sender.zone);
  const sway = ((most - least) / 2) * MINUTE;
  const moments: number[] = [];
  for (let line = from + draw() * mean; line < to - sway / 2; line += mean)
    moments.push(Math.round(line + (draw() - 0.5) * sway));
  return moments;
}

/** A sender's own open time on a day of its zone; null if it is closed, all day without hours of its own. */
export function ownHours({ hours, zone }: Sender, day: DayNumber): { opens: number; closes: number } | null {
  if (!hours) return { opens: instantOnDay(day, 0, zone), closes: instantOnDay(day + 1, 0, zone) };
  return hours.days.includes(weekdayOn(day))
    ? {
        opens: instantOnDay(day, minutesOf(hours.opens), zone),
        closes: instantOnDay(day, minutesOf(hours.closes), zone),
      }
    : null;
}
