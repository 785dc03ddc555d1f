/** Filters that were given a name: chosen, or dropped. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import type { SavedFilter } from "../../server/prospects/filters/filters";
import { Refusal } from "../components/refusal";
import { Sharing } from "../components/sharing";
import { useAction } from "../components/use-action";

export function SavedFilters(props: { filters: SavedFilter[]; onChoose: (definition: string) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const drop = useAction({ to: "/prospects" });
  if (props.filters.length === 0) return null;
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)}>Saved filters</Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <Refusal errors={drop.errors} />
        {props.filters.map(({ id, name, definition, shared }) => (
          <MenuItem
            key={id}
            onClick={() => {
              setAnchor(null);
              props.onChoose(definition);
            }}
          >
            <Box component="span" sx={{ flex: 1, pr: 3 }}>
              {name}
            </Box>
            <Sharing kind="filter" id={id} shared={shared} />
            <Button
              disabled={!shared.mayShare && shared.sharing !== "change"}
              size="small"
              variant="text"
              onClick={(event) => {
                event.stopPropagation();
                drop.press({ intent: "drop-filter", id: String(id) });
              }}
            >
              Drop
            </Button>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
