/** Before the first start: whether people with likely addresses get it, asked in one sentence with its answer given. */
import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { mayWriteTo } from "../../../core/prospects/verdict";
import { count } from "../../components/words";
import type { StartData } from "./start-data";
import type { StartDesk } from "./use-start";

export function AddressQuestion({ data, at }: { data: StartData; at: StartDesk }) {
  const { likely, good } = data.addresses;
  if (data.state !== "draft" || likely === 0 || at.act.value?.started !== undefined) return null;
  return (
    <Box
      sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 2 }}
      role="group"
      aria-label="Likely addresses"
    >
      <Typography sx={{ flex: "1 1 320px" }}>
        <strong>
          {count(likely, "address", "addresses")} {likely === 1 ? "is" : "are"} likely
        </strong>
        : nothing speaks against {likely === 1 ? "it" : "them"}, and nobody has confirmed{" "}
        {likely === 1 ? "it" : "them"} yet. Some will come back; those stop at once.
      </Typography>
      <ToggleButtonGroup
        exclusive
        size="small"
        color="primary"
        disabled={at.act.isBusy}
        value={mayWriteTo(data.writesTo, "likely") ? "likely" : "good"}
        onChange={(_, writesTo: string | null) => writesTo && at.press("writes_to", { writesTo })}
      >
        <ToggleButton value="likely">Write to them, too</ToggleButton>
        <ToggleButton value="good">
          {good === 0 ? "Let them wait" : `Only to the ${good.toLocaleString("en-GB")} good`}
        </ToggleButton>
      </ToggleButtonGroup>
    </Box>
  );
}
