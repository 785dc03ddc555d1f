/** Chance from a seed: the same words give the same numbers (mulberry32, T. Ettinger 2017). Stand-ins share no code with the product. */
export function seeded(...words: (string | number)[]): () => number {
  let state = 2166136261;
  for (const char of words.join("\n")) state = Math.imul(state ^ (char.codePointAt(0) as number), 16777619);
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

export type Draw = ReturnType<typeof seeded>;
export const one = <T>(from: readonly T[], draw: Draw): T => from[Math.floor(draw() * from.length)] as T;

/** The place of the share in which a number in [0, 1) falls; past all of them their count. */
export function shareOf(shares: readonly number[], drawn: number): number {
  let below = 0;
  for (const [at, share] of shares.entries()) {
    below += share;
    if (drawn < below) return at;
  }
  return shares.length;
}
