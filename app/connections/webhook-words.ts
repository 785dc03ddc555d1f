import type { Webhook } from "../../server/webhooks/webhooks";
import type { Tone } from "../components/pill";
import { dayTime, when } from "../components/words";

/** How a webhook stands, in a word and a clause. */
export function standingOf(
  { state, offBecause, failingSince, retryAt, due, told }: Webhook,
  now: number,
  zone: string,
): { tone: Tone; words: string; detail: string } {
  if (state === "off")
    return {
      tone: offBecause === null ? "quiet" : "clay",
      words: "off",
      detail: offBecause ?? "switched off by hand",
    };
  if (failingSince !== null)
    return {
      tone: "clay",
      words: "not taken",
      detail: `since ${dayTime(failingSince, zone)}; ${due} wait${due === 1 ? "s" : ""}${retryAt === null ? "" : `, tried again ${when(retryAt, now, zone)}`}`,
    };
  return { tone: "kelp", words: "taken", detail: due > 0 ? `${due} on the way` : `${told} told` };
}
