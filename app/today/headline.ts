import type { Today } from "../../server/today/today";
import { count, inWords, time } from "../components/words";

export function greeting(now: number, zone: string): string {
  const hour = Number(time(now, zone).slice(0, 2));
  return hour < 12 ? "Good morning" : hour < 18 ? "Good afternoon" : "Good evening";
}

/** `whose`: of somebody else, or everybody, as the page is chosen to show it; "" for one's own. */
export function headline({ unread, firstSteps }: Today, waiting: number, whose = ""): string {
  if (firstSteps && unread === 0) {
    const open = firstSteps.filter(({ isDone }) => !isDone).length;
    return `${inWords(open)} ${open === 1 ? "step" : "steps"} to your first email.`;
  }
  if (unread === 0)
    return waiting === 0
      ? "Nobody waits for an answer."
      : `${inWords(waiting)} ${waiting === 1 ? "thing waits" : "things wait"}${whose === "" ? " for you" : ""}.`;
  return `${inWords(unread)} ${unread === 1 ? "person" : "people"} wrote back.`;
}

/** Whom the page greets, or whose day it shows. */
export const opening = (whose: string, now: number, zone: string, firstName: string): string =>
  whose === "" ? `${greeting(now, zone)}, ${firstName}.` : `${whose}:`;

export function subline({ unread, toGo, firstSteps }: Today, others: number): string {
  if (firstSteps && unread === 0 && toGo === 0)
    return "Have the mailbox's password and a list at hand; the rest is a matter of minutes.";
  const goes =
    toGo > 0
      ? `The ${count(toGo, "email")} still to go today ${toGo === 1 ? "goes" : "go"} out by themselves.`
      : "Nothing else is to go out today.";
  if (unread === 0) return others === 0 ? goes : `The most worthwhile comes first. ${goes}`;
  return `Reading them takes about ${count(Math.max(2, Math.round(unread * 0.4)), "minute")}${
    others > 0 ? `; ${count(others, "thing")} more ${others === 1 ? "waits" : "wait"} below` : ""
  }. ${goes}`;
}
