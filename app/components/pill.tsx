import { styled } from "@mui/material/styles";

export type Tone = "tile" | "clay" | "kelp" | "ochre" | "quiet";

/** A word about a state; the word carries the meaning, the colour only repeats it. */
export const Pill = styled("span", { shouldForwardProp: (name) => name !== "tone" })<{ tone: Tone }>(
  ({ theme: { palette, typography }, tone }) => {
    const [background, color] = {
      tile: [palette.tile.wash, palette.tile.deep],
      clay: [palette.clay.wash, palette.clay.main],
      kelp: [palette.kelp.wash, palette.kelp.text],
      ochre: [palette.ochre.wash, palette.ochre.text],
      quiet: [palette.margin, palette.text.secondary],
    }[tone];
    return {
      ...typography.caption,
      display: "inline-block",
      background,
      color,
      borderRadius: 35,
      padding: "1.6px 8.8px",
      lineHeight: 1.45,
      verticalAlign: "middle",
      fontWeight: 600,
      whiteSpace: "nowrap",
    };
  },
);
