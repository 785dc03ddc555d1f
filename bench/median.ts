/** The middle of some measurements, so that one slow moment of the machine does not decide. */
export function median(values: readonly number[]): number {
  return values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] as number;
}
