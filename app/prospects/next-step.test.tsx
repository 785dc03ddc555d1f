/** Where a list leads on to, and what is said of the rows of a file. */
import { describe, expect, it } from "vitest";
import type { ListState } from "../../server/prospects/lists/list-state";
import { shown } from "../components/test-markup";
import { nextStep, runningWords } from "./next-step";
import { ProblemReview } from "./problem-review";

const LIST = { id: 5 };
const state = (change: Partial<ListState>, verdicts: Partial<ListState["verdicts"]> = {}): ListState => ({
  people: 40,
  duplicates: 0,
  blocked: 0,
  verifying: null,
  finding: null,
  columns: 0,
  canFind: true,
  ...change,
  verdicts: { good: 0, likely: 0, doubtful: 0, bad: 0, unchecked: 0, missing: 0, ...verdicts },
});

describe("a list", () => {
  const toDo = state({ duplicates: 2 }, { missing: 3, unchecked: 9 });

  it("leads from station to station, past those where nothing is left to do, and to its sequence", () => {
    expect(nextStep(LIST, toDo, "cleaning")).toEqual({
      label: "Decide 2 pairs of duplicates",
      to: "/lists/5/duplicates",
    });
    expect(nextStep(LIST, toDo, "duplicates")?.label).toBe("Find 3 addresses");
    expect(nextStep(LIST, toDo, "people")?.label).toBe("Find 3 addresses");
    expect(nextStep(LIST, state({}, { unchecked: 1 }), "cleaning")?.label).toBe("Check 1 address");
    expect(nextStep(LIST, toDo, "addresses")).toEqual({
      label: "Write to these 40",
      to: "/sequences/new?list=5",
    });
    expect(nextStep(LIST, state({ canFind: false }, { missing: 3 }), "people")?.label).toBe(
      "Write to these 40",
    );
    expect(nextStep(LIST, state({ people: 1 }), "cleaning")?.label).toBe("Write to this one");
  });

  it("of nobody leads nowhere, and one that is being checked is not to be checked again", () => {
    expect(nextStep(LIST, state({ people: 0 }), "people")).toBeNull();
    const running = state(
      { verifying: { id: 1, done: 1_040, total: 2_000 } as ListState["verifying"] },
      { unchecked: 9 },
    );
    expect(nextStep(LIST, running, "cleaning")?.label).toBe("Write to these 40");
    expect(runningWords(running)).toBe("checking addresses, 1,040 of 2,000");
    expect(runningWords(state({ finding: { id: 1, done: 0, total: 0 } as ListState["finding"] }))).toBe(
      "looking for addresses",
    );
    expect(runningWords(state({}))).toBeNull();
  });
});

describe("what is wrong with a file's rows", () => {
  const leftOut = {
    problem: "broken_address",
    isLeftOut: true,
    count: 1_200,
    examples: [{ line: 7, words: "“x at” has no @" }],
  };
  const flagged = {
    problem: "no_address",
    isLeftOut: false,
    count: 1,
    examples: [{ line: 9, words: "no address" }],
  };
  const review = (problems: object[], hasFile = true) =>
    shown(
      <ProblemReview
        problems={problems as Parameters<typeof ProblemReview>[0]["problems"]}
        importId={3}
        hasFile={hasFile}
      />,
    );

  it("stands kind by kind, with how many, what to do and examples; what is left out can be downloaded", () => {
    expect(review([leftOut, flagged])).toBe(
      "1,200 rows are left out Download them to correct 1,200 rows have no working address Correct the addresses. Line 7 “x at” has no @ and 1,199 more Worth a look 1 row has no address They are added; addresses are looked for afterwards. Line 9 no address",
    );
  });

  it("is not offered for download once the file is gone, and nothing wrong is not mentioned", () => {
    expect(review([leftOut], false)).not.toContain("Download");
    expect(review([])).toBe("");
  });
});
