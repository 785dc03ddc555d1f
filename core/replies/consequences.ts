/**
 * What follows from what happened to a prospect: the only place that says so. The server applies the list
 * (server/consequences/apply.ts); a screen can show the same list before a press.
 */
import type { EventKind } from "../events.ts";
import type { StopReason, WaitReason } from "../sending/reasons.ts";

export type Happening =
  /** An email of a sequence, or the rep's own answer, has left. */
  | { kind: "sent" }
  | { kind: "answered" }
  /** The server refused this email for good, and it is neither the address's nor the mailbox's fault. */
  | { kind: "refused"; words: string }
  | { kind: "replied" }
  /** Somebody of the same company answers the same subject: the rep says whether it is an answer. */
  | { kind: "likely_reply" }
  | { kind: "away"; because: string }
  | { kind: "left_company"; because: string }
  | { kind: "bounced"; hard: boolean; words: string }
  | { kind: "complained"; because: string }
  | { kind: "opted_out" }
  | { kind: "booked"; at: number }
  | { kind: "booking_cancelled"; at: number }
  | { kind: "booking_moved"; at: number }
  | { kind: "blocked" | "stopped_by_rep" | "merged" | "erased" };

export type Stage = "contacted" | "in_conversation" | "meeting_booked";

export type Consequence =
  /** An entry in the record of events, named like the happening. */
  | { do: "record"; kind: EventKind; detail: string | null }
  /** Ends everything planned, on every channel. `ifAddress`: only if they still have the address it is about. */
  | { do: "stop"; reason: StopReason; detail: string | null; ifAddress: boolean }
  | { do: "hold"; reason: WaitReason }
  /** Moves forward to a stage, never back. */
  | { do: "raise"; to: Stage }
  /** Nothing is ever sent there again: the address that the email went to, or every address of the person. */
  | { do: "block"; whose: "recipient" | "person"; reason: "opted_out" | "bounced" };

const record = (kind: EventKind, detail: string | null = null): Consequence => ({
  do: "record",
  kind,
  detail,
});
const stop = (reason: StopReason, detail: string | null = null, ifAddress = false): Consequence => ({
  do: "stop",
  reason,
  detail,
  ifAddress,
});

/** In the order in which they are to be applied. An opt-out, a complaint and a hard bounce cannot be set otherwise. */
export function consequences(happening: Happening): Consequence[] {
  switch (happening.kind) {
    case "sent":
      return [record("email_sent"), { do: "raise", to: "contacted" }];
    case "answered":
      return [record("answered")];
    case "refused":
      return [record("email_refused", happening.words), stop("refused", happening.words)];
    case "replied":
      return [record("replied"), stop("replied"), { do: "raise", to: "in_conversation" }];
    case "likely_reply":
      return [record("likely_reply"), { do: "hold", reason: "likely_reply" }];
    case "away":
      return [record("away", happening.because)];
    case "left_company":
      return [record("left_company", happening.because), stop("left_company", happening.because)];
    case "bounced": {
      const { hard, words } = happening;
      const noted = record("bounced", `${hard ? "hard" : "soft"}: ${words}`);
      return hard
        ? [noted, { do: "block", whose: "recipient", reason: "bounced" }, stop("bounced", words, true)]
        : [noted];
    }
    case "complained":
      return [
        record("complained", happening.because),
        stop("complained", happening.because),
        { do: "block", whose: "recipient", reason: "opted_out" },
        { do: "block", whose: "person", reason: "opted_out" },
      ];
    case "opted_out":
      return [stop("opted_out"), { do: "block", whose: "person", reason: "opted_out" }, record("opted_out")];
    case "booked":
      return [record("booked", String(happening.at)), stop("booked"), { do: "raise", to: "meeting_booked" }];
    case "booking_cancelled":
    case "booking_moved":
      return [record(happening.kind, String(happening.at))];
    case "blocked":
    case "stopped_by_rep":
    case "merged":
    case "erased":
      return [stop(happening.kind)];
  }
}
