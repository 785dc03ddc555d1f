/** How large a company is, as directories and lists say it: a number, or a range. */

export interface EmployeeRange {
  from: number;
  /** Null is open: "1,000 and more". */
  to: number | null;
}

/** A number with its thousands parted by a comma, dot, space or apostrophe, or short ("1.2k"). */
function numberOf(text: string): number {
  const short = text.match(/^(\d+(?:[.,]\d+)?)\s*(k|tsd|t|m|mio)$/i);
  if (short)
    return Math.round(
      Number((short[1] ?? "").replace(",", ".")) * (/^m/i.test(short[2] ?? "") ? 1_000_000 : 1_000),
    );
  return Number(text.replace(/(?<=\d)[.,'’\s](?=\d{3}(?!\d))/g, ""));
}

const NUMBER = String.raw`\d+(?:[.,'’\s]\d{3})*(?:[.,]\d+)?\s*(?:k|tsd|mio|m)?`;
const RANGE = new RegExp(`(${NUMBER})\\s*(?:-|–|—|to|bis|a|à|do|til|till|tot|\\.\\.+|/)\\s*(${NUMBER})`, "i");
const LESS = new RegExp(
  `(?:<|≤|up to|less than|fewer than|under|below|bis(?: zu)?|unter|weniger als|moins de|jusqu.à|menos de|hasta|fino a|meno di|até|minder dan|tot|max\\.?)\\s*=?\\s*(${NUMBER})`,
  "i",
);
const MORE = new RegExp(
  `(?:>|≥|over|more than|above|at least|from|über|mehr als|ab|plus de|más de|oltre|più di|mais de|meer dan|min\\.?)\\s*=?\\s*(${NUMBER})|(${NUMBER})\\s*(?:\\+|and more|or more|und mehr|et plus|y más)`,
  "i",
);

/** No cell about a number is longer. */
const LONGEST = 100;

/** A size out of a number or a text such as "51–200", "1,000+", "< 50 employees"; null if there is none. */
export function readEmployees(value: number | string | null | undefined): EmployeeRange | null {
  if (typeof value === "number")
    return Number.isFinite(value) && value >= 0 ? { from: value, to: value } : null;
  const text = (value ?? "").trim();
  if (text.length > LONGEST) return null;
  const [, low, high] = text.match(RANGE) ?? [];
  if (low && high) {
    const [a, b] = [numberOf(low.trim()), numberOf(high.trim())];
    return { from: Math.min(a, b), to: Math.max(a, b) };
  }
  const less = text.match(LESS)?.[1];
  if (less) return { from: 0, to: numberOf(less.trim()) };
  const more = text.match(MORE);
  const least = more?.[1] ?? more?.[2];
  if (least) return { from: numberOf(least.trim()), to: null };
  const alone = text.match(new RegExp(NUMBER, "i"))?.[0];
  const size = alone ? numberOf(alone.trim()) : Number.NaN;
  return Number.isFinite(size) ? { from: size, to: size } : null;
}

/** "51–200", "1,000 and more", "80". */
export function employeesText({ from, to }: EmployeeRange): string {
  const written = (size: number) => size.toLocaleString("en-GB");
  if (to === null) return `${written(from)} and more`;
  return from === to ? written(from) : `${written(from)}–${written(to)}`;
}
