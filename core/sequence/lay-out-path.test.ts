import { describe, expect, it } from "vitest";
import { countTouches, daysOfPath, layOutPath, mostEmails } from "./lay-out-path.ts";
import type { Path } from "./path.ts";
import { days, email, end, fork, task } from "./test-paths.ts";

/** "id day.slot row" for each node, in the order in which they are laid. */
const laid = (path: Path) =>
  layOutPath(path).nodes.map(({ node, at, row }) => `${node.id} ${at.day}.${at.slot} ${row}`);
const links = (path: Path) =>
  layOutPath(path).links.map(({ from, to, way }) => `${from}>${to}${way ? ` ${way}` : ""}`);
const profile = { about: "profile" } as const;
const accepted = { about: "accepted" } as const;

it("one person gets at most the emails of one way", () => {
  expect(mostEmails([])).toBe(0);
  expect(mostEmails([email("a"), email("b", 3)])).toBe(2);
  const forked = fork("f", accepted, [email("b", 1), email("c", 3)], [email("d", 1)]);
  expect(mostEmails([email("a"), forked, email("e", 2)])).toBe(4);
  // Whoever's way ends does not get what follows.
  const ending = fork("f", accepted, [email("b", 1), end("x")], [task("t", "call", 1)]);
  expect(mostEmails([email("a"), ending, email("c", 2)])).toBe(2);
  expect(mostEmails([email("a"), fork("f", accepted, [end("x")], [end("y")]), email("c", 2)])).toBe(1);
});

describe("a path without forks", () => {
  it("stands in one stretch, a row for each channel in their order", () => {
    const path = [task("t", "call"), email("a", 2), task("v", "profile_view", 0), task("x", "errand", 1)];
    const drawing = layOutPath(path);
    expect(laid(path)).toEqual(["t 0.0 2", "a 2.0 0", "v 2.1 1", "x 3.0 3"]);
    expect(drawing).toMatchObject({ rows: 4, days: 3, slots: [1, 1, 2, 1] });
    expect(drawing.stretches).toEqual([
      {
        lanes: ["email", "social", "call", "errand"],
        top: 0,
        from: { day: 0, slot: 0 },
        to: { day: 3, slot: 0 },
        way: null,
      },
    ]);
    expect(links(path)).toEqual(["t>a", "a>v", "v>x"]);
  });

  it("draws an end on the first row, and nothing leads on from it", () => {
    expect(laid([email("a"), end("e"), email("b", 1)])).toEqual(["a 0.0 0", "e 0.1 0", "b 1.0 0"]);
    expect(links([email("a"), end("e"), email("b", 1)])).toEqual(["a>e"]);
  });

  it("has a row and a day where there is nothing yet", () => {
    expect(layOutPath([])).toEqual({ nodes: [], stretches: [], links: [], slots: [1], rows: 1, days: 0 });
  });
});

