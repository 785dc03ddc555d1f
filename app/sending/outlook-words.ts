/** A plan in sentences: what it comes to, and what is otherwise in another one. */
import { workingDaysBetween } from "../../core/calendar";
import type { Outlook } from "../../core/sending/outlook";
import { count, day, shortDay } from "../components/words";

/** How things stand, true in every case. */
export function headingWords(plan: Outlook, mailboxes: number, zone: string): string {
  if (mailboxes === 0) return "No mailbox to send from yet";
  const { waitingForFirst: waiting, beyondPlan, lastFirstAt } = plan;
  const reached = waiting - beyondPlan;
  if (waiting > 0 && beyondPlan === 0 && lastFirstAt !== null)
    return `Everyone in line has a first email by ${day(lastFirstAt, zone)}`;
  if (waiting > 0 && reached > 0)
    return `${count(reached, "prospect")} of ${waiting.toLocaleString("en-GB")} in line ${reached === 1 ? "has" : "have"} a first email within 60 days; ${count(beyondPlan, "waits", "wait")} longer`;
  if (waiting > 0)
    return `${count(waiting, "prospect")} ${waiting === 1 ? "waits" : "wait"} for a first email longer than 60 days`;
  return plan.total > 0 ? "Everyone in line has had a first email" : "Nothing is to go out";
}

const dayOf = (at: number, zone: string): string =>
  new Intl.DateTimeFormat("en-CA", { timeZone: zone, dateStyle: "short" }).format(at);

/** What is otherwise in `other` than in the plan as it is. */
export function comparisonWords(plan: Outlook, other: Outlook, zone: string): string {
  const parts: string[] = [];
  if (plan.beyondPlan > 0 || other.beyondPlan > 0) {
    const more = plan.beyondPlan - other.beyondPlan;
    parts.push(
      more === 0
        ? `still ${count(other.beyondPlan, "prospect waits", "prospects wait")} longer than 60 days`
        : more > 0
          ? `${more.toLocaleString("en-GB")} more have a first email within 60 days${other.beyondPlan > 0 ? `; ${other.beyondPlan.toLocaleString("en-GB")} still do not` : ""}`
          : `${count(-more, "prospect")} would wait longer than 60 days`,
    );
  }
  if (plan.lastFirstAt !== null && other.lastFirstAt !== null && other.beyondPlan === 0) {
    const [before, after] = [dayOf(plan.lastFirstAt, zone), dayOf(other.lastFirstAt, zone)];
    const days = before < after ? workingDaysBetween(before, after) : -workingDaysBetween(after, before);
    const sooner = plan.beyondPlan > 0 ? "" : shiftWords(days);
    parts.push(`the last first email goes out on ${day(other.lastFirstAt, zone)}${sooner}`);
  }
  if (plan.lastFirstAt !== null && other.lastFirstAt === null) parts.push("nobody gets a first email");
  const stuck = other.waitingThreads - plan.waitingThreads;
  if (stuck > 0)
    parts.push(`${count(stuck, "person's follow-ups wait", "people's follow-ups wait")} for their mailbox`);
  const late = other.lateFollowUps - plan.lateFollowUps;
  if (late !== 0)
    parts.push(
      `${count(Math.abs(late), "follow-up goes", "follow-ups go")} a day or more ${late > 0 ? "late" : "sooner"}`,
    );
  if (parts.length === 0) {
    const today = other.today - plan.today;
    parts.push(
      today === 0
        ? "nothing of note changes"
        : `${count(Math.abs(today), "email")} ${today > 0 ? "more" : "fewer"} today`,
    );
  }
  const room =
    other.roomOn === null
      ? "Every mailbox is full on all these days"
      : `There is room from ${shortDay(other.roomOn)} on`;
  const words = parts.join("; ");
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}. ${room}.`;
}

const shiftWords = (days: number): string =>
  days === 0 ? ", as now" : `, ${count(Math.abs(days), "working day")} ${days < 0 ? "sooner" : "later"}`;
