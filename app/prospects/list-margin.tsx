/** The quality of a list at a glance: how many addresses are good, and what stands in the way of the others. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { ADDRESS_STATES, type AddressState } from "../../core/prospects/verdict";
import { percent } from "../../core/results/figure-words";
import type { Figures } from "../../core/results/figures";
import type { ListState } from "../../server/prospects/lists/list-state";
import { MarginNote } from "../components/page";
import { VERDICT_COLOURS, VERDICT_NAMES } from "./words";

/** What the two middle ones mean; the others say it themselves. */
const MEANINGS: Partial<Record<AddressState, string>> = {
  likely: ": nothing against it",
  doubtful: ": something against it",
};

export function ListQuality({ state, title }: { state: ListState; title: string }) {
  return (
    <MarginNote title={title}>
      <Typography sx={{ mb: 1 }}>
        <Box component="span" sx={{ typography: "h1", mr: 1 }}>
          {state.verdicts.good.toLocaleString("en-GB")}
        </Box>
        of {state.people.toLocaleString("en-GB")} addresses are good
      </Typography>
      <Box sx={{ display: "flex", height: 8, borderRadius: 1, overflow: "hidden", mb: 1.5 }} aria-hidden>
        {ADDRESS_STATES.map((each) => (
          <Box key={each} sx={{ flexGrow: state.verdicts[each], bgcolor: VERDICT_COLOURS[each] }} />
        ))}
      </Box>
      {ADDRESS_STATES.filter((each) => state.verdicts[each] > 0).map((each) => (
        <Typography key={each} sx={{ display: "flex", alignItems: "center", gap: 1, mb: 0.4 }}>
          <Box
            component="span"
            sx={{ width: 9, height: 9, borderRadius: 5, bgcolor: VERDICT_COLOURS[each] }}
            aria-hidden
          />
          <Box component="span" sx={{ flex: 1 }}>
            {VERDICT_NAMES[each]}
            {MEANINGS[each] ?? ""}
          </Box>
          {state.verdicts[each].toLocaleString("en-GB")}
        </Typography>
      ))}
      {state.blocked > 0 && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          {state.blocked} on the block list; nothing goes to them.
        </Typography>
      )}
    </MarginNote>
  );
}

/** What came of those who were started, on whatever sequence. */
export function ListResults({ figures }: { figures: Figures }) {
  const { started, reached, answered, positive, booked } = figures;
  return (
    <MarginNote title="What came of it">
      <Typography>
        {started.toLocaleString("en-GB")} started, {reached.toLocaleString("en-GB")} reached: {answered}{" "}
        answered ({percent(answered, reached)}), {positive} want{positive === 1 ? "s" : ""} to talk (
        {percent(positive, reached)}), {booked} booked a call.
      </Typography>
    </MarginNote>
  );
}