describe("a fork", () => {
  it("stands between its ways, which begin with the names of their rows", () => {
    const path = [email("a"), fork("f", profile, [email("y")], [email("n", 2)])];
    const { stretches, rows } = layOutPath(path);
    expect(laid(path)).toEqual(["a 0.0 0", "f 0.1 0.7", "y 0.3 0", "n 2.0 1.4"]);
    expect(stretches.map(({ way, top, from, to }) => ({ way, top, from, to }))).toEqual([
      { way: null, top: 0, from: { day: 0, slot: 0 }, to: { day: 0, slot: 0 } },
      { way: { forkId: "f", branch: "yes" }, top: 0, from: { day: 0, slot: 2 }, to: { day: 0, slot: 3 } },
      { way: { forkId: "f", branch: "no" }, top: 1.4, from: { day: 0, slot: 2 }, to: { day: 2, slot: 0 } },
    ]);
    expect(rows).toBeCloseTo(2.4);
    expect(links(path)).toEqual(["a>f", "f>y yes", "f>n no"]);
  });

  it("makes wait only the way that is taken where nothing came", () => {
    const path = (ask: Parameters<typeof fork>[1]) => [
      fork("f", ask, [email("y", 1)], [email("n", 1)], days(4)),
    ];
    const day = (ask: Parameters<typeof fork>[1]) => laid(path(ask)).map((each) => each.split(".")[0]);
    expect(day(accepted)).toEqual(["f 0", "y 1", "n 5"]);
    expect(day({ ...accepted, not: true })).toEqual(["f 0", "y 5", "n 1"]);
    expect(day(profile)).toEqual(["f 0", "y 1", "n 1"]);
  });

  it("whose ways are empty still has room for both, and joins behind them", () => {
    const path = [fork("f", accepted, [], [], days(4)), email("z", 1)];
    expect(laid(path)).toEqual(["f 0.0 0.7", "z 5.0 0"]);
    expect(links(path)).toEqual(["f>z yes", "f>z no"]);
    expect(layOutPath(path).rows).toBeCloseTo(2.4);
  });

  it("joins behind every node of both ways", () => {
    const path = [fork("f", profile, [email("y", 1)], [task("t", "call", 2), email("n", 4)]), email("z", 1)];
    expect(laid(path)).toEqual(["f 0.0 0.7", "y 1.0 0", "t 2.0 2.4", "n 6.0 1.4", "z 7.0 0"]);
    expect(links(path)).toEqual(["f>y yes", "f>t no", "t>n", "y>z", "n>z"]);
    expect(layOutPath(path).rows).toBeCloseTo(3.4);
  });

  it.each(["yes", "no"] as const)(
    "one way of which ends carries the rest on the other, here after %s",
    (ends) => {
      const over = [email("x", 1), end("e")];
      const path = [fork("f", profile, ends === "yes" ? over : [], ends === "no" ? over : []), email("z", 2)];
      const z = layOutPath(path).nodes.find(({ node }) => node.id === "z");
      expect(z?.row).toBeCloseTo(ends === "yes" ? 1.4 : 0);
      expect(z?.at.day).toBe(2);
      expect(links(path)).toContain(`f>z ${ends === "yes" ? "no" : "yes"}`);
      expect(links(path).filter((link) => link.includes(">z"))).toHaveLength(1);
    },
  );

  it("a way that ends within a fork of its own is over, too", () => {
    const both = fork("g", profile, [end("e1")], [end("e2")]);
    expect(links([fork("f", profile, [both], [email("n", 1)]), email("z", 1)])).toContain("n>z");
    const z = layOutPath([fork("f", profile, [both], [email("n", 1)]), email("z", 1)]).nodes.at(-1);
    expect(z?.node.id).toBe("z");
    const half = fork("g", profile, [end("e1")], []);
    expect(
      links([fork("f", profile, [half], [email("n", 1)]), email("z", 1)]).filter(
        (link) => link.endsWith(">z") || link.includes(">z "),
      ),
    ).toHaveLength(2);
  });

  it("both ways of which end leaves what stands behind it at the end of everything, without a link", () => {
    const path = [fork("f", profile, [email("y", 3), end("e")], [end("g")]), email("z", 1)];
    const z = layOutPath(path).nodes.find(({ node }) => node.id === "z");
    expect(z?.at.day).toBe(5);
    expect(links(path).filter((link) => link.includes(">z"))).toEqual([]);
  });
});

describe("what a drawing counts", () => {
  it("is every touch by channel, and by week of five days", () => {
    const path = [email("a"), task("t", "call", 4), end("e1"), email("b", 1), email("c", 10)];
    const { channels, weeks } = countTouches(layOutPath(path));
    expect([...channels]).toEqual([
      ["email", 3],
      ["call", 1],
    ]);
    expect(weeks).toEqual([2, 1, 0, 1]);
  });

  it("is how many days the longest way takes", () => {
    expect(daysOfPath([])).toBe(0);
    expect(daysOfPath([end("e")])).toBe(0);
    expect(daysOfPath([email("a"), fork("f", profile, [email("y", 2)], [email("n", 7)])])).toBe(7);
  });
});
