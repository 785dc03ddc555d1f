import { longDay } from "../../core/words";
import type { SenderDrift } from "../../server/results/senders";

/** What a sender's drift is, and what to do about it. */
export function driftWords(name: string, { of, since }: SenderDrift): string {
  const week = `since the week of ${longDay(since)}`;
  return of === "bounced"
    ? `More comes back to ${name} than before, ${week}. Let it rest, and check the addresses of its lists.`
    : `Fewer answer ${name} than before, ${week}. Look at where its email lands before more goes.`;
}
