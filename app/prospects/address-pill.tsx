import { addressState } from "../../core/prospects/verdict";
import { Pill } from "../components/pill";
import { VERDICT_NAMES, VERDICT_TONES } from "./words";

/** How sure an address is, in a word. */
export function AddressPill({
  of,
}: {
  of: { email: string; verdict: string | null; verdictReason: string | null };
}) {
  const state = addressState(of);
  return <Pill tone={VERDICT_TONES[state]}>{VERDICT_NAMES[state]}</Pill>;
}
