/** Colours of a page: whatever a team chooses, its words can be read (WCAG 2.2, 1.4.3 and 1.4.11). */

export interface Colours {
  /** Buttons, links and the line at the top. As "#1f4f8f". */
  accent: string;
  paper: string;
}

/** What words are written in, on every paper. */
export const INK = "#14213a";
const WHITE = "#ffffff";

const LEAST = { words: 7, accent: 4.5, button: 4.5 } as const;

/** Of relative luminance, 0 to 1. */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const part = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.040_45 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** From 1, the same, to 21, black on white. */
export function contrast(one: string, other: string): number {
  const [light, dark] = [luminance(one), luminance(other)].sort((a, b) => b - a) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

const times = (ratio: number) => ratio.toFixed(1);

/** What is too hard to read, by the colour to change, in words that say how much is missing. */
export function colourProblems({ accent, paper }: Colours): Partial<Record<keyof Colours, string>> {
  const words = contrast(INK, paper);
  const links = contrast(accent, paper);
  const buttons = contrast(WHITE, accent);
  return {
    ...(words < LEAST.words && {
      paper: `Words on it would be hard to read: ${times(words)} to 1, and ${LEAST.words} are needed. Choose a lighter one.`,
    }),
    ...((links < LEAST.accent || buttons < LEAST.button) && {
      accent: `Links and buttons would be hard to read: ${times(Math.min(links, buttons))} to 1, and ${LEAST.accent} are needed. Choose a darker one.`,
    }),
  };
}
