/** Each finding on worlds that are drawn: where it is true, where it is false, and where too little is known. */
import { describe, expect, it } from "vitest";
import { type Draw, seeded } from "../random.ts";
import { type Made, type Start, touchesByStart } from "./credit.ts";
import { figuresOf } from "./figures.ts";
import { type Finding, findingsOf } from "./findings.ts";
import { groupsOf, type Someone } from "./groups.ts";
import { hoursOf, type Sent, stretchesOf } from "./hours.ts";
import { howLong } from "./how-long.ts";
import { stepFigures } from "./steps.ts";

const DAY = 86_400_000;

interface World {
  people: number;
  /** By step, the chance that somebody who got it answers and wants to talk. */
  rates: number[];
  calls?: number[];
  /** Factors of the first step's chance, by wording. */
  wordings?: number[];
  bounce?: number;
  optOut?: number;
  /** Factors by job, and by hour of the day. */
  jobs?: Record<string, number>;
  hours?: Record<number, number>;
}

const BLANK = {
  endedAt: null,
  stoppedAt: null,
  writtenAt: null,
  reachedAt: null,
  bouncedAt: null,
  answeredAt: null,
  positiveAt: null,
  bookedAt: null,
  optedOutAt: null,
  openedAt: null,
  clickedAt: null,
};

function findings(world: World, draw: Draw): Finding[] {
  const {
    people,
    rates,
    calls = [],
    wordings = [1],
    bounce = 0,
    optOut = 0,
    jobs = { registrar: 1 },
    hours = { 10: 1 },
  } = world;
  const starts: Start[] = [];
  const touches: Made[] = [];
  const someones: Someone[] = [];
  const sent: Sent[] = [];
  const names = Object.keys(jobs);
  const times = Object.keys(hours).map(Number);
  for (let id = 1; id <= people; id++) {
    const start: Start = { id, version: 1, ...BLANK, startedAt: id };
    const job = names[Math.floor(draw() * names.length)] as string;
    starts.push(start);
    for (const [nth, rate] of rates.entries()) {
      const at = (nth + 1) * DAY;
      const isBack = nth === 0 && draw() < bounce;
      const variant = nth === 0 ? Math.floor(draw() * wordings.length) : 0;
      const hour = times[Math.floor(draw() * times.length)] as number;
      const factor = (nth === 0 ? (wordings[variant] ?? 1) : 1) * (jobs[job] ?? 1) * (hours[hour] ?? 1);
      const isHit = !isBack && draw() < rate * factor;
      start.writtenAt ??= at;
      if (isBack) start.bouncedAt = at;
      else start.reachedAt ??= at;
      touches.push({
        ...{
          journeyId: id,
          touchId: id * 100 + nth,
          stepId: `step ${nth}`,
          version: 1,
          variantId: "ab"[variant] ?? "a",
        },
        ...{ kind: calls.includes(nth) ? "call" : "email", at, isBounced: isBack },
        ...{
          isReached: !isBack,
          answeredAt: isHit ? at + 1 : null,
          positiveAt: isHit ? at + 1 : null,
        },
        ...{ isOpened: false, isClicked: false },
      });
      sent.push({ weekday: 2, hour, isHit });
      if (isBack) break;
      if (isHit) {
        start.answeredAt = at + 1;
        start.positiveAt = at + 1;
        break;
      }
      if (nth === 0 && draw() < optOut) {
        start.optedOutAt = at + 1;
        break;
      }
    }
    start.endedAt = DAY * 30;
    someones.push({ values: { title: [job] }, isHit: start.positiveAt !== null });
  }
  const figures = stepFigures(starts, touchesByStart(touches), "answered");
  const first = touches.filter(({ stepId, isReached }) => stepId === "step 0" && isReached);
  return findingsOf({
    green: "positive",
    figures: figuresOf(starts),
    aMonth: 200,
    steps: [...figures.values()].map((step, nth) => ({
      ...step,
      name: step.stepId,
      isCall: calls.includes(nth),
    })),
    worded: [
      {
        stepId: "step 0",
        name: "Opening",
        aDay: 20,
        wordings: wordings.map((_, nth) => {
          const own = first.filter(({ variantId }) => variantId === "ab"[nth]);
          return {
            id: "ab"[nth] ?? "",
            part: own.filter(({ positiveAt }) => positiveAt !== null).length,
            whole: own.length,
          };
        }),
      },
    ],
    groups: groupsOf(someones),
    stretches: stretchesOf(sent),
    howLong: howLong(starts, touchesByStart(touches), "positive"),
  });
}

/** In how many of so many worlds a finding is made. */
const share = (kind: Finding["kind"], world: World, worlds = 16): number => {
  let found = 0;
  for (let nth = 0; nth < worlds; nth++)
    if (findings(world, seeded(kind, nth, JSON.stringify(world))).some((each) => each.kind === kind)) found++;
  return found / worlds;
};

const EVEN = { people: 600, rates: [0.08, 0.06, 0.05] };

