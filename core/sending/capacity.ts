/** Mailboxes times limits, against what a list needs: the sum that reps do in their heads. */

export interface Capacity {
  /** Emails that all mailboxes together may send on one day. */
  aDay: number;
  /** Emails if everybody gets every step. */
  needed: number;
  /** Working days until everybody has had the first email, and until the last email of the last of them is out; null without a mailbox. */
  daysToBegin: number | null;
  daysInAll: number | null;
  /** More mailboxes of the usual limit with which everybody has a first email within the wished days; 0: it is enough. */
  missing: number;
}

/** A start that takes longer than this is worth a word. */
const WISHED_DAYS = 5;

/**
 * `emails`: of one person at most, over `pathDays` working days. The sequence's own pace counts as a limit over all
 * mailboxes.
 */
export function capacityOf(input: {
  limits: readonly number[];
  people: number;
  emails: number;
  pathDays: number;
  perHour: number | null;
  hoursOpen: number;
  newADay: number | null;
}): Capacity {
  const { limits, people, emails, pathDays, perHour, hoursOpen, newADay } = input;
  const all = limits.reduce((sum, limit) => sum + limit, 0);
  const aDay = perHour === null ? all : Math.min(all, Math.floor(perHour * hoursOpen));
  const begins = newADay === null ? aDay : Math.min(aDay, newADay);
  const needed = people * emails;
  const usual = limits.toSorted((a, b) => a - b)[limits.length >> 1] ?? 30;
  const wished = Math.ceil(people / WISHED_DAYS);
  const daysToBegin = begins > 0 ? Math.ceil(people / begins) : null;
  return {
    aDay,
    needed,
    daysToBegin,
    daysInAll: daysToBegin === null ? null : Math.max(Math.ceil(needed / aDay), daysToBegin + pathDays),
    missing: begins < wished && begins === all ? Math.ceil((wished - all) / usual) : 0,
  };
}
