/** How a company writes its people's addresses, learned from those that are known, and what follows for the others. */

/** Local parts from a first name f and a last name l; the order is how common they are. */
export const PATTERNS = {
  "first.last": (f: string, l: string) => `${f}.${l}`,
  flast: (f: string, l: string) => f.slice(0, 1) + l,
  first: (f: string) => f,
  "f.last": (f: string, l: string) => `${f.slice(0, 1)}.${l}`,
  firstlast: (f: string, l: string) => f + l,
  first_last: (f: string, l: string) => `${f}_${l}`,
  "last.first": (f: string, l: string) => `${l}.${f}`,
  firstl: (f: string, l: string) => f + l.slice(0, 1),
  last: (_: string, l: string) => l,
  "first-last": (f: string, l: string) => `${f}-${l}`,
} as const;
export type Pattern = keyof typeof PATTERNS;
export const PATTERN_NAMES = Object.keys(PATTERNS) as Pattern[];

export interface KnownAddress {
  first: string;
  last: string;
  email: string;
}

const SPELLED: Record<string, string> = {
  ä: "ae",
  ö: "oe",
  ü: "ue",
  ß: "ss",
  ø: "o",
  æ: "ae",
  å: "a",
  ł: "l",
  đ: "d",
};

/** A name as it stands in addresses, in its two spellings: "Müller" is mueller or muller. Empty for other scripts. */
export function addressSpellings(name: string): string[] {
  const lower = name.toLowerCase();
  const spelled = lower.replace(/[äöüßøæåłđ]/g, (letter) => SPELLED[letter] ?? letter);
  const strip = (text: string) =>
    text
      .normalize("NFD")
      .replace(/\p{M}/gu, "")
      .replace(/ß/g, "ss")
      .replace(/ø/g, "o")
      .replace(/[ '’-]/g, "");
  return [...new Set([strip(spelled), strip(lower)])].filter((each) => /^[a-z]+$/.test(each));
}

/** The pattern that an address follows, or null if it follows none. */
export function patternOf({ first, last, email }: KnownAddress): Pattern | null {
  const local = email.slice(0, email.lastIndexOf("@")).toLowerCase();
  const firsts = addressSpellings(first);
  const lasts = addressSpellings(last);
  for (const pattern of PATTERN_NAMES)
    for (const f of firsts) for (const l of lasts) if (PATTERNS[pattern](f, l) === local) return pattern;
  return null;
}

export interface Learned {
  pattern: Pattern;
  /** "7 of 8 known addresses" are of this pattern. */
  count: number;
  of: number;
}

/** The pattern that most known addresses of a domain follow, or null. The more common one wins a tie. */
export function learnPattern(known: readonly KnownAddress[]): Learned | null {
  const counts = new Map<Pattern, number>();
  for (const each of known) {
    const pattern = patternOf(each);
    if (pattern) counts.set(pattern, (counts.get(pattern) ?? 0) + 1);
  }
  let best: Learned | null = null;
  for (const pattern of PATTERN_NAMES) {
    const count = counts.get(pattern) ?? 0;
    if (count > (best?.count ?? 0)) best = { pattern, count, of: known.length };
  }
  return best;
}

/** Addresses to try for somebody, the learned pattern first, each with the pattern it comes from. */
export function addressCandidates(
  { first, last }: { first: string; last: string },
  domain: string,
  learned: Learned | null,
): { email: string; pattern: Pattern }[] {
  const [f] = addressSpellings(first);
  const [l] = addressSpellings(last);
  if (!f || !l) return [];
  const order = learned
    ? [learned.pattern, ...PATTERN_NAMES.filter((name) => name !== learned.pattern)]
    : PATTERN_NAMES;
  return order.map((pattern) => ({ email: `${PATTERNS[pattern](f, l)}@${domain}`, pattern }));
}
