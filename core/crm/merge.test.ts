import fc from "fast-check";
import { expect, it } from "vitest";
import { bringIntoStep, type Sides, type Values } from "./merge.ts";
import { type FieldMap, stageHere, USUAL_SETTINGS, WINNERS } from "./settings.ts";

const one = (wins: FieldMap["wins"]): FieldMap[] => [{ field: "title", there: "job_title", wins }];
const sides = (base: string | null, here: string, there: string): Sides => ({
  base: base === null ? null : { title: base },
  here: { title: here },
  there: { title: there },
});
const later = () => "here" as const;

it.each([
  ["only they changed", "ask", sides("Clerk", "Clerk", "Head"), { toHere: { title: "Head" }, toThere: {} }],
  ["only we changed", "ask", sides("Clerk", "Head", "Clerk"), { toHere: {}, toThere: { title: "Head" } }],
  ["they emptied it", "here", sides("Clerk", "Clerk", ""), { toHere: { title: "" }, toThere: {} }],
  [
    "a blank is filled at the first time",
    "ask",
    sides(null, "", "Head"),
    { toHere: { title: "Head" }, toThere: {} },
  ],
  [
    "both say the same by now",
    "ask",
    sides("Clerk", "Head", "Head"),
    { toHere: {}, toThere: {}, conflicts: [] },
  ],
  [
    "both changed, they win",
    "there",
    sides("Clerk", "Head", "Chief"),
    { toHere: { title: "Chief" }, toThere: {} },
  ],
  [
    "both changed, we win",
    "here",
    sides("Clerk", "Head", "Chief"),
    { toHere: {}, toThere: { title: "Head" } },
  ],
  ["both changed, the later one", "later", sides("Clerk", "Head", "Chief"), { toThere: { title: "Head" } }],
  [
    "both changed, it is asked",
    "ask",
    sides("Clerk", "Head", "Chief"),
    { toHere: {}, toThere: {}, conflicts: ["title"] },
  ],
] as const)("%s (%s)", (_, wins, both, expected) => {
  expect(bringIntoStep(one(wins), both, later)).toMatchObject(expected);
});

it("a conflict keeps what was agreed before, and goes by what a person says", () => {
  const both = sides("Clerk", "Head", "Chief");
  expect(bringIntoStep(one("ask"), both, later).base).toEqual({ title: "Clerk" });
  expect(bringIntoStep(one("ask"), both, later, { title: "there" })).toMatchObject({
    toHere: { title: "Chief" },
    conflicts: [],
    base: { title: "Chief" },
  });
});

it("that somebody is new overrules nothing that the other side knows", () => {
  const fields: FieldMap[] = [{ field: "stage", there: "status", wins: "here" }];
  const both = { base: null, here: { stage: "new" }, there: { stage: "won" } };
  expect(bringIntoStep(fields, both, later)).toMatchObject({ toHere: { stage: "won" }, toThere: {} });
});

it("what one side does not know is left in peace", () => {
  expect(bringIntoStep(one("there"), { base: null, here: { title: "Head" }, there: {} }, later)).toEqual({
    ...{ toHere: {}, toThere: {}, conflicts: [], base: {} },
  });
});

const value = fc.constantFrom("", "a", "b", "c");
const values = fc.record({ title: value, city: value, phone: value });

it("once carried out both sides agree on all but what is asked, and a second time does nothing", () => {
  fc.assert(
    fc.property(
      fc.option(values, { nil: null }),
      values,
      values,
      fc.array(fc.constantFrom(...WINNERS), { minLength: 3, maxLength: 3 }),
      (base, here, there, wins) => {
        const fields = ["title", "city", "phone"].map((field, nth) => ({
          ...{ field, there: field },
          wins: wins[nth] as FieldMap["wins"],
        }));
        const step = bringIntoStep(fields, { base, here, there }, later);
        const after: { here: Values; there: Values } = {
          here: { ...here, ...step.toHere },
          there: { ...there, ...step.toThere },
        };
        for (const { field } of fields)
          if (!step.conflicts.includes(field)) {
            expect(after.here[field]).toBe(after.there[field]);
            // Nothing is made up: what stands now stood on one of the sides.
            expect([here[field as "title"], there[field as "title"]]).toContain(after.here[field]);
          }
        const again = bringIntoStep(fields, { base: step.base, ...after }, later);
        expect(again).toMatchObject({ toHere: {}, toThere: {}, conflicts: step.conflicts });
      },
    ),
  );
});

it("their word for a stage is known however it is written, and another is none", () => {
  const { stages } = USUAL_SETTINGS;
  expect([stageHere(stages, " In Talks "), stageHere(stages, "archived"), stageHere(stages, "")]).toEqual([
    ...["in_conversation", null, null],
  ]);
});
