import Box from "@mui/material/Box";
import { addressState } from "../../core/prospects/verdict";
import { Pill } from "../components/pill";
import { VERDICT_COLOURS, VERDICT_NAMES, VERDICT_TONES } from "./words";

interface Judged {
  email: string;
  verdict: string | null;
  verdictReason: string | null;
}

/** How sure an address is, in a word. */
export function AddressPill({ of }: { of: Judged }) {
  const state = addressState(of);
  return <Pill tone={VERDICT_TONES[state]}>{VERDICT_NAMES[state]}</Pill>;
}

/** The same where a row has no room for a pill: a dot and the word. */
export function AddressWord({ of }: { of: Judged }) {
  const state = addressState(of);
  return (
    <>
      <Box
        component="span"
        aria-hidden
        sx={{
          display: "inline-block",
          width: 7,
          height: 7,
          borderRadius: 4,
          bgcolor: VERDICT_COLOURS[state],
          mr: 0.6,
        }}
      />
      {VERDICT_NAMES[state]}
    </>
  );
}
