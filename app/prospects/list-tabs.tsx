/** The stations of a list on its way from found to written to, each with what is left to do there. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { NavLink, useLocation } from "react-router";
import type { ListState } from "../../server/prospects/lists/list-state";
import { ListDialog } from "./list-dialog";

export function ListTabs({ list, state }: { list: { id: number; name: string }; state: ListState }) {
  const { pathname } = useLocation();
  const [changing, setChanging] = useState(false);
  const listId = list.id;
  const { verdicts } = state;
  const open = verdicts.unchecked + verdicts.missing;
  const tabs = [
    { to: `/prospects?list=${listId}`, label: "People", count: state.people, isOpen: false },
    { to: `/lists/${listId}/cleaning`, label: "Cleaning", count: null, isOpen: false },
    {
      to: `/lists/${listId}/duplicates`,
      label: "Duplicates",
      count: state.duplicates,
      isOpen: state.duplicates > 0,
    },
    { to: `/lists/${listId}/addresses`, label: "Addresses", count: open, isOpen: open > 0 },
    { to: `/lists/${listId}/research`, label: "Research", count: state.columns || null, isOpen: false },
    { to: `/lists/${listId}/form`, label: "Web form", count: null, isOpen: false },
  ];
  return (
    <Box
      component="nav"
      aria-label="This list"
      sx={{ display: "flex", gap: 0.75, mb: 2, flexWrap: "wrap", alignItems: "center" }}
    >
      {tabs.map(({ to, label, count, isOpen }) => {
        const isHere = to.startsWith("/prospects") ? pathname === "/prospects" : pathname === to;
        return (
          <Box
            key={to}
            component={NavLink}
            to={to}
            aria-current={isHere ? "page" : undefined}
            sx={{
              px: 1.5,
              py: 0.6,
              borderRadius: 5,
              textDecoration: "none",
              fontWeight: 600,
              fontSize: 13,
              color: isHere ? "background.paper" : "text.primary",
              bgcolor: isHere ? "tile.main" : "margin",
              "&:hover": { bgcolor: isHere ? "tile.deep" : "divider" },
            }}
          >
            {label}
            {count !== null && (
              <Box
                component="span"
                sx={{
                  ml: 0.75,
                  fontWeight: 500,
                  color: isHere ? "inherit" : isOpen ? "clay.main" : "text.secondary",
                }}
              >
                {count.toLocaleString("en-GB")}
              </Box>
            )}
          </Box>
        );
      })}
      <Button size="small" variant="text" onClick={() => setChanging(true)} sx={{ ml: "auto" }}>
        Rename or delete
      </Button>
      {changing && <ListDialog list={list} people={state.people} onClose={() => setChanging(false)} />}
    </Box>
  );
}
