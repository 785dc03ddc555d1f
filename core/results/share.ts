/** A part of a whole, and how far its true share can be told from so few. */
export interface Share {
  part: number;
  whole: number;
  /** Between these shares, from 0 to 1, the true one lies in 19 of 20 cases. */
  low: number;
  high: number;
}

/** z of the 95 % interval. */
const Z = 1.96;

/** A share with its interval (E. B. Wilson, 1927), which holds for few and for none as well. */
export function shareOf(part: number, whole: number): Share {
  if (whole === 0) return { part, whole, low: 0, high: 1 };
  const p = part / whole;
  const centre = p + (Z * Z) / (2 * whole);
  const spread = Z * Math.sqrt((p * (1 - p)) / whole + (Z * Z) / (4 * whole * whole));
  const by = 1 + (Z * Z) / whole;
  return { part, whole, low: Math.max(0, (centre - spread) / by), high: Math.min(1, (centre + spread) / by) };
}
