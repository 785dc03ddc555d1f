/** What stands on Today, and why it stands where it does, in the tool's words. */
import { dayNumberOf } from "../../core/calendar";
import type { PlaceReason, TodoGroup } from "../../core/today/order";
import type { TodoItem } from "../../server/today/todo-item";
import { count, day, restWords, time, when } from "../components/words";
import { readingCount } from "../replies/label-words";
import { KIND_WORDS } from "../sequences/step-words";
import type { MarkShape } from "../timeline/shapes";

const hour = (at: number) => `${String(Math.floor(at)).padStart(2, "0")}:${at % 1 >= 0.5 ? "30" : "00"}`;

const WATCHED: Record<number, string> = {
  0: "began to watch your film",
  25: "watched a quarter of your film",
  50: "watched half of your film",
  75: "watched three quarters of your film",
  100: "watched your film to its end",
};
const watchedWords = (share: number): string => WATCHED[share] ?? "watched your film";

function reasonWords(reason: PlaceReason): string {
  switch (reason.because) {
    case "waiting":
      return reason.hours < 1
        ? "came within the hour"
        : reason.hours < 24
          ? `the oldest waits ${count(reason.hours, "hour")}`
          : `the oldest waits ${count(Math.floor(reason.hours / 24), "day")}`;
    case "interested":
      return `${reason.number} ${reason.number === 1 ? "seems" : "seem"} interested`;
    case "questions":
      return `${count(reason.number, "question")}`;
    case "soon":
      return reason.minutes < 0
        ? "goes on now"
        : reason.minutes < 60
          ? `begins in ${count(reason.minutes, "minute")}`
          : `begins in ${count(Math.round(reason.minutes / 60), "hour")}`;
    case "good_hour":
      return `good hours there until ${hour(reason.until)}`;
    case "bad_hour":
      return `${hour(reason.hour)} there: later is better`;
    case "seen":
      if (reason.watched !== null) return `${watchedWords(reason.watched)} within a day`;
      if (reason.visits > 0)
        return `looked at their page ${reason.visits === 1 ? "" : `${reason.visits} times `}within a day`;
      if (reason.files > 0) return "looked at your file within a day";
      return reason.clicks > 0
        ? `clicked ${reason.clicks === 1 ? "a link" : count(reason.clicks, "link")} within a day`
        : `opened ${count(reason.opens, "time")} within a day, as far as that can be seen`;
    case "blocks":
      return `${count(reason.people, "person waits", "people wait")} for it`;
    case "asked_for":
      return "they asked for it";
    case "nothing_ahead":
      return "nothing is planned with them";
    case "late":
      return `${count(reason.days, "day")} late`;
  }
}

/** Of replies the line before says already what they read as. */
export const placeWords = ({ place, kind }: Pick<TodoItem, "place" | "kind">): string =>
  place.reasons
    .filter(({ because }) => kind !== "replies" || because === "waiting")
    .map(reasonWords)
    .join(" · ");

export const shapeOf = (item: TodoItem): MarkShape | null => {
  switch (item.kind) {
    case "call":
    case "meeting":
    case "meeting_over":
    case "warm":
      return "call";
    case "social":
      return "social";
    case "drafts":
    case "thanks":
    case "come_back":
      return "email";
    case "replies":
      return "them";
    default:
      return "errand";
  }
};

export function titleOf(item: TodoItem, now: number, zone: string): string {
  switch (item.kind) {
    case "replies":
      return `Read ${count(item.count, "reply", "replies")}`;
    case "call":
      return `Ring ${item.person.name}`;
    case "social":
      return `${KIND_WORDS[item.step]}: ${item.person.name}`;
    case "errand":
      return "touchId" in item ? `Errand: ${item.person.name}` : `${item.person.name}: ${item.text}`;
    case "reminder":
    case "come_back":
    case "thanks":
      return `${item.person.name}: ${item.text}`;
    case "next_step":
      return item.reminderId === null
        ? `${count(item.total, "person", "people")} in conversation, and nothing ahead`
        : `${item.person.name}: ${item.text}`;
    case "drafts":
      return `Read ${count(item.count, "email")} that ${item.count === 1 ? "waits" : "wait"} for your yes`;
    case "meeting":
      return `${when(item.startsAt, now, zone)} Call with ${item.name}`;
    case "meeting_over":
      return `Did the call with ${item.name} take place?`;
    case "warm":
      return seenWords(item, now, zone);
    case "field":
      return `${count(item.people, "prospect")} ${item.people === 1 ? "has" : "have"} no ${item.field.replaceAll("_", " ")}`;
    case "hold":
      return holdTitle(item);
    case "company":
      return `${item.company.company}: ${count(item.company.waiting, "person waits", "people wait")}`;
    case "connection":
      return item.title;
    case "drift":
      return item.of === "bounced"
        ? `More comes back to ${item.address} than before`
        : `Fewer answer ${item.address} than before`;
    case "mailbox":
      return item.state === "resting" ? `${item.address} rests` : `${item.address} needs a look`;
  }
}

