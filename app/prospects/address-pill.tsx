import { Pill } from "../components/pill";
import { addressState, VERDICT_NAMES, VERDICT_TONES } from "./words";

/** How sure an address is, in a word. */
export function AddressPill({ of }: { of: { email: string; verdict: string | null } }) {
  const state = addressState(of);
  return <Pill tone={VERDICT_TONES[state] ?? "quiet"}>{VERDICT_NAMES[state]}</Pill>;
}
