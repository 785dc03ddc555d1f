/** The drawing of a sequence's results: everything of the path is in it, on one scale, and nothing lies on anything else. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { noStepFigures } from "../../core/results/steps";
import { CHANNEL_OF, everyStep, type Path } from "../../core/sequence/path";
import { anyPath, days, email, fork, task } from "../../core/sequence/test-paths";
import type { StepResult } from "../../server/results/one-sequence";
import { type BandDrawing, drawBand } from "./band-geometry";

const resultsOf = (path: Path, made: (nth: number) => number): StepResult[] =>
  everyStep(path).map(({ id, name, kind }, nth) => {
    const people = made(nth);
    const answered = Math.floor(people / 9);
    return {
      ...noStepFigures(id),
      ...{ name, kind, channel: CHANNEL_OF[kind], isRemoved: false },
      ...{ made: people, reached: people, gone: Math.floor(people / 20) },
      brought: { answered, positive: Math.floor(answered / 2), booked: Math.floor(answered / 4) },
    };
  });
const draw = (path: Path, steps: StepResult[], most: number, width = 916): BandDrawing =>
  drawBand(path, steps, { green: "positive", width, most });

/** Thirty steps in all, and five forks, three of them within another's way. */
const long: Path = [
  ...Array.from({ length: 6 }, (_, nth) => email(`a${nth}`, nth === 0 ? 0 : 2)),
  fork(
    "f1",
    { about: "accepted" },
    [
      ...Array.from({ length: 4 }, (_, nth) => task(`b${nth}`, "call", 2)),
      fork("f2", { about: "profile" }, [email("c0", 1), email("c1", 2)], [email("d0", 1), email("d1", 2)]),
    ],
    [
      ...Array.from({ length: 4 }, (_, nth) => email(`e${nth}`, 2)),
      fork("f3", { about: "opened", stepId: "a0" }, [email("g0", 1)], [email("h0", 2)], days(2)),
    ],
  ),
  ...Array.from({ length: 4 }, (_, nth) => email(`i${nth}`, 2)),
  fork("f4", { about: "profile" }, [email("j0", 1), email("j1", 1)], [email("k0", 2)]),
  fork("f5", { about: "clicked", stepId: "a0" }, [email("l0", 1)], [email("m0", 2), email("m1", 2)]),
];

const flatIds = (outline: BandDrawing["outline"]): string[] =>
  outline.flatMap(({ id, ways }) => [id, ...(ways ?? []).flatMap(({ items }) => flatIds(items))]);

function expectSound(path: Path, drawing: BandDrawing): void {
  const steps = drawing.steps.filter(({ result }) => result !== null);
  expect(steps.map(({ id }) => id).sort()).toEqual(
    everyStep(path)
      .map(({ id }) => id)
      .sort(),
  );
  expect([...new Set(flatIds(drawing.outline))].sort()).toEqual(drawing.steps.map(({ id }) => id).sort());
  const drawn = [
    ...drawing.ribbons.map(({ d }) => d),
    ...steps.flatMap((step) => [step.answered, step.gone]),
  ];
  for (const d of drawn) expect(d).not.toMatch(/NaN|Infinity|undefined/);
  for (const { x, y } of drawing.steps) {
    expect(x).toBeGreaterThan(0);
    expect(x).toBeLessThan(drawing.width);
    expect(y).toBeLessThan(drawing.height);
  }
  // A name of some letters has room below each, and a mark its width.
  for (const { labelWidth } of steps) expect(labelWidth).toBeGreaterThan(24);
  for (const [nth, one] of steps.entries())
    for (const other of steps.slice(nth + 1))
      if (one.y === other.y)
        expect(Math.abs(one.x - other.x)).toBeGreaterThanOrEqual((one.labelWidth + other.labelWidth) / 2);
}

describe("the drawing", () => {
  it("holds 30 steps and 5 forks, at a desk and on a phone", () => {
    expect(everyStep(long)).toHaveLength(30);
    const results = resultsOf(long, (nth) => 3_000 - 90 * nth);
    for (const width of [560, 916]) {
      const drawing = draw(long, results, 3_000, width);
      expectSound(long, drawing);
      expect(drawing.ways).toHaveLength(10);
      // No way's words lie on another's.
      for (const [nth, one] of drawing.ways.entries())
        for (const other of drawing.ways.slice(nth + 1))
          expect(Math.abs(one.x - other.x) + Math.abs(one.y - other.y)).toBeGreaterThan(8);
    }
  });

  it("is sound for whatever path, with many, one or nobody on it", () => {
    fc.assert(
      fc.property(anyPath, fc.constantFrom(0, 1, 5_000), (path, people) => {
        fc.pre(everyStep(path).length > 0);
        const results = resultsOf(path, () => people);
        expectSound(path, draw(path, results, Math.max(1, people)));
      }),
    );
  });

  it("is as thick as there are people, on the scale of whatever stands beside it", () => {
    const path = [email("a"), email("b", 2), email("c", 2)];
    const made = [800, 400, 100];
    const thick = (most: number) =>
      draw(
        path,
        resultsOf(path, (nth) => made[nth] ?? 0),
        most,
      ).steps.map(({ thickness }) => thickness);
    const [a = 0, b = 0, c = 0] = thick(800);
    expect([a / b, b / c]).toEqual([2, 4]);
    expect(thick(1_600).map((each) => 2 * each)).toEqual([a, b, c]);
  });
});