describe("a finding is made where it is true, hardly ever where it is not, and never of a handful", () => {
  it.each<[Finding["kind"], World, World, World]>([
    [
      "wording_better",
      { ...EVEN, people: 1_200, wordings: [1, 2.2] },
      { ...EVEN, wordings: [1, 1] },
      { ...EVEN, people: 30, wordings: [1, 2.2] },
    ],
    [
      "wordings_open",
      { ...EVEN, people: 150, wordings: [1, 1] },
      { ...EVEN, people: 2_000, wordings: [1, 2.2] },
      EVEN,
    ],
    [
      "end_early",
      { people: 600, rates: [0.1, 0.08, 0.005, 0.005] },
      { people: 600, rates: [0.06, 0.06, 0.06, 0.06] },
      { people: 25, rates: [0.1, 0.08, 0.005, 0.005] },
    ],
    [
      "end_early",
      { people: 600, rates: [0.1, 0.08, 0.005, 0.005] },
      // Each later touch brings little, and all of them together a good part.
      { people: 900, rates: [0.12, 0.025, 0.025, 0.02] },
      { people: 25, rates: [0.1, 0.08, 0.005, 0.005] },
    ],
    [
      "call_pays",
      { people: 500, rates: [0.08, 0.03, 0.12, 0.03], calls: [2] },
      { people: 500, rates: [0.08, 0.04, 0.04, 0.04], calls: [2] },
      { people: 20, rates: [0.08, 0.03, 0.12, 0.03], calls: [2] },
    ],
    ["step_silent", { people: 400, rates: [0.05, 0, 0.06] }, EVEN, { people: 40, rates: [0.05, 0, 0.06] }],
    [
      "group_differs",
      { ...EVEN, jobs: { registrar: 1.8, "facilities manager": 0.4 } },
      { ...EVEN, jobs: { registrar: 1, "facilities manager": 1 } },
      { ...EVEN, people: 20, jobs: { registrar: 1.8, "facilities manager": 0.4 } },
    ],
    [
      "time_differs",
      { ...EVEN, people: 900, hours: { 8: 2.2, 12: 0.7, 16: 0.7 } },
      { ...EVEN, hours: { 8: 1, 12: 1, 16: 1 } },
      { ...EVEN, people: 8, hours: { 8: 2.2, 12: 0.7, 16: 0.7 } },
    ],
    [
      "many_bounce",
      { ...EVEN, bounce: 0.08 },
      { ...EVEN, bounce: 0.01 },
      { ...EVEN, people: 12, bounce: 0.08 },
    ],
    [
      "many_opt_out",
      { ...EVEN, optOut: 0.06 },
      { ...EVEN, optOut: 0.005 },
      { ...EVEN, people: 12, optOut: 0.06 },
    ],
  ])("%s", (kind, isTrue, isFalse, tooSmall) => {
    expect(share(kind, isTrue)).toBeGreaterThan(0.8);
    expect(share(kind, isFalse)).toBeLessThanOrEqual(0.13);
    expect(share(kind, tooSmall)).toBeLessThanOrEqual(kind === "wordings_open" ? 0 : 0.05);
  });

  it("wordings_alike", () => {
    expect(share("wordings_alike", { people: 2_500, rates: [0.3], wordings: [1, 1] }, 6)).toBe(1);
    expect(share("wordings_alike", { people: 2_000, rates: [0.1], wordings: [1, 1.8] }, 8)).toBe(0);
    expect(share("wordings_alike", { people: 60, rates: [0.1], wordings: [1, 1] }, 8)).toBe(0);
  });
});

describe("of several findings", () => {
  it("what harms comes first, then what is worth most, and none contradicts another", () => {
    for (let nth = 0; nth < 8; nth++) {
      const found = findings(
        {
          ...{ people: 1_500, rates: [0.1, 0.08, 0, 0.002], wordings: [1, 2], bounce: 0.08 },
          jobs: { registrar: 1.8, "facilities manager": 0.4 },
        },
        seeded("several", nth),
      );
      const kinds = found.map(({ kind }) => kind);
      expect(kinds[0]).toBe("many_bounce");
      const worths = found.slice(1).map(({ worth }) => worth);
      expect(worths).toEqual(worths.toSorted((a, b) => b - a));
      // The tail is said once, and not step by step besides; of one attribute only its clearest group.
      expect(kinds.includes("end_early") && kinds.includes("step_silent")).toBe(false);
      expect(kinds.filter((kind) => kind === "group_differs").length).toBeLessThanOrEqual(1);
      expect(new Set(found.map(({ key }) => key)).size).toBe(found.length);
    }
  });
});

it("hours are drawn towards the whole, the more the fewer there are", () => {
  const sent = (hour: number, part: number, whole: number): Sent[] =>
    Array.from({ length: whole }, (_, nth) => ({ weekday: 1, hour, isHit: nth < part }));
  const [few, many] = hoursOf([...sent(9, 1, 2), ...sent(10, 50, 500)]);
  expect(few?.expected).toBeGreaterThan(0.1);
  expect(few?.expected).toBeLessThan(0.14);
  expect(many?.expected).toBeCloseTo(0.1, 2);
});
