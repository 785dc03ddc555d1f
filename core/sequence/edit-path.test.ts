import { describe, expect, it } from "vitest";
import {
  copies,
  duplicate,
  fittingWait,
  gapBefore,
  keepWay,
  move,
  newFork,
  nodeOf,
  putIn,
  remove,
  replace,
  shift,
} from "./edit-path.ts";
import { everyNode, everyStep, type Path } from "./path.ts";
import { days, email, end, fork, task } from "./test-paths.ts";
import { usualDays } from "./wait.ts";

const ids = (path: Path) =>
  everyNode(path)
    .map(({ id }) => id)
    .join(" ");
const waits = (path: Path) =>
  everyStep(path)
    .map(({ wait }) => usualDays(wait))
    .join(" ");
const yes = { forkId: "f", branch: "yes" } as const;
const no = { forkId: "f", branch: "no" } as const;
const path: Path = [
  email("a"),
  fork(
    "f",
    { about: "profile" },
    [email("b", 1), email("c", 1)],
    [fork("g", { about: "address" }, [email("d", 1)], [])],
  ),
  email("e", 1),
];

describe("moving a node", () => {
  it.each<[string, string, Parameters<typeof move>[2], string]>([
    ["forward in its own list counts without itself", "a", { within: null, index: 2 }, "f b c g d a e"],
    ["to the end of its own list", "a", { within: null, index: 3 }, "f b c g d e a"],
    ["back in its own list", "e", { within: null, index: 0 }, "e a f b c g d"],
    ["into the same place of another way", "b", { within: no, index: 0 }, "a f c b g d e"],
    ["behind the last of another way", "b", { within: no, index: 1 }, "a f c g d b e"],
    ["from a way to the top", "c", { within: null, index: 0 }, "c a f b g d e"],
    ["deeper", "a", { within: { forkId: "g", branch: "no" }, index: 0 }, "f b c g d a e"],
    ["with all that is in it", "g", { within: yes, index: 1 }, "a f b g d c e"],
  ])("%s", (_, id, to, result) => expect(ids(move(path, id, to))).toBe(result));

  it.each<[string, string, Parameters<typeof move>[2]]>([
    ["before itself", "b", { within: yes, index: 0 }],
    ["right behind itself", "b", { within: yes, index: 1 }],
    ["that is not there", "x", { within: null, index: 0 }],
    ["into itself", "g", { within: { forkId: "g", branch: "yes" }, index: 0 }],
    ["into what lies in it", "f", { within: { forkId: "g", branch: "yes" }, index: 0 }],
  ])("%s changes nothing", (_, id, to) => expect(move(path, id, to)).toBe(path));
});

describe("what cannot be done", () => {
  it("gives the same path back", () => {
    expect(remove(path, "x")).toBe(path);
    expect(replace(path, "x", () => end("x"))).toBe(path);
    expect(duplicate(path, "x", () => "new")).toBe(path);
    expect(keepWay(path, "x", "yes")).toBe(path);
    expect(keepWay(path, "a", "yes")).toBe(path);
    expect(gapBefore(path, "x")).toBeNull();
    expect(nodeOf(path, "x")).toBeUndefined();
    expect(shift(path, "f", 2, false)).toBe(path);
    expect(shift(path, "x", 2, false)).toBe(path);
    expect(shift(path, "b", 0, false)).toBe(path);
  });
});

describe("a change deep inside", () => {
  it("leaves every other part what it was, so that nothing else is drawn anew", () => {
    const changed = putIn(path, { within: { forkId: "g", branch: "yes" }, index: 1 }, email("new", 1));
    expect(ids(changed)).toBe("a f b c g d new e");
    expect(changed[0]).toBe(path[0]);
    const [before, after] = [nodeOf(path, "f"), nodeOf(changed, "f")] as [
      ReturnType<typeof newFork>,
      ReturnType<typeof newFork>,
    ];
    expect(after).not.toBe(before);
    expect(after.yes).toBe(before.yes);
    const elsewhere: Path = [...path, fork("h", { about: "profile" }, [email("i")], [])];
    expect(remove(elsewhere, "d")[3]).toBe(elsewhere[3]);
  });

  it("finds its place", () => {
    expect(gapBefore(path, "c")).toEqual({ within: yes, index: 1 });
    expect(gapBefore(path, "d")).toEqual({ within: { forkId: "g", branch: "yes" }, index: 0 });
    expect(ids(keepWay(path, "g", "no"))).toBe("a f b c e");
    expect(ids(keepWay(path, "f", "yes"))).toBe("a b c e");
  });
});

