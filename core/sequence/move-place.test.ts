import { describe, expect, it } from "vitest";
import { movePlace } from "./move-place.ts";
import type { Path } from "./path.ts";
import { email, end, fork } from "./test-paths.ts";

const a = email("a");
const b = email("b", 1);
const c = email("c", 1);
const d = email("d", 1);
const parted = (yes: Path, no: Path) => fork("f", { about: "profile" }, yes, no);
const from: Path = [a, parted([b], [c, end("over")]), d];
const move = (to: Path, nodeId: string, begun: string[] = [], path = from) =>
  movePlace(path, to, nodeId, new Set(begun));

describe("somebody whose step is gone", () => {
  it.each<[string, Path, string, string[], string | null]>([
    ["goes to the next they had ahead", [a, c, d], "b", ["a"], "d"],
    ["goes to the first of either way of a fork that is gone, too", [a, c, d], "f", ["a"], "c"],
    ["goes to yes before no", [a, b, c, d], "f", ["a"], "b"],
    ["goes past what they have begun", [a, b, c, d], "f", ["a", "b"], "c"],
    [
      "goes behind the last step behind them, where nothing that they had ahead is left",
      [a, email("new", 1)],
      "d",
      ["a"],
      "new",
    ],
    [
      "goes to the beginning, where nothing behind them is left either",
      [email("new"), email("other", 1)],
      "b",
      ["a"],
      "new",
    ],
    ["is lost where only an end follows", [a, end("e")], "b", ["a"], null],
    ["is lost where nothing follows", [a], "d", ["a"], null],
    ["is lost where what follows was begun", [a, email("again", 1)], "d", ["a", "again"], null],
    ["is lost in an empty path", [], "b", ["a"], null],
  ])("%s", (_, to, nodeId, begun, lands) => {
    expect(move(to, nodeId, begun)).toEqual(
      lands === null ? { kind: "lost" } : { kind: "moves", nodeId: lands },
    );
  });

  it("is not led behind an end that they had ahead", () => {
    // On the way of no the path is over: d lies ahead of yes only.
    expect(move([a, d], "c", ["a"])).toEqual({ kind: "moves", nodeId: "d" });
    expect(move([email("x"), d], "c", [], [c, end("over")])).toEqual({ kind: "moves", nodeId: "x" });
  });

  it("counts as behind them only what lies on their own way", () => {
    const deep: Path = [a, parted([b, parted2([c], [])], [email("other", 1)]), d];
    // Before c, within both forks: behind are a and b, not the other way.
    const to: Path = [a, b, email("new", 1), email("other", 1)];
    expect(movePlace(deep, to, "c", new Set(["a", "b"]))).toEqual({ kind: "moves", nodeId: "new" });
  });

  it("stays before an unknown place only where the new path knows it", () => {
    expect(move([a], "nowhere")).toEqual({ kind: "moves", nodeId: "a" });
    expect(move([a, email("nowhere", 1)], "nowhere")).toEqual({ kind: "stays", nodeId: "nowhere" });
  });
});

const parted2 = (yes: Path, no: Path) => fork("g", { about: "address" }, yes, no);
