/**
 * Two sides of the same person, brought into step field by field: what only one of them changed since both last agreed goes
 * to the other; where both did, who is right is set for the field, or asked.
 */
import type { FieldMap, Winner } from "./settings.ts";

/** By field; what is not in it is not known, and left in peace. */
export type Values = Readonly<Record<string, string>>;

export interface Sides {
  /** On what both last agreed; null before the first time. */
  base: Values | null;
  here: Values;
  there: Values;
}

interface InStep {
  toHere: Record<string, string>;
  toThere: Record<string, string>;
  /** Both changed, and a person has to say which it is. */
  conflicts: string[];
  /** On what both agree once that is done. */
  base: Record<string, string>;
}

/** What a field says of whom nobody has said anything: it overrules nobody. */
const NOTHING_SAID: Values = { stage: "new" };

/**
 * `laterOf` says which side changed a field last; `decided` what a person said to a conflict. A field that was never
 * agreed on counts as changed by whoever knows something.
 */
export function bringIntoStep(
  fields: readonly FieldMap[],
  { base, here, there }: Sides,
  laterOf: (field: string) => "here" | "there",
  decided: Readonly<Record<string, "here" | "there">> = {},
): InStep {
  const step: InStep = { toHere: {}, toThere: {}, conflicts: [], base: { ...base } };
  for (const { field, wins } of fields) {
    const [ours, theirs] = [here[field], there[field]];
    if (ours === undefined || theirs === undefined) continue;
    const agreed = base?.[field] ?? NOTHING_SAID[field] ?? "";
    const winner = ours === theirs ? "none" : winnerOf(ours !== agreed, theirs !== agreed, wins);
    const side = winner === "later" ? laterOf(field) : winner === "ask" ? (decided[field] ?? "ask") : winner;
    if (side === "ask") step.conflicts.push(field);
    else {
      if (side === "here") step.toThere[field] = ours;
      if (side === "there") step.toHere[field] = theirs;
      step.base[field] = side === "there" ? theirs : ours;
    }
  }
  return step;
}

function winnerOf(changedHere: boolean, changedThere: boolean, wins: Winner): Winner {
  if (changedHere && changedThere) return wins;
  return changedHere ? "here" : "there";
}
