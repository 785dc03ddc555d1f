import { describe, expect, it } from "vitest";
import { comparePaths } from "./compare-paths.ts";
import type { Path } from "./path.ts";
import { days, email, fork } from "./test-paths.ts";

const shown = (before: Path, after: Path) =>
  comparePaths(before, after).map(
    (row) => `${row.before?.id ?? "-"} ${row.after?.id ?? "-"} ${row.isSame ? "same" : "other"}`,
  );

describe("two versions side by side", () => {
  it("show what is the same, what changed, what came and what went", () => {
    const before = [email("a"), email("b", 1), email("c", 1)];
    const after = [email("a"), email("c", 2), email("d", 1)];
    expect(shown(before, after)).toEqual(["a a same", "b - other", "c c other", "- d other"]);
  });

  it("put what went first before everything, and keep its order", () => {
    expect(shown([email("a"), email("b", 1), email("c", 1)], [email("c", 1)])).toEqual([
      "a - other",
      "b - other",
      "c c same",
    ]);
  });

  it("go by the order of the later version", () => {
    expect(shown([email("a"), email("b")], [email("b"), email("a")])).toEqual(["b b same", "a a same"]);
  });

  it("compare a fork by what it asks, and its ways node by node", () => {
    const ask = (yes: Path, patience = 3) => [fork("f", { about: "accepted" }, yes, [], days(patience))];
    expect(shown(ask([email("a")]), ask([email("a"), email("b", 1)]))).toEqual([
      "f f same",
      "a a same",
      "- b other",
    ]);
    expect(shown(ask([]), ask([], 5))).toEqual(["f f other"]);
  });
});
