import Box from "@mui/material/Box";
import { type ComponentType, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Key } from "../components/key";
import type { FinderListProps } from "./finder-list";

const NAME = "Find a prospect, company, sequence or mailbox";
const PLACEHOLDER = "Find a prospect, mailbox …";

/**
 * Finds any prospect, company, sequence, mailbox or action. Ctrl K goes there. It stands on every page and is used on
 * few, so what finds comes when somebody goes to the field, and takes over what they have typed.
 */
export function Finder() {
  const field = useRef<HTMLInputElement>(null);
  const [woken, setWoken] = useState<{ List: ComponentType<FinderListProps>; begun: string } | null>(null);

  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        field.current?.focus();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);

  /** Without a connection it stays as it is, and wakes when somebody comes again. */
  const wake = async () => {
    const loaded = await import("./finder-list").catch(() => null);
    const input = field.current;
    // At once, so that no letter falls between the two fields; and nobody who has gone on is called back.
    if (loaded && input && document.activeElement === input)
      flushSync(() => setWoken({ List: loaded.FinderList, begun: input.value }));
  };

  if (woken) return <woken.List field={field} begun={woken.begun} name={NAME} placeholder={PLACEHOLDER} />;
  return (
    <Box sx={LOOK}>
      <input
        ref={field}
        role="combobox"
        aria-label={NAME}
        aria-expanded={false}
        aria-autocomplete="list"
        autoComplete="off"
        placeholder={PLACEHOLDER}
        onFocus={wake}
      />
      <Box component="span" sx={{ display: { xs: "none", md: "flex" } }}>
        <Key>Ctrl K</Key>
      </Box>
    </Box>
  );
}

/** As the field of the list looks, which takes its place. */
const LOOK = {
  display: "flex",
  alignItems: "center",
  width: { xs: 1, md: 262 },
  minWidth: 0,
  height: 34,
  pl: "14px",
  pr: "10px",
  border: "1px solid",
  borderColor: "divider",
  borderRadius: 1,
  bgcolor: "background.default",
  "& input": {
    flex: 1,
    minWidth: 0,
    p: 0,
    border: 0,
    outline: 0,
    bgcolor: "transparent",
    font: "inherit",
    fontSize: 14,
    color: "inherit",
  },
} as const;
