import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { moveStep, plannedDays, type Step, stepProblems, stepsAhead, threadSubject } from "./steps.ts";

const email = (id: string, waitDays: number, subject = ""): Step => ({
  id,
  kind: "email",
  name: id,
  waitDays,
  subject,
  body: "Hello",
});
const three = [email("a", 0, "Loans"), email("b", 3), email("c", 4, "Another matter")];

describe("the steps of a sequence", () => {
  it("fall on the working days that their waits add up to", () => {
    expect(plannedDays(three)).toEqual([0, 3, 7]);
  });

  it("lend their subject to the follow-ups in the same thread", () => {
    expect([0, 1, 2].map((index) => threadSubject(three, index))).toEqual([
      "Loans",
      "Loans",
      "Another matter",
    ]);
  });

  it("ahead of a prospect are the ones after the last they got, even if an earlier one is new", () => {
    const edited = [three[0] as Step, email("new", 1), three[1] as Step, three[2] as Step];
    expect(stepsAhead(edited, new Set(["a", "b"])).map((step) => step.id)).toEqual(["c"]);
  });

  it("cannot start without a first subject, without a text, or with no wait before a follow-up", () => {
    const problems = stepProblems([email("a", 0), { ...email("b", 0), body: " " }]);
    expect(problems.map((problem) => `${problem.stepId} ${problem.field}`)).toEqual([
      "a subject",
      "b body",
      "b waitDays",
    ]);
  });

  it("moved to another day leave the later ones on theirs", () => {
    expect(plannedDays(moveStep(three, "b", 2))).toEqual([0, 5, 7]);
    expect(plannedDays(moveStep(three, "b", 9))).toEqual([0, 6, 7]);
    expect(plannedDays(moveStep(three, "b", -9))).toEqual([0, 1, 7]);
  });

  it("stay in order, a day apart, however they are moved", () => {
    fc.assert(
      fc.property(fc.constantFrom("a", "b", "c"), fc.integer({ min: -90, max: 90 }), (id, by) => {
        const days = plannedDays(moveStep(three, id, by));
        expect(days[0]).toBeGreaterThanOrEqual(0);
        expect(days[1]).toBeGreaterThan(days[0] as number);
        expect(days[2]).toBeGreaterThan(days[1] as number);
      }),
    );
  });
});
