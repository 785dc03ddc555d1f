/** Figures in words: counts that may have fractions, and shares. */

/** Shared credit has fractions: at most one digit of them. */
export const amount = (number: number): string =>
  number.toLocaleString("en-GB", { maximumFractionDigits: 1 });

export const percent = (part: number, whole: number): string =>
  whole === 0 ? "–" : `${Math.round((100 * part) / whole)} %`;

/** "+5", "−5"; `none` where nothing changed. */
export const change = (difference: number, none: string): string =>
  difference === 0 ? none : difference > 0 ? `+${difference}` : `−${-difference}`;
