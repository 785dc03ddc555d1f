import Box from "@mui/material/Box";

export type Tone = "tile" | "clay" | "kelp" | "ochre" | "quiet";

/** A word about a state; the word carries the meaning, the colour only repeats it. */
export function Pill({ tone, children }: { tone: Tone; children: React.ReactNode }) {
  const colours = {
    tile: ["tile.wash", "tile.deep"],
    clay: ["clay.wash", "clay.main"],
    kelp: ["kelp.wash", "kelp.text"],
    ochre: ["ochre.wash", "ochre.text"],
    quiet: ["margin", "text.secondary"],
  } as const;
  const [background, text] = colours[tone];
  return (
    <Box
      component="span"
      sx={{
        display: "inline-block",
        bgcolor: background,
        color: text,
        borderRadius: 5,
        px: 1.1,
        py: 0.2,
        typography: "caption",
        lineHeight: 1.45,
        verticalAlign: "middle",
        fontWeight: 600,
        whiteSpace: "nowrap",
      }}
    >
      {children}
    </Box>
  );
}
