/** What an answer is owed to, and whose people stand behind a number. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { CREDITS, creditOf, type Made, type Start, touchesByStart } from "./credit.ts";
import { FIGURE_NAMES, figuresOf } from "./figures.ts";
import { stepFigures } from "./steps.ts";
import { whoDid } from "./who-did.ts";

const start = (change: Partial<Start> = {}): Start => ({
  ...{
    id: 1,
    version: 1,
    startedAt: 0,
    endedAt: null,
    stoppedAt: null,
    writtenAt: 1,
    reachedAt: 1,
    bouncedAt: null,
  },
  ...{
    answeredAt: null,
    positiveAt: null,
    bookedAt: null,
    optedOutAt: null,
    openedAt: null,
    clickedAt: null,
  },
  ...change,
});
const touch = (nth: number, change: Partial<Made> = {}): Made => ({
  ...{
    journeyId: 1,
    touchId: nth,
    stepId: `step ${nth}`,
    version: 1,
    variantId: "a",
    kind: "email",
  },
  ...{
    at: 10 * nth,
    isReached: true,
    isBounced: false,
    isOpened: false,
    isClicked: false,
    answeredAt: null,
    positiveAt: null,
  },
  ...change,
});
const shares = (...of: Parameters<typeof creditOf>) =>
  creditOf(...of).map(({ touch: { touchId }, share }) => [touchId, share]);

describe("an answer", () => {
  const four = [touch(1), touch(2, { answeredAt: 45 }), touch(3), touch(4)];
  const answered = start({ answeredAt: 45, bookedAt: 35 });

  it("is owed to the touch that it names, to the first, or by position to all before it", () => {
    expect(shares(answered, four, "answered", "answered")).toEqual([[2, 1]]);
    expect(shares(answered, four, "answered", "first")).toEqual([[1, 1]]);
    expect(shares(answered, four, "answered", "shared")).toEqual([
      [1, 0.4],
      [2, expect.closeTo(0.1, 10)],
      [3, expect.closeTo(0.1, 10)],
      [4, 0.4],
    ]);
  });

  it("that names none is owed to the last before it, and nothing that came later shares in it", () => {
    expect(shares(answered, four, "booked", "answered")).toEqual([[3, 1]]);
    expect(shares(answered, four, "booked", "shared").map(([id]) => id)).toEqual([1, 2, 3]);
    expect(shares(start({ bookedAt: 25 }), four, "booked", "shared")).toEqual([
      [1, 0.5],
      [2, 0.5],
    ]);
  });

  it("is owed to nothing where nothing came of it, or nothing went before", () => {
    expect(shares(start(), four, "positive", "answered")).toEqual([]);
    expect(shares(start({ answeredAt: 5 }), four, "answered", "first")).toEqual([]);
  });
});

const instant = fc.option(fc.nat({ max: 60 }));
const world = fc
  .array(
    fc.record({
      course: fc.record({
        ...{
          endedAt: instant,
          stoppedAt: instant,
          writtenAt: instant,
          reachedAt: instant,
          bouncedAt: instant,
        },
        ...{
          answeredAt: instant,
          positiveAt: instant,
          bookedAt: instant,
          optedOutAt: instant,
          openedAt: instant,
          clickedAt: instant,
        },
      }),
      touches: fc.array(fc.nat({ max: 3 }), { maxLength: 4 }),
    }),
    { maxLength: 12 },
  )
  .map((people) => ({
    starts: people.map(({ course }, nth) => start({ ...course, id: nth + 1 })),
    touches: people.flatMap(({ touches }, nth) =>
      [...new Set(touches)].map((step, index) =>
        touch(index + 1, { journeyId: nth + 1, touchId: nth * 10 + index, stepId: `step ${step}` }),
      ),
    ),
  }));

describe("the people behind a number", () => {
  it("are as many as the number says, of the whole and of a step", () => {
    fc.assert(
      fc.property(world, fc.constantFrom(...CREDITS), ({ starts, touches: made }, credit) => {
        const touches = touchesByStart(made);
        const figures = figuresOf(starts);
        for (const name of FIGURE_NAMES)
          expect(whoDid(starts, touches, name, null, credit)).toHaveLength(figures[name]);
        for (const [stepId, step] of stepFigures(starts, touches, credit)) {
          const many = (pick: Parameters<typeof whoDid>[2]) =>
            whoDid(starts, touches, pick, stepId, credit).length;
          expect([many("came"), many("reached"), many("bounced"), many("gone")]).toEqual([
            step.made,
            step.reached,
            step.bounced,
            step.gone,
          ]);
          for (const green of ["answered", "positive", "booked"] as const)
            if (credit === "shared")
              expect(many(green)).toBeGreaterThanOrEqual(Math.floor(step.brought[green]));
            else expect(many(green)).toBe(step.brought[green]);
        }
      }),
    );
  });
});
