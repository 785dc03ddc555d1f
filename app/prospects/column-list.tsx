/** The columns of a list, each with how far it is; the one that is looked at is marked. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ListColumn } from "../../server/research/research-of-list";
import { Pill } from "../components/pill";

export function ColumnList(props: {
  columns: readonly ListColumn[];
  chosen: number;
  onChoose: (id: number) => void;
}) {
  return (
    <Box component="ul" aria-label="Columns" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {props.columns.map(({ id, name, counts }) => {
        const isChosen = id === props.chosen;
        return (
          <Box component="li" key={id}>
            <Box
              component="button"
              type="button"
              aria-pressed={isChosen}
              onClick={() => props.onChoose(id)}
              sx={{
                all: "unset",
                boxSizing: "border-box",
                width: "100%",
                cursor: "pointer",
                px: 1.5,
                py: 0.9,
                borderLeft: "3px solid",
                borderColor: isChosen ? "tile.main" : "transparent",
                ...(isChosen && { bgcolor: "background.paper" }),
                "&:focus-visible": { outline: "2px solid", outlineColor: "tile.main" },
              }}
            >
              <Typography noWrap sx={{ fontWeight: 600 }}>
                {name}
              </Typography>
              <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
                <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
                  {counts.open === counts.targets
                    ? `${counts.targets.toLocaleString("en-GB")} to look for`
                    : `${counts.found.toLocaleString("en-GB")} of ${counts.targets.toLocaleString("en-GB")}`}
                </Typography>
                {counts.read > 0 && (
                  <Pill tone={counts.unread > 0 ? "clay" : "ochre"}>{counts.read} to read</Pill>
                )}
              </Box>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