describe("a copy", () => {
  let fresh = 0;
  const newId = () => `n${++fresh}`;

  it("stands behind what it was made of, with ids of its own", () => {
    fresh = 0;
    expect(ids(duplicate(path, "f", newId))).toBe("a f b c g d n1 n2 n3 n4 n5 e");
  });

  it("asks about its own steps, and about those outside it as before", () => {
    fresh = 0;
    const asked = (stepId: string) => ({ about: "opened", stepId }) as const;
    const [first, second, third] = copies(
      [email("a"), email("b", 1, { onlyIf: asked("a") }), email("c", 1, { onlyIf: asked("outside") })],
      newId,
    );
    expect(first).not.toHaveProperty("onlyIf");
    expect(second).toMatchObject({ id: "n2", onlyIf: asked("n1") });
    expect(third).toMatchObject({ onlyIf: asked("outside") });
    const [plain] = copies([email("d", 0, { onlyIf: { about: "profile" } })], newId);
    expect(plain).toMatchObject({ onlyIf: { about: "profile" } });
  });
});

describe("shifting a step", () => {
  it("may put the first email, and what is no email, on the day before it", () => {
    expect(waits(shift([email("a", 2), email("b", 3)], "a", -9, false))).toBe("0 3");
    expect(waits(shift([email("a"), task("t", "call", 2)], "t", -9, false))).toBe("0 0");
    expect(waits(shift([email("a"), email("b", 3)], "b", -9, false))).toBe("0 1");
  });

  it("counts in working days, whatever the wait was in", () => {
    const hours = { ...task("t", "call"), wait: { hours: 48 } };
    expect(everyStep(shift([email("a"), hours], "t", 1, false))[1]?.wait).toEqual({ days: 3, working: true });
    const week = { ...task("t", "call"), wait: { days: 7, working: false } };
    expect(everyStep(shift([email("a"), week], "t", 1, false))[1]?.wait).toEqual({ days: 6, working: true });
  });

  it("alone leaves what follows on its day, on every way of a fork", () => {
    const forked: Path = [
      email("a"),
      task("t", "call", 2),
      fork("f", { about: "profile" }, [email("b", 4)], [task("u", "call", 3)]),
      email("c", 5),
    ];
    expect(waits(shift(forked, "t", 1, true))).toBe("0 3 3 2 5");
    // No further than the nearest can give way: b is an email and keeps a day.
    expect(waits(shift(forked, "t", 9, true))).toBe("0 5 1 0 5");
    expect(waits(shift(forked, "t", -1, true))).toBe("0 1 5 4 5");
  });

  it("alone makes way once for a step to which both ways of a fork lead", () => {
    const empty: Path = [task("t", "call", 2), fork("f", { about: "profile" }, [], []), task("u", "call", 4)];
    expect(waits(shift(empty, "t", 1, true))).toBe("3 3");
  });

  it("has nothing to make way where the path ends", () => {
    expect(waits(shift([task("t", "call", 2), end("e")], "t", 5, true))).toBe("7");
    expect(waits(shift([task("t", "call", 2)], "t", 5, true))).toBe("7");
  });

  it("goes no further than a wait may last", () => {
    expect(waits(shift([task("t", "call", 2)], "t", 9_000, false))).toBe("180");
    expect(waits(shift([task("t", "call", 9), email("b", 179)], "t", -9, true))).toBe("0 180");
  });
});

describe("something new", () => {
  it("waits for nothing only where the sequence begins with it", () => {
    expect(fittingWait({ within: null, index: 0 })).toEqual(days(0));
    expect(fittingWait({ within: null, index: 1 })).toEqual(days(3));
    expect(fittingWait({ within: yes, index: 0 })).toEqual(days(3));
  });

  it("that is a fork has two empty ways and waits three working days", () => {
    expect(newFork("f", { about: "accepted" })).toEqual({
      id: "f",
      kind: "fork",
      name: "",
      ask: { about: "accepted" },
      patience: { days: 3, working: true },
      yes: [],
      no: [],
    });
  });
});
