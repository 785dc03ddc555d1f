import { describe, expect, it } from "vitest";
import type { Condition } from "./condition.ts";
import { answerSince, type Facts, holds } from "./holds.ts";
import { nothingKnown } from "./test-paths.ts";

const known = (facts: Partial<Facts>): Facts => ({ ...nothingKnown, ...facts });
const at = (stepId: string, instant: number) => new Map([[stepId, instant]]);
const field = (name: string, value: string): Condition => ({ about: "field", field: name, op: "is", value });
const interested: Condition = { about: "label", is: "interested" };
const labels = [
  { label: "away" as const, at: 10 },
  { label: "interested" as const, at: 20 },
];

describe("a condition, as of an instant", () => {
  it.each<[string, Condition, Partial<Facts>, number, boolean]>([
    ["an address that is there", { about: "address" }, { hasAddress: true }, 0, true],
    ["an address that is not", { about: "address" }, { hasAddress: false, hasProfile: true }, 0, false],
    ["a profile that is there", { about: "profile" }, { hasProfile: true }, 0, true],
    ["a profile that is not", { about: "profile" }, { hasProfile: false, hasAddress: true }, 0, false],
    ["a field's value", field("city", "porto"), { fieldValue: () => "Porto" }, 0, true],
    ["a field's other value", field("city", "Porto"), { fieldValue: () => "Faro" }, 0, false],
    ["the field that is asked for", field("city", "Porto"), { fieldValue: (name) => name }, 0, false],
    ["a country by any of its names", field("country", "Germany"), { fieldValue: () => "DE" }, 0, true],
    ["only a country", field("city", "Germany"), { fieldValue: () => "DE" }, 0, false],
    ["the latest label", interested, { labels }, 30, true],
    ["the label of that instant", interested, { labels }, 20, true],
    ["the label of before", interested, { labels }, 19, false],
    ["the label of before, by its name", { about: "label", is: "away" }, { labels }, 19, true],
    ["no label at all", interested, { labels: [] }, 30, false],
    ["an accepted invitation", { about: "accepted" }, { acceptedAt: 5 }, 5, true],
    ["one accepted later", { about: "accepted" }, { acceptedAt: 6 }, 5, false],
    ["one that never was", { about: "accepted" }, { openedAt: at("a", 1) }, 5, false],
    ["an opened email", { about: "opened", stepId: "a" }, { openedAt: at("a", 5) }, 5, true],
    ["another's", { about: "opened", stepId: "b" }, { openedAt: at("a", 5) }, 5, false],
    ["only clicked", { about: "opened", stepId: "a" }, { clickedAt: at("a", 5) }, 5, false],
    ["a click", { about: "clicked", stepId: "a" }, { clickedAt: at("a", 5) }, 5, true],
    ["only opened", { about: "clicked", stepId: "a" }, { openedAt: at("a", 5) }, 5, false],
  ])("%s", (_, condition, facts, instant, met) => {
    expect(holds(condition, known(facts), instant)).toBe(met);
    expect(holds({ ...condition, not: true }, known(facts), instant)).toBe(!met);
  });
});

describe("the answer to a fork", () => {
  const ask = (condition: Condition, facts: Partial<Facts>, now: number) =>
    answerSince(condition, known(facts), { since: 100, deadline: 200, now });

  it("is there at once where it asks how somebody is", () => {
    expect(ask({ about: "profile" }, { hasProfile: true }, 100)).toEqual({ yes: true, at: 100 });
    expect(ask({ about: "profile" }, {}, 100)).toEqual({ yes: false, at: 100 });
    expect(ask({ about: "profile", not: true }, {}, 100)).toEqual({ yes: true, at: 100 });
  });

  it.each<[string, number | null, number, ReturnType<typeof answerSince>]>([
    ["is open while nothing came and there is time", null, 199, null],
    ["is no at the deadline", null, 200, { yes: false, at: 200 }],
    ["is no as of the deadline, however late it is looked at", null, 900, { yes: false, at: 200 }],
    ["is yes as of when it happened", 150, 900, { yes: true, at: 150 }],
    ["is yes as of the arrival where it had happened before", 40, 100, { yes: true, at: 100 }],
    ["is yes at the last instant", 200, 200, { yes: true, at: 200 }],
    ["does not know what has not happened yet", 150, 149, null],
    ["is no where it came too late", 201, 900, { yes: false, at: 200 }],
  ])("on what may happen %s", (_, acceptedAt, now, answer) => {
    expect(ask({ about: "accepted" }, { acceptedAt }, now)).toEqual(answer);
    const turned = answer && { ...answer, yes: !answer.yes };
    expect(ask({ about: "accepted", not: true }, { acceptedAt }, now)).toEqual(turned);
  });

  it("never lies before the arrival, even where there is no patience at all", () => {
    const none = { since: 100, deadline: 90, now: 100 };
    expect(answerSince({ about: "accepted" }, known({ acceptedAt: null }), none)).toEqual({
      yes: false,
      at: 100,
    });
    expect(answerSince({ about: "accepted" }, known({ acceptedAt: 95 }), none)).toEqual({
      yes: true,
      at: 100,
    });
  });

  it.each<[string, [string, number][], number, ReturnType<typeof answerSince>]>([
    ["waits for one", [], 150, null],
    ["takes the one that was there already", [["interested", 50]], 100, { yes: true, at: 100 }],
    [
      "takes the latest of those",
      [
        ["interested", 40],
        ["away", 50],
      ],
      100,
      { yes: false, at: 100 },
    ],
    ["takes one of the very arrival", [["interested", 100]], 100, { yes: true, at: 100 }],
    [
      "takes the first that comes",
      [
        ["interested", 120],
        ["away", 130],
      ],
      190,
      { yes: true, at: 120 },
    ],
    ["says no at once when another comes", [["away", 120]], 190, { yes: false, at: 120 }],
    ["takes one at the last instant", [["interested", 200]], 200, { yes: true, at: 200 }],
    ["does not know one of tomorrow", [["interested", 180]], 179, null],
    ["takes none that comes too late", [["interested", 201]], 300, { yes: false, at: 200 }],
  ])("about a label %s", (_, given, now, answer) => {
    const facts = { labels: given.map(([label, instant]) => ({ label: label as "away", at: instant })) };
    expect(ask(interested, facts, now)).toEqual(answer);
  });
});
