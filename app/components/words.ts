import { dayNumberOf, timeOf } from "../../core/calendar";
import { isAddressState } from "../../core/prospects/verdict";
import type { StopReason, WaitReason } from "../../core/sending/reasons";
import type { RestReason } from "../../core/sending/rest";
import type { Goal } from "../../core/sequence/settings";
import { dayWords } from "../../core/words";

export {
  count,
  dayOfMonth,
  longDay,
  SHORT_WEEKDAYS,
  shortDay,
  shortWeekday,
  weekday,
} from "../../core/words";

/** "Tue 9 June" */
export const day = (instant: number, zone: string) => dayWords(dayNumberOf(instant, zone));
/** "10:36" */
export const time = timeOf;
/** "Tue 9 June, 10:36" */
export const dayTime = (instant: number, zone: string) => `${day(instant, zone)}, ${time(instant, zone)}`;
/** "paused by Marta Quintela, Tue 9 June, 10:36" */
export const pausedWords = ({ by, at }: { by: string | null; at: number }, zone: string) =>
  `paused ${by === null ? "" : `by ${by}, `}${dayTime(at, zone)}`;
/** "10:36" today, else "Tue 9 June, 10:36". */
export function when(instant: number, now: number, zone: string): string {
  return dayNumberOf(instant, zone) === dayNumberOf(now, zone) ? time(instant, zone) : dayTime(instant, zone);
}

const NUMBERS = [
  "No",
  "One",
  "Two",
  "Three",
  "Four",
  "Five",
  "Six",
  "Seven",
  "Eight",
  "Nine",
  "Ten",
  "Eleven",
  "Twelve",
];
/** "Seven" up to twelve, then "13": for the beginning of a sentence. */
export const inWords = (number: number) => NUMBERS[number] ?? number.toLocaleString("en-GB");

/** "19 of 218 (9 %)" */
export function share(part: number, whole: number): string {
  return whole === 0 ? "–" : `${part} of ${whole} (${Math.round((100 * part) / whole)} %)`;
}

/** Why a journey waits, as the end of "… waits because". */
export const WAIT_WORDS: Record<WaitReason, string> = {
  wait_days: "the working days after the last step are not over",
  outside_hours: "it is outside the sending hours where they are",
  holiday: "it is a public holiday where they are",
  mailbox_limit: "today's limit of its mailboxes is reached",
  ramp: "its mailboxes are young and may send no more today",
  hour_limit: "its mailboxes have sent all they may within the hour",
  gap: "the pauses between two emails leave no more room in their hours today",
  new_a_day: "as many have begun the sequence today as it allows",
  ratio: "follow-ups have had their share of today",
  domain_cap: "as many have gone to their mail domain today as may",
  pace: "the sequence's own pace holds it back",
  touched_lately: "somebody of the team touched them lately",
  account_limit: "the social account has done all it may within seven days",
  account_signed_out: "the social account is signed out",
  account_paused: "the social account is paused",
  in_line: "its turn comes; minutes pass between two emails",
  settling: "it is being looked up whether the last email left",
  undecided: "nobody can tell whether the last email left: decide on Sending",
  likely_reply: "somebody of the company seems to have answered: decide on Replies",
  mailbox_stopped: "its mailbox was refused by its own server: look at the mailbox",
  merge_field_empty: "a merge field is empty",
  line_unread: "nobody has read what the assistant wrote to them",
  picture_unmade: "its picture is being drawn",
  text_broken: "the text cannot be filled in",
  sequence_paused: "the sequence is paused",
  mailbox_paused: "its mailbox is paused",
  mailbox_resting: "its mailbox rests",
  mailbox_unreachable: "its mailbox cannot be reached",
  no_mailbox: "the sequence has no mailbox",
  refused_for_now: "their server said “later”",
  address_not_good: "the sequence writes to better addresses only",
  no_address: "no address is known",
  task_open: "your own touch is not done yet",
  draft_open: "the email waits for your yes",
  first_ones: "the first people's emails wait for your yes",
  fork_open: "it waits for what they do",
  paused_by_rep: "you paused it",
  colleague_replied: "somebody else of the company answered",
  away: "they are away",
  came_back_twice: "two emails in a row came back for now",
  challenged: "their server wants a person to confirm the sender: see Replies",
  refused_by_host: "their host refuses the email by its rules, while others pass",
  after_restore: "it may have left before the restore: decide on Sending",
};

