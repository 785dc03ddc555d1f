/** What a bench answers. */
export interface Figure {
  bench: string;
  ratio: number;
  /** "most": the ratio may not be above the limit; "least": not below it. */
  limit: number;
  kind: "most" | "least";
  [detail: string]: string | number;
}

/** The middle of some measurements, so that one slow moment of the machine does not decide. */
export function median(values: readonly number[]): number {
  return values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] as number;
}