/** After this somebody is no longer looking: they have looked. */
const LOOKING = 10 * 60_000;

/** "Ana Reis is looking at your email", "Ana Reis clicked yesterday, twice". */
export function seenWords(
  { person, opens, clicks, visits, files, watched, dueAt: at }: Extract<TodoItem, { kind: "warm" }>,
  now: number,
  zone: string,
): string {
  if (now - at < LOOKING)
    return watched !== null && watched < 100
      ? `${person.name} is watching your film`
      : `${person.name} is looking at ${watched !== null || visits > 0 ? "their page" : files > 0 ? "your file" : "your email"}`;
  const times = watched !== null ? 1 : visits > 0 ? visits : files > 0 ? files : clicks > 0 ? clicks : opens;
  const daysAgo = dayNumberOf(now, zone) - dayNumberOf(at, zone);
  const on = daysAgo === 0 ? `at ${time(at, zone)}` : daysAgo === 1 ? "yesterday" : `on ${day(at, zone)}`;
  const often = times === 1 ? "" : times === 2 ? ", twice" : `, ${times} times`;
  const did =
    watched !== null
      ? watchedWords(watched)
      : visits > 0
        ? "looked at their page"
        : files > 0
          ? "looked at your file"
          : clicks > 0
            ? "clicked"
            : "opened your email";
  return `${person.name} ${did} ${on}${often}`;
}

function holdTitle({ people, reason, detail, sequenceName }: Extract<TodoItem, { kind: "hold" }>): string {
  const have = `${count(people, "prospect")} ${people === 1 ? "has" : "have"}`;
  switch (reason) {
    case "no_address":
      return `${have} no address, so ${sequenceName} waits`;
    case "address_not_good":
      return `${have} an address that ${detail === "unchecked" ? "was not checked" : `is ${detail}, and ${sequenceName} writes to better ones only`}`;
    case "line_unread":
      return `${have} a line that nobody has read, so ${sequenceName} waits`;
    case "no_mailbox":
      return `${sequenceName} has no mailbox to send from`;
    case "undecided":
      return `${count(people, "email")} of ${sequenceName} may have left or not`;
    case "likely_reply":
      return `${count(people, "prospect")} of ${sequenceName} may have answered`;
    case "refused_by_host":
      return `${count(people, "prospect")} of ${sequenceName}: their host refuses the email`;
    case "after_restore":
      return `${count(people, "prospect")} of ${sequenceName} may have been written to before the restore`;
    case "came_back_twice":
      return `${count(people, "prospect")}: two emails in a row came back for now`;
    default:
      return `${sequenceName}: ${detail ?? "something is wrong"}`;
  }
}

export function subOf(item: TodoItem, zone: string, readings: ReadonlyMap<string, string>): string {
  switch (item.kind) {
    case "replies":
      return item.readings
        .map(({ label, count: number }) => readingCount(label, number, readings))
        .join(", ");
    case "call":
      return [
        item.person.company,
        item.person.phone === "" ? "no number is known" : "",
        item.stepName,
        item.sequenceName,
      ]
        .filter(Boolean)
        .join(" · ");
    case "social":
      return [item.person.company, item.stepName, item.sequenceName].filter(Boolean).join(" · ");
    case "errand":
      return "touchId" in item
        ? [item.person.company, item.text, item.sequenceName].filter(Boolean).join(" · ")
        : item.person.company;
    case "reminder":
    case "come_back":
    case "thanks":
      return [item.person.title, item.person.company].filter(Boolean).join(", ");
    case "next_step":
      return item.reminderId === null ? item.people.map(({ name }) => name).join(", ") : item.person.company;
    case "warm":
      return [item.person.title, item.person.company].filter(Boolean).join(", ");
    case "meeting":
      return [item.person?.company, item.where || item.phone, attendanceWords(item.attendance)]
        .filter(Boolean)
        .join(" · ");
    case "meeting_over":
      return `It was to be at ${time(item.startsAt, zone)}`;
    case "field":
      return `${item.sequenceName} writes it`;
    case "company":
      return `since ${item.company.who ?? "somebody there"} answered`;
    case "mailbox":
      return item.state === "resting" ? restWords(item.restReason) : (item.trouble ?? "");
    case "connection":
      return item.because;
    case "drafts":
      return item.behind > 0 ? `${count(item.behind, "email waits", "emails wait")} behind them` : "";
    case "hold":
    case "drift":
      return "";
  }
}

export const GROUP_WORDS: Record<TodoGroup, string> = {
  replies: "Replies",
  calls: "Calls",
  social: "Social touches",
  emails: "Emails to read",
  errands: "Errands",
  looked: "Looked",
  held: "Held up",
};

const attendanceWords = (attendance: string): string =>
  attendance === "accepted"
    ? "they said yes"
    : attendance === "declined"
      ? "they said no"
      : attendance === "tentative"
        ? "they said maybe"
        : "";
