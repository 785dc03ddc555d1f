/** Results in words: figures, intervals, groups and findings. */
import type { Credit, Green } from "../../core/results/credit";
import { type Share, shareOf } from "../../core/results/share";
import type { Pick } from "../../core/results/who-did";
import { type Brought, LEAST_REACHED } from "../../core/results/worked";

/** "3–11 %": where the true share lies in 19 of 20 cases. */
export const likely = ({ low, high, whole }: Share): string =>
  whole === 0 ? "–" : `${Math.round(100 * low)}–${Math.round(100 * high)} %`;

/** What a text brought: how many of how many, and how sure one can be. */
export function broughtWords({ reached, answered, positive }: Brought): string {
  const people = reached.toLocaleString("en-GB");
  if (reached < LEAST_REACHED) return `Reached ${people} so far: too few to tell`;
  const wanting = `${positive} of ${people} want${positive === 1 ? "s" : ""} to talk`;
  return `${wanting} (likely ${likely(shareOf(positive, reached))}), ${answered} answered`;
}

/** The same behind a name in a menu, where there is no room for more. */
export const broughtAside = ({ reached, positive }: Brought): string =>
  reached < LEAST_REACHED ? "" : ` · ${positive} of ${reached.toLocaleString("en-GB")} want to talk`;

export const GREEN_WORDS: Record<
  Green,
  {
    name: string;
    edge: string;
    column: string;
    share: string;
    verb: (many: number) => string;
    of: (ofAnswered: boolean) => string;
  }
> = {
  answered: {
    name: "an answer",
    edge: "Answered",
    column: "Answered",
    share: "answers",
    verb: () => "answered",
    of: () => "answered",
  },
  positive: {
    name: "wants to talk",
    edge: "Want to talk",
    column: "Want to talk",
    share: "those who want to talk",
    verb: (many) => (many === 1 ? "wants to talk" : "want to talk"),
    of: () => "who answered want to talk",
  },
  booked: {
    name: "a booked call",
    edge: "Booked a call",
    column: "Calls booked",
    share: "booked calls",
    verb: () => "booked a call",
    of: () => "who answered booked a call",
  },
};

export const CREDIT_WORDS: Record<Credit, string> = {
  answered: "the touch they answered",
  first: "the first touch",
  shared: "all touches before",
};

/** What the people behind a number did, after how many they are. */
export const PICK_WORDS: Record<Pick, (many: number) => string> = {
  came: () => "came to it",
  gone: () => "left",
  started: (many) => (many === 1 ? "was started" : "were started"),
  written: (many) => (many === 1 ? "was written to" : "were written to"),
  reached: (many) => (many === 1 ? "was reached" : "were reached"),
  answered: () => "answered",
  positive: (many) => GREEN_WORDS.positive.verb(many),
  booked: () => "booked a call",
  optedOut: () => "opted out",
  bounced: () => "whose email came back",
  left: () => "left without an answer",
  active: (many) => (many === 1 ? "is still on the way" : "are still on the way"),
  opened: () => "opened it, as far as that can be seen",
  clicked: () => "clicked",
};
