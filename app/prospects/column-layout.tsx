/** Which columns the table of prospects shows, and how wide: chosen once, and the same the next day. */
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useEffect, useState } from "react";
import { z } from "zod";

const schema = z.object({
  hidden: z.array(z.string()).catch([]),
  /** Of what is worked out for lists, by "found:" and its field: it is shown where somebody asks for it. */
  shown: z.array(z.string()).default([]).catch([]),
  widths: z.record(z.string(), z.number().min(40).max(1_000)).catch({}),
});
export type ColumnLayout = z.infer<typeof schema>;

/** What can be left out; the name stays. Owner and phone are there for those who ask for them. */
const CHOICES: [field: string, name: string][] = [
  ["company", "Company"],
  ["verdict", "Address"],
  ["stage", "Stage"],
  ["journey", "What goes on"],
  ["owner", "Owner"],
];
const USUAL: ColumnLayout = { hidden: ["owner"], shown: [], widths: {} };
/** A column that is worked out, in the table. */
export const FOUND = "found:";
const KEPT_AS = "prospect-columns";

/** The layout of this browser; the server draws the usual one. */
export function useColumnLayout(): [ColumnLayout, (layout: ColumnLayout) => void] {
  const [layout, setLayout] = useState(USUAL);
  useEffect(() => {
    try {
      const kept = schema.safeParse(JSON.parse(localStorage.getItem(KEPT_AS) ?? "null"));
      if (kept.success) setLayout(kept.data);
    } catch {
      // A browser that keeps nothing shows the usual columns.
    }
  }, []);
  const keep = (next: ColumnLayout) => {
    setLayout(next);
    try {
      localStorage.setItem(KEPT_AS, JSON.stringify(next));
    } catch {
      // As long as the page is open, then.
    }
  };
  return [layout, keep];
}

export function ColumnChoice({
  layout,
  onLayout,
  found,
}: {
  /** What is worked out for the list. */
  found: readonly { code: string; name: string }[];
  layout: ColumnLayout;
  onLayout: (layout: ColumnLayout) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const without = (all: string[], field: string) =>
    all.includes(field) ? all.filter((each) => each !== field) : [...all, field];
  const toggle = (field: string) =>
    onLayout(
      field.startsWith(FOUND)
        ? { ...layout, shown: without(layout.shown, field) }
        : { ...layout, hidden: without(layout.hidden, field) },
    );
  const isShown = (field: string) =>
    field.startsWith(FOUND) ? layout.shown.includes(field) : !layout.hidden.includes(field);
  const choices = [...CHOICES, ...found.map(({ code, name }) => [FOUND + code, name] as const)];
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)}>Columns</Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {choices.map(([field, name]) => (
          <MenuItem
            key={field}
            role="menuitemcheckbox"
            aria-checked={isShown(field)}
            onClick={() => toggle(field)}
          >
            <Checkbox
              size="small"
              tabIndex={-1}
              checked={isShown(field)}
              slotProps={{ input: { "aria-hidden": true, tabIndex: -1 } }}
              sx={{ p: 0, mr: 1 }}
            />
            {name}
          </MenuItem>
        ))}
        <MenuItem onClick={() => onLayout(USUAL)}>As at first</MenuItem>
      </Menu>
    </>
  );
}
