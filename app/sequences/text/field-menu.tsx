/** The list of merge fields that opens at "{", with what each will say. */
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import MenuList from "@mui/material/MenuList";
import Paper from "@mui/material/Paper";
import Popper from "@mui/material/Popper";
import { Extension } from "@tiptap/core";
import Suggestion, { type SuggestionProps } from "@tiptap/suggestion";
import { useContext, useMemo, useRef, useState } from "react";
import { FieldCounts } from "./field-counts";

interface Open {
  items: string[];
  at: number;
  rect: DOMRect;
  choose: (field: string) => void;
}

interface Controller {
  items(query: string): string[];
  show(props: SuggestionProps<string> | null): void;
  onKey(event: KeyboardEvent): boolean;
}

const MOST_SHOWN = 8;

export function useFieldMenu(fields: readonly string[]) {
  const [open, setOpen] = useState<Open | null>(null);
  const now = useRef({ fields, open });
  now.current = { fields, open };
  const controller = useMemo<Controller>(
    () => ({
      items: (query) =>
        now.current.fields
          .filter((field) =>
            field.includes(query.trim().toLowerCase().replaceAll(" ", "_").replace(/^\{/, "")),
          )
          .slice(0, MOST_SHOWN),
      show: (props) => {
        const rect = props?.clientRect?.();
        setOpen(
          props && rect ? { items: props.items, at: 0, rect, choose: (field) => props.command(field) } : null,
        );
      },
      onKey: ({ key }) => {
        const shown = now.current.open;
        if (!shown || shown.items.length === 0) return false;
        const by = key === "ArrowDown" ? 1 : key === "ArrowUp" ? -1 : 0;
        if (by !== 0) setOpen({ ...shown, at: (shown.at + by + shown.items.length) % shown.items.length });
        else if (key === "Enter" || key === "Tab") shown.choose(shown.items[shown.at] as string);
        else if (key === "Escape") setOpen(null);
        else return false;
        return true;
      },
    }),
    [],
  );
  return { open, controller };
}

/** A field goes in as a chip; a first name with a fallback, since a greeting without one is worse than a plain one. */
export const chipOf = (field: string) => ({
  type: "field",
  attrs: { name: field, fallback: field === "first_name" ? "there" : null },
});

export const fieldSuggestion = (controller: Controller) =>
  Extension.create({
    name: "fieldSuggestion",
    addProseMirrorPlugins() {
      return [
        Suggestion<string>({
          editor: this.editor,
          char: "{",
          allowedPrefixes: null,
          items: ({ query }) => controller.items(query),
          command: ({ editor, range, props: field }) => {
            editor
              .chain()
              .focus()
              .insertContentAt(range, [chipOf(field as unknown as string)])
              .run();
          },
          render: () => ({
            onStart: (props) => controller.show(props),
            onUpdate: (props) => controller.show(props),
            onExit: () => controller.show(null),
            onKeyDown: ({ event }) => controller.onKey(event),
          }),
        }),
      ];
    },
  });

export function FieldMenu(props: {
  menu: ReturnType<typeof useFieldMenu>;
  samples: Readonly<Record<string, string>>;
}) {
  const { open } = props.menu;
  const has = useContext(FieldCounts);
  if (!open || open.items.length === 0) return null;
  return (
    <Popper
      open
      placement="bottom-start"
      anchorEl={{ getBoundingClientRect: () => open.rect }}
      sx={{ zIndex: 10 }}
    >
      <Paper elevation={3}>
        <MenuList dense aria-label="Merge fields">
          {open.items.map((field, index) => (
            <MenuItem
              key={field}
              selected={index === open.at}
              // The editor keeps the focus.
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => open.choose(field)}
              sx={{ gap: 2 }}
            >
              <span>{field.replaceAll("_", " ")}</span>
              <Box component="span" sx={{ ml: "auto", color: "text.secondary", fontSize: 12.5 }}>
                {shortly(props.samples[field] ?? "")}
                {has[field] !== undefined && ` · ${has[field].toLocaleString("en-GB")} have one`}
              </Box>
            </MenuItem>
          ))}
        </MenuList>
      </Paper>
    </Popper>
  );
}

/** A line of a menu holds no more. */
const shortly = (text: string) => (text.length > 48 ? `${text.slice(0, 47)}…` : text);
