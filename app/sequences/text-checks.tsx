/** The checks of an email in the margin: each with its reason, and a switch. */
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState, useSyncExternalStore } from "react";
import type { CheckName, TextCheck } from "../../core/writing/checks";

const STORE = "saudade-checks-off";
const listeners = new Set<() => void>();

function useSwitchedOff(): [ReadonlySet<string>, (names: readonly CheckName[], off: boolean) => void] {
  const text = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => localStorage.getItem(STORE) ?? "",
    () => "",
  );
  const off = new Set(text.split(" ").filter(Boolean));
  return [
    off,
    (names, isOff) => {
      const next = new Set(off);
      for (const name of names)
        if (isOff) next.add(name);
        else next.delete(name);
      localStorage.setItem(STORE, [...next].join(" "));
      for (const listener of listeners) listener();
    },
  ];
}

const SIGNS: Record<TextCheck["standing"], [sign: string, words: string, color: string]> = {
  fine: ["✓", "Fine", "kelp.main"],
  remark: ["!", "Worth a look", "clay.main"],
  unknown: ["·", "Cannot be judged", "text.secondary"],
};

export function TextChecks({ checks }: { checks: readonly TextCheck[] }) {
  const [off, setOff] = useSwitchedOff();
  const [opened, setOpened] = useState<CheckName | null>(null);
  const shown = checks.filter(({ name }) => !off.has(name));
  const hidden = checks.filter(({ name }) => off.has(name));
  const order = { remark: 0, fine: 1, unknown: 2 };
  return (
    <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {shown
        .toSorted((a, b) => order[a.standing] - order[b.standing])
        .map(({ name, standing, words, why }) => {
          const [sign, said, color] = SIGNS[standing];
          return (
            <Box component="li" key={name} sx={{ mb: 0.6 }}>
              <Box
                component="button"
                type="button"
                aria-expanded={opened === name}
                onClick={() => setOpened(opened === name ? null : name)}
                sx={{
                  all: "unset",
                  display: "flex",
                  gap: 1,
                  cursor: "pointer",
                  fontSize: 14,
                  lineHeight: 1.45,
                  "&:focus-visible": { outline: "2px solid", outlineColor: "tile.main" },
                }}
              >
                <Box
                  component="span"
                  role="img"
                  aria-label={said}
                  sx={{ color, fontWeight: 700, width: 14, flexShrink: 0 }}
                >
                  {sign}
                </Box>
                <Box component="span" sx={standing === "unknown" ? { color: "text.secondary" } : {}}>
                  {words}
                </Box>
              </Box>
              {opened === name && (
                <Typography variant="body2" color="textSecondary" sx={{ pl: 2.75, pt: 0.25 }}>
                  {why}{" "}
                  <Link component="button" type="button" onClick={() => setOff([name], true)}>
                    Do not show this
                  </Link>
                </Typography>
              )}
            </Box>
          );
        })}
      {hidden.length > 0 && (
        <Box component="li">
          <Link
            component="button"
            type="button"
            variant="body2"
            onClick={() =>
              setOff(
                hidden.map(({ name }) => name),
                false,
              )
            }
          >
            {hidden.length === 1
              ? "Show the check you switched off"
              : `Show the ${hidden.length} checks you switched off`}
          </Link>
        </Box>
      )}
    </Box>
  );
}
