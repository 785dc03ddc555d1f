/**
 * Judges sending by nothing but what the mail servers received: who got what from where and when. It shares no code with the
 * plan, so that the two cannot be wrong alike.
 */
import { DateTime } from "luxon";
import type { Delivered } from "./world.ts";

export interface AuditedMailbox {
  address: string;
  zone: string;
  dailyLimit: number;
  hourlyLimit: number | null;
  /** Minutes. */
  gapLeast: number;
  /** First day's limit and what it rises by; null: it does not. */
  ramp: { start: number; step: number } | null;
}

export interface AuditedPerson {
  address: string;
  zone: string;
  /** Local days on which nothing may reach them. */
  holidays: readonly string[];
  /** Nothing may reach them after this; null: they never stopped. */
  stoppedAt: number | null;
  /** Subjects that they are to get, in order, if nothing stops them. */
  steps: readonly string[];
}

export interface AuditRules {
  days: readonly number[];
  opens: string;
  closes: string;
  newADay: number | null;
  perHour: number | null;
  domainADay: number | null;
  daysBetween: number;
}

const HOUR = 3_600_000;
const local = (at: number, zone: string) => DateTime.fromMillis(at, { zone });

/** What was done wrong, in words; empty if nothing was. */
export function audit(
  deliveries: readonly Delivered[],
  mailboxes: readonly AuditedMailbox[],
  people: readonly AuditedPerson[],
  rules: AuditRules,
): string[] {
  const wrong: string[] = [];
  const say = (words: string, { at, recipient }: Delivered) =>
    wrong.push(`${new Date(at).toISOString()} ${recipient}: ${words}`);
  const sorted = deliveries.toSorted((a, b) => a.at - b.at);
  const own = (address: string) => sorted.filter(({ sender }) => sender === address);

  for (const mailbox of mailboxes) {
    const perDay = new Map<string, Delivered[]>();
    const mails = own(mailbox.address);
    for (const [nth, mail] of mails.entries()) {
      const day = local(mail.at, mailbox.zone).toISODate() as string;
      perDay.set(day, [...(perDay.get(day) ?? []), mail]);
      const before = mails[nth - 1];
      if (before && mail.at - before.at < mailbox.gapLeast * 60_000)
        say("too soon after the one before", mail);
      const { hourlyLimit } = mailbox;
      const earlier = hourlyLimit === null ? undefined : mails[nth - hourlyLimit];
      if (earlier && mail.at - earlier.at < HOUR) say("above the hour's limit", mail);
    }
    for (const [nth, mails] of [...perDay.values()].entries()) {
      const { ramp, dailyLimit } = mailbox;
      const limit = ramp ? Math.min(dailyLimit, ramp.start + nth * ramp.step) : dailyLimit;
      if (mails.length > limit) say(`${mails.length} on a day that allows ${limit}`, mails[0] as Delivered);
    }
  }

  const byPerson = new Map<string, Delivered[]>();
  for (const mail of sorted) byPerson.set(mail.recipient, [...(byPerson.get(mail.recipient) ?? []), mail]);
  const firsts = new Map<string, number>();
  for (const person of people) {
    const mails = byPerson.get(person.address) ?? [];
    for (const [nth, mail] of mails.entries()) {
      const there = local(mail.at, person.zone);
      const day = there.toISODate() as string;
      const time = there.toFormat("HH:mm");
      if (!rules.days.includes(there.weekday) || time < rules.opens || time >= rules.closes)
        say("outside the hours", mail);
      if (person.holidays.includes(day)) say("on a public holiday", mail);
      if (person.stoppedAt !== null && mail.at > person.stoppedAt) say("after a stop", mail);
      if (mail.subject.replace(/^Re: /, "") !== person.steps[nth])
        say(`got “${mail.subject}” as number ${nth + 1}`, mail);
      const before = mails[nth - 1];
      if (before) {
        const days = there.startOf("day").diff(local(before.at, person.zone).startOf("day"), "days").days;
        if (days < rules.daysBetween) say("too few days after the one before", mail);
        if (mail.sender !== before.sender) say("from another mailbox than the thread's", mail);
      }
      if (nth === 0) {
        const begun = local(mail.at, mailboxes[0]?.zone ?? "UTC").toISODate() as string;
        firsts.set(begun, (firsts.get(begun) ?? 0) + 1);
        if (rules.newADay !== null && (firsts.get(begun) as number) > rules.newADay)
          say("above new people a day", mail);
      }
    }
    if (person.stoppedAt === null && mails.length < person.steps.length)
      wrong.push(`${person.address}: forgotten after ${mails.length} of ${person.steps.length}`);
  }
  const { domainADay } = rules;
  const toDomain = new Map<string, Delivered[]>();
  if (domainADay !== null)
    for (const mail of sorted) {
      const domain = mail.recipient.split("@")[1] as string;
      const mails = toDomain.get(domain) ?? [];
      toDomain.set(domain, [...mails, mail]);
      const earlier = mails.at(-domainADay);
      if (earlier && mail.at - earlier.at < 24 * HOUR) say("above the domain's cap", mail);
    }
  const { perHour } = rules;
  if (perHour !== null)
    for (const [nth, mail] of sorted.entries()) {
      const earlier = sorted[nth - perHour];
      if (earlier && mail.at - earlier.at < HOUR) say("above the sequence's pace", mail);
    }
  return wrong;
}
