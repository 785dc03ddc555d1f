import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { between, seeded } from "./random.ts";

describe("seeded chance", () => {
  it("is the same for the same keys and another for others, also where the keys read alike", () => {
    expect(between(0, 1, "gap", 1, 23)).toBe(between(0, 1, "gap", 1, 23));
    expect(between(0, 1, "gap", 12, 3)).not.toBe(between(0, 1, "gap", 1, 23));
  });

  it("stays within its bounds and spreads evenly over them", () => {
    fc.assert(
      fc.property(fc.integer(), fc.integer({ min: 1, max: 1000 }), (key, width) => {
        const drawn = between(5, 5 + width, "k", key);
        expect(drawn).toBeGreaterThanOrEqual(5);
        expect(drawn).toBeLessThan(5 + width);
      }),
    );
    const draw = seeded("spread");
    const tenths = new Array<number>(10).fill(0);
    for (let count = 0; count < 10_000; count++) {
      const tenth = Math.floor(draw() * 10);
      tenths[tenth] = (tenths[tenth] ?? 0) + 1;
    }
    for (const count of tenths) expect(Math.abs(count - 1000)).toBeLessThan(150);
  });
});
