/** Ways in which the mail stand-in can be told to misbehave. */
export const MISBEHAVIOURS = [
  "refuse_later", // 4xx at RCPT
  "refuse", // 5xx at DATA, about the email
  "refuse_policy", // 5xx at RCPT, about the sender
  "refuse_rules", // 5xx at RCPT, by the host's own rules about mail
  "drop_before", // closes the connection without accepting
  "drop_after", // accepts, and closes the connection before it says so
  "slow", // takes its time to answer, once it has the email
  "slow_rcpt", // takes its time at RCPT, before anything was offered
] as const;
export type Misbehaviour = (typeof MISBEHAVIOURS)[number];

/** Counts down the emails that a misbehaviour is meant for. */
export function createMoods() {
  const left = new Map<Misbehaviour, number>();
  let slowMs = 0;
  return {
    set(kind: Misbehaviour, times: number, ms = 0) {
      left.set(kind, times);
      if (ms > 0) slowMs = ms;
    },
    /** Whether this email is one of those; counts it. */
    takes(kind: Misbehaviour): boolean {
      const times = left.get(kind) ?? 0;
      if (times <= 0) return false;
      left.set(kind, times - 1);
      return true;
    },
    slowMs: () => slowMs,
    clear: () => left.clear(),
  };
}
