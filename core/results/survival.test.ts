import { expect, it } from "vitest";
import { survivalOf } from "./survival.ts";

it("is that of the remission times under 6-mercaptopurine", () => {
  // Freireich and others (1963); curve and Greenwood's errors as in Collett, Modelling Survival Data (2015), and most textbooks since.
  const times = "6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+".split(" ");
  const steps = survivalOf(
    times.map((time) => ({ at: Number.parseInt(time, 10), answered: !time.endsWith("+") })),
  );
  const rounded = steps.map(({ at, atRisk, silent, error }) => [
    at,
    atRisk,
    silent.toFixed(4),
    error.toFixed(4),
  ]);
  expect(rounded).toEqual([
    [6, 21, "0.8571", "0.0764"],
    [7, 17, "0.8067", "0.0869"],
    [10, 15, "0.7529", "0.0963"],
    [13, 12, "0.6902", "0.1068"],
    [16, 11, "0.6275", "0.1141"],
    [22, 7, "0.5378", "0.1282"],
    [23, 6, "0.4482", "0.1346"],
  ]);
});

it("ends at nothing when all have answered, and says nothing of nobody", () => {
  expect(survivalOf([])).toEqual([]);
  expect(survivalOf([{ at: 2, answered: false }])).toEqual([]);
  expect(
    survivalOf([
      { at: 1, answered: true },
      { at: 2, answered: true },
    ]).at(-1),
  ).toMatchObject({ silent: 0, error: 0 });
});
