/**
 * Chance that can be repeated: a generator keyed by stable ids, so that the same input gives the
 * same plan. Hash: xmur3; generator: mulberry32 (both public domain, Bryc 2018).
 */
export type Draw = () => number;

/** A generator of numbers in [0, 1) that depends on nothing but its keys. */
export function seeded(...keys: (string | number)[]): Draw {
  let hash = 1779033703;
  for (const char of keys.join("\u001f")) {
    hash = Math.imul(hash ^ (char.codePointAt(0) ?? 0), 3432918353);
    hash = (hash << 13) | (hash >>> 19);
  }
  let state = hash >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** A number in [low, high) that belongs to these keys. */
export function between(low: number, high: number, ...keys: (string | number)[]): number {
  return low + seeded(...keys)() * (high - low);
}