/** The same in a word or two, for a button. */
export const SHORT_WAITS: Record<WaitReason, string> = {
  wait_days: "wait their days",
  outside_hours: "out of hours",
  holiday: "public holiday",
  mailbox_limit: "over today's limit",
  ramp: "young mailboxes",
  hour_limit: "over the hour's limit",
  gap: "no room today",
  new_a_day: "over new a day",
  ratio: "over the share",
  domain_cap: "domain is full",
  pace: "kept by the pace",
  touched_lately: "touched lately",
  account_limit: "account's week full",
  account_signed_out: "account signed out",
  account_paused: "account paused",
  in_line: "in line",
  settling: "being looked up",
  undecided: "left or not?",
  likely_reply: "answered or not?",
  mailbox_stopped: "mailbox stopped",
  merge_field_empty: "lack a field",
  line_unread: "line not read yet",
  picture_unmade: "being drawn",
  text_broken: "broken text",
  sequence_paused: "sequence paused",
  mailbox_paused: "mailbox paused",
  mailbox_resting: "mailbox rests",
  mailbox_unreachable: "mailbox unreachable",
  no_mailbox: "no mailbox",
  refused_for_now: "told “later”",
  address_not_good: "wait for a better address",
  no_address: "no address",
  task_open: "wait for your touch",
  draft_open: "wait for your yes",
  first_ones: "wait for the first ones",
  fork_open: "at a fork",
  paused_by_rep: "paused by you",
  colleague_replied: "colleague answered",
  away: "away",
  came_back_twice: "came back twice",
  challenged: "confirm the sender",
  refused_by_host: "refused by their host",
  after_restore: "left before the restore?",
};

/** When it goes on, and why not before: "Thu 11 June, 10:20", and the reason as a sentence of its own. */
export const waitParts = (
  reason: WaitReason,
  detail: string | null,
  nextAt: number | null,
  now: number,
  zone: string,
): { at: string | null; why: string } => ({
  at: nextAt === null ? null : when(nextAt, now, zone),
  why: waitSentence(reason, detail, null, now, zone),
});

/** The reason with what it is about, as one sentence. */
export function waitSentence(
  reason: WaitReason,
  detail: string | null,
  nextAt: number | null,
  now: number,
  zone: string,
): string {
  const until = nextAt === null ? "" : `, goes ${when(nextAt, now, zone)}`;
  if (reason === "merge_field_empty")
    return `Waits until you fill in the ${(detail ?? "").replaceAll("_", " ")}`;
  if (reason === "line_unread")
    return `Waits until somebody has read the ${(detail ?? "").replaceAll("_", " ")} that the assistant wrote`;
  if (reason === "text_broken" || reason === "mailbox_unreachable" || reason === "mailbox_stopped")
    return detail ?? "";
  if (reason === "refused_by_host") return `Their host refuses the email: “${detail ?? ""}”`;
  if (reason === "mailbox_resting" || reason === "mailbox_paused")
    return `${detail ?? "Its mailbox"} ${reason === "mailbox_resting" ? "rests" : "is paused"}${until}`;
  if (reason === "address_not_good")
    return detail === "unchecked" || !isAddressState(detail ?? "")
      ? "Their address was not checked yet"
      : `Their address is ${detail}, and the sequence writes to better ones only`;
  const words = WAIT_WORDS[reason];
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}${until}`;
}

/** Of a number of people: they came to what a sequence calls success. */
export const GOAL_REACHED: Record<Goal, string> = {
  reply: "answered",
  interested: "want to talk",
  meeting: "booked a call",
  click: "clicked",
  won: "were won",
};

const STOP_WORDS: Record<StopReason, string> = {
  replied: "they replied",
  bounced: "the email bounced",
  opted_out: "they opted out",
  booked: "they booked a call",
  blocked: "the address is on the block list",
  stopped_by_rep: "you stopped it",
  refused: "their server refused the email",
  left_company: "they left the company",
  opened: "they opened the email",
  clicked: "they clicked a link",
  stage: "their stage says so",
  field: "a field has the value at which it stops",
  complained: "they reported the email as unwanted",
  merged: "they are one with another entry",
  erased: "they were erased",
};

/** Why a journey ended, as the end of "… because". */
export const stopWords = (reason: StopReason | null): string =>
  reason === null ? "it ended" : STOP_WORDS[reason];

export function restWords(reason: string | null): string {
  if (!reason) return "rests";
  const { sent, bounced, of, complained } = JSON.parse(reason) as RestReason;
  // As it was then: more may have come back since, which the numbers beside it count.
  if (of === "complained")
    return `${complained} of its last ${sent} emails had been reported as unwanted when it went to rest`;
  return `${bounced} of its last ${sent} emails had bounced (${((100 * bounced) / sent).toFixed(1)} %) when it went to rest`;
}
