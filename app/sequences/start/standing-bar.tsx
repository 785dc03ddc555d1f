import Box from "@mui/material/Box";
import { LEFT_OUT, type Standing, WAITING } from "../../../core/sequence/standing";
import { COLORS, WORDS } from "./standing-words";

/** Everybody as one bar: who goes now, who waits for what. */
export function StandingBar({ counts }: { counts: Record<Standing, number> }) {
  const parts = (["ready", ...WAITING, ...LEFT_OUT] as Standing[]).filter((each) => counts[each] > 0);
  const all = parts.reduce((sum, each) => sum + counts[each], 0);
  if (all === 0) return null;
  return (
    <Box
      sx={{ display: "flex", gap: "2px", borderRadius: 1, overflow: "hidden", mb: 2, height: 34 }}
      aria-hidden
    >
      {parts.map((standing) => {
        const { tone, waits, pill } = WORDS[standing];
        const share = counts[standing] / all;
        return (
          <Box
            key={standing}
            title={`${counts[standing]} ${waits}`}
            sx={{
              ...COLORS[tone],
              flex: `${Math.max(share, 0.035)} 1 0`,
              px: 1.25,
              display: "flex",
              alignItems: "center",
              fontSize: 13,
              fontWeight: 650,
              whiteSpace: "nowrap",
              overflow: "hidden",
            }}
          >
            {counts[standing]}
            {share > 0.12 && ` ${standing === "ready" ? "start now" : pill}`}
          </Box>
        );
      })}
    </Box>
  );
}
