/**
 * How a recipient behaves, drawn from the seed and their address: the same person does the same in
 * every run. Shares are rough, as a good season of cold email goes, with more answers than in life
 * so that a demo has something to read.
 */
import { createHash } from "node:crypto";

export type ReplyKind =
  | "interested"
  | "question"
  | "not_now"
  | "not_interested"
  | "wrong_person"
  | "opt_out_words";

export interface Persona {
  /** Bounces at once (refused at RCPT) or an hour later (a delivery report). */
  bounces: "at_once" | "later" | null;
  opens: number;
  clicks: number;
  /** Which of our emails they act on, counted from 1; 0: none. */
  actsOn: number;
  act: { kind: "reply"; reply: ReplyKind } | { kind: "opt_out" } | { kind: "book" } | null;
  /** What their server says when it sends an email back. */
  report: "unknown" | "full" | "policy";
  /** They tell their provider that the second email is unwanted. */
  reports: boolean;
  /** Days of absence announced by an automatic answer; 0: at work. */
  away: number;
  /** Seed for wording and hours. */
  draw: (what: string) => number;
}

/** What somebody leans to, where the world says it instead of the draw: how likely each email brings something, and what raises it. */
export interface Leaning {
  answers: number;
  /** An email that holds these words is so many times as likely to bring something; 0: never. */
  words: { holds: string; times: number }[];
  /** So is one that came between these hours of theirs. */
  hours: { from: number; to: number; times: number } | null;
}

/** How likely they act on an email, by its text and the hour at which it is there. */
export const likelihoodOf = ({ answers, words, hours }: Leaning, text: string, hour: number): number =>
  words.reduce((chance, { holds, times }) => (text.includes(holds) ? chance * times : chance), answers) *
  (hours && hour >= hours.from && hour < hours.to ? hours.times : 1);

/** What they do then: more often than others they want to talk, since they are asked for something that they need. */
export function leaningAct(number: (what: string) => number): NonNullable<Persona["act"]> {
  const reply = pick<ReplyKind>(number("kind"), [
    ["interested", 0.5],
    ["question", 0.16],
    ["not_now", 0.14],
    ["not_interested", 0.14],
    ["wrong_person", 0.06],
  ]);
  return pick<NonNullable<Persona["act"]>>(number("act"), [
    [{ kind: "book" }, 0.16],
    [{ kind: "opt_out" }, 0.05],
    [{ kind: "reply", reply }, 1],
  ]);
}

/** A number in [0, 1) for each seed, address and purpose. */
export function draw(seed: string, address: string, what: string): number {
  const hash = createHash("sha256").update(`${seed}\n${address}\n${what}`).digest();
  return hash.readUInt32BE(0) / 2 ** 32;
}

function pick<T>(value: number, shares: readonly (readonly [T, number])[]): T {
  let left = value;
  for (const [choice, share] of shares) {
    if (left < share) return choice;
    left -= share;
  }
  return (shares.at(-1) as readonly [T, number])[0];
}

const NOTHING: Persona = {
  bounces: null,
  opens: 0,
  clicks: 0,
  actsOn: 0,
  act: null,
  report: "unknown",
  reports: false,
  away: 0,
  draw: () => 0.5,
};

/** Without a seed nobody does anything by themselves. */
export function personaOf(seed: string | null, address: string): Persona {
  if (seed === null) return NOTHING;
  const number = (what: string) => draw(seed, address, what);
  const bounces = pick<Persona["bounces"]>(number("bounce"), [
    ["at_once", 0.003],
    ["later", 0.003],
    [null, 1],
  ]);
  const what = pick(number("act"), [
    ["reply", 0.27],
    ["opt_out", 0.015],
    ["book", 0.06],
    ["nothing", 1],
  ] as const);
  const reply = pick<ReplyKind>(number("kind"), [
    ["interested", 0.26],
    ["question", 0.2],
    ["not_now", 0.18],
    ["not_interested", 0.2],
    ["wrong_person", 0.1],
    ["opt_out_words", 0.06],
  ]);
  return {
    bounces,
    opens: number("opens") < 0.55 ? 0.7 : 0.05,
    clicks: number("clicks") < 0.2 ? 0.4 : 0.02,
    actsOn: what === "nothing" ? 0 : 1 + Math.floor(number("email") * 3),
    act: what === "nothing" ? null : what === "reply" ? { kind: "reply", reply } : { kind: what },
    report: pick<Persona["report"]>(number("report"), [
      ["full", 0.25],
      ["policy", 0.1],
      ["unknown", 1],
    ]),
    reports: number("reports") < 0.008,
    away: number("away") < 0.06 ? 3 + Math.floor(number("days") * 12) : 0,
    draw: number,
  };
}

/** What stands in front of everybody at a domain: nothing, what fetches pictures for its people, or what follows every link first. */
export function gatewayOf(seed: string | null, address: string): "prefetches" | "scans" | null {
  if (seed === null) return null;
  return pick(draw(seed, address.split("@")[1] ?? "", "gateway"), [
    ["prefetches", 0.08],
    ["scans", 0.06],
    [null, 1],
  ] as const);
}
