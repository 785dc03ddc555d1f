import type { Crm } from "../../server/crm/crm";
import type { CrmCounts } from "../../server/crm/decide";
import type { Finding, Report } from "../../server/crm/report";
import type { Tone } from "../components/pill";
import { count, when } from "../components/words";

/** What a look through everything there found, in the order in which it is read. */
export const FINDING_WORDS: Record<Finding, { would: string; did: string }> = {
  new: { would: "would come in as new", did: "came in as new" },
  known: { would: "are known here, and would be kept in step", did: "were known here, and are in step now" },
  here: { would: "fields would change here", did: "fields changed here" },
  there: { would: "fields would change there", did: "fields were to change there" },
  conflict: { would: "fields differ, and you would be asked", did: "fields differ, and you are asked" },
  refused: { would: "would not come in", did: "did not come in" },
  gone: { would: "were deleted there, and you would be asked", did: "were deleted there, and you are asked" },
  out: { would: "would be made there", did: "are to be made there" },
  deal: { would: "deals belong to them", did: "deals came or moved on" },
};

const of = (report: Report | null, finding: Finding) => report?.[finding]?.count ?? 0;

/** How it stands, as the page's heading says it. `asks`: what waits for a person's word. */
export function crmHeading(
  {
    name,
    state,
    pass,
    report,
    failingSince,
  }: Pick<Crm, "name" | "state" | "pass" | "report" | "failingSince">,
  { people }: CrmCounts,
  asks: number,
): string {
  switch (state) {
    case "new":
      return `${name} is connected; nothing was taken over yet`;
    case "looking":
      return `Looking through ${name}: ${count(pass?.done ?? 0, "thing")} so far`;
    case "looked": {
      const asked = of(report, "conflict");
      return `From ${name} ${count(of(report, "new"), "person", "people")} would come in, and ${of(report, "known")} ${of(report, "known") === 1 ? "is" : "are"} known${asked > 0 ? `; ${count(asked, "difference asks", "differences ask")} you` : ""}`;
    }
    case "on":
      if (failingSince !== null) return `${name} does not answer; everything waits for it`;
      return `${count(people, "person is", "people are")} in step with ${name}${asks > 0 ? `; ${asks === 1 ? "one thing asks" : `${asks} things ask`} you` : ""}`;
    case "off":
      return `${name} is switched off`;
    case "held":
      return `${name} is not kept in step any more`;
  }
}

/** In a word and a clause. */
export function crmStanding(
  { state, heldBecause, failingSince, failingBecause, retryAt, lookedAt, pass }: Crm,
  counts: CrmCounts,
  now: number,
  zone: string,
): { tone: Tone; words: string; detail: string } {
  if (state === "held") return { tone: "clay", words: "holds", detail: heldBecause ?? "" };
  if (state === "off") return { tone: "quiet", words: "off", detail: "Nothing comes in or goes out." };
  if (failingSince !== null || (retryAt !== null && retryAt > now))
    return {
      tone: "clay",
      words: "waits",
      detail: `${failingBecause ?? ""}${retryAt === null ? "" : ` It is tried again ${when(retryAt, now, zone)}.`}`,
    };
  if (state === "new") return { tone: "quiet", words: "not tried", detail: "First look what it would do." };
  if (state === "looking")
    return { tone: "ochre", words: "a trial", detail: "Nothing changes on either side." };
  if (state === "looked")
    return { tone: "quiet", words: "tried", detail: "Nothing has changed on either side yet." };
  return {
    tone: "kelp",
    words: "in step",
    detail: [
      pass === null ? "" : `looking through it: ${count(pass.done, "thing")} so far`,
      counts.due > 0 ? `${count(counts.due, "thing")} to be told` : "",
      lookedAt === null ? "" : `looked through ${when(lookedAt, now, zone)}`,
    ]
      .filter((part) => part !== "")
      .join(", "),
  };
}
