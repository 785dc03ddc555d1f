import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { copies, duplicate, gapAfter, gapBefore, keepWay, move, putIn, remove, shift } from "./edit-path.ts";
import { countTouches, layOutPath } from "./lay-out-path.ts";
import { movePlace } from "./move-place.ts";
import { everyNode, everyStep, type Path, spotsOf, threadSubject } from "./path.ts";
import { pathProblems, pushyRemarks } from "./path-problems.ts";
import { pathSchema } from "./path-schema.ts";
import { anyPath, days, email, end, fork, task } from "./test-paths.ts";
import { variantOf } from "./variant-of.ts";
import { usualDays } from "./wait.ts";

const ids = (path: Path) => everyNode(path).map(({ id }) => id);
const forked = [
  email("a"),
  task("invite", "invitation", 2),
  fork(
    "f",
    { about: "accepted" },
    [task("msg", "social_message", 1)],
    [email("b", 2), email("c", 3)],
    days(5),
  ),
  email("last", 4),
];
const seen = { tracksOpens: true, tracksClicks: true, stopsOnReply: true };
const messages = (path: Path, settings = seen) => pathProblems(path, settings).map(({ message }) => message);

describe("a path", () => {
  it("is read from JSON, with what it leaves out filled in", () => {
    const [step] = pathSchema.parse([
      {
        id: "x",
        kind: "call",
        name: "Ring",
        wait: { days: 1, working: true },
        text: "Ask for the registrar",
      },
    ]);
    expect(step).toMatchObject({ journey: "waits", skipAfter: null });
  });

  it.each([
    ["the same id twice", [email("a"), email("a", 1)], "Two steps have the id"],
    ["more than 60 steps", Array.from({ length: 61 }, (_, index) => email(`s${index}`)), "At most 60 steps"],
    ["a wait that is none", [{ ...email("a"), wait: { days: -1, working: true } }], ""],
  ])("with %s is refused", (_, path, words) => {
    const read = pathSchema.safeParse(path);
    expect(read.success).toBe(false);
    expect(read.error?.issues.map(({ message }) => message).join()).toContain(words);
  });

  it("of 60 steps is read, and a step in a fork counts, too", () => {
    const many = (count: number) => Array.from({ length: count }, (_, index) => email(`s${index}`, index));
    expect(pathSchema.safeParse(many(60)).success).toBe(true);
    const within = [fork("f", { about: "profile" }, many(59), [])];
    expect(pathSchema.safeParse(within).success).toBe(true);
    expect(pathSchema.safeParse([...within, email("one more", 1)]).success).toBe(false);
    const twice = [fork("f", { about: "profile" }, [email("a")], [email("a")])];
    expect(JSON.stringify(pathSchema.safeParse(twice).error?.issues)).toContain("Two steps have the id “a”");
  });

  it.each([
    ["2026-06-09", true],
    ["2026-02-31x", false],
    ["x2026-06-09", false],
    ["2026-13-01", false],
    ["09.06.2026", false],
  ])("that waits until %s is read: %s", (date, fits) => {
    const path = [{ ...email("a"), wait: { date, time: "10:00" } }];
    expect(pathSchema.safeParse(path).success).toBe(fits);
  });

  it("50 forks deep is refused with a reason, and quickly", () => {
    let deep: Path = [email("a")];
    for (let depth = 0; depth < 50; depth++) deep = [fork(`f${depth}`, { about: "profile" }, deep, [])];
    expect(pathSchema.safeParse(deep).success).toBe(false);
    expect(JSON.stringify(pathSchema.safeParse(deep).error?.issues)).toContain("at most 6 deep");
  });

  it("knows what follows a branch and which emails surely came before", () => {
    const spots = spotsOf(forked);
    expect(spots.get("c")?.next?.id).toBe("last");
    expect(spots.get("msg")?.next?.id).toBe("last");
    expect(spots.get("last")?.emailsBefore.map(({ id }) => id)).toEqual(["a"]);
    expect(threadSubject(forked, "last", { subject: "" })).toBe("Loans");
  });

  it("stays readable, and loses nothing else, whatever is done to it", () => {
    let fresh = 0;
    const newId = () => `new${++fresh}`;
    fc.assert(
      fc.property(anyPath, fc.nat(), fc.nat(), (path, one, other) => {
        const all = ids(path);
        const [a, b] = [all[one % all.length], all[other % all.length]];
        if (a === undefined || b === undefined) return;
        const to = gapBefore(path, b);
        const moved = to ? move(path, a, to) : path;
        expect(ids(moved).toSorted()).toEqual(all.toSorted());
        expect(ids(remove(path, a)).length).toBeLessThan(all.length);
        const doubled = duplicate(path, a, newId);
        expect(new Set(ids(doubled)).size).toBe(ids(doubled).length);
        for (const each of [
          moved,
          remove(path, a),
          doubled,
          shift(path, a, 3, true),
          shift(path, a, -3, false),
        ])
          expect(pathSchema.safeParse(each).success || ids(each).length > 60).toBe(true);
      }),
    );
  });
});

describe("a thread", () => {
  const wording = (id: string, subject: string) => ({ id, weight: 1, subject, body: "x" });
  const subjectAt = (path: Path, id: string, subject = "") => threadSubject(path, id, { subject });

  it("is named by the nearest email before that began one, or by the email itself", () => {
    const path = [
      email("a", 0, { variants: [wording("x", " One ")] }),
      email("b", 1, { variants: [wording("x", "")] }),
      email("c", 1, { variants: [wording("x", ""), wording("y", "Two ")] }),
      email("d", 1),
    ];
    expect(subjectAt(path, "b")).toBe("One");
    expect(subjectAt(path, "d")).toBe("Two");
    expect(subjectAt(path, "d", "  ")).toBe("Two");
    expect(subjectAt(path, "d", " Three ")).toBe("Three");
    expect(subjectAt(path, "gone")).toBe("");
    expect(subjectAt([email("a", 0, { variants: [wording("x", "")] }), email("b", 1)], "b")).toBe("");
  });

  it("goes on only from what surely came before", () => {
    const only = email("b", 1, { onlyIf: { about: "profile" }, variants: [wording("x", "Two")] });
    const draft = email("a", 0, { kind: "approved_email", variants: [wording("x", "One")] });
    expect(subjectAt([draft, only, email("c", 1)], "c")).toBe("One");
    expect(spotsOf([end("e"), email("z")]).get("e")?.next).toBeNull();
    const path = [email("a"), email("b", 1)];
    expect(spotsOf(path)).toBe(spotsOf(path));
  });
});

describe("editing", () => {
  it("puts in, takes out and moves steps between the ways of a fork", () => {
    const put = putIn(forked, { within: { forkId: "f", branch: "yes" }, index: 1 }, email("new", 1));
    expect(ids(put)).toEqual(["a", "invite", "f", "msg", "new", "b", "c", "last"]);
    expect(ids(move(put, "c", { within: { forkId: "f", branch: "yes" }, index: 0 }))).toEqual(
      ["a", "invite", "f", "c", "msg", "new", "b", "last"], // its own place among them
    );
    expect(move(forked, "f", { within: { forkId: "f", branch: "yes" }, index: 0 })).toBe(forked);
    expect(ids(keepWay(forked, "f", "no"))).toEqual(["a", "invite", "b", "c", "last"]);
    expect(gapAfter(forked, "last")).toEqual({ within: null, index: 4 });
  });

  it("shifts what follows along, or leaves it on its day", () => {
    const three = [email("a"), email("b", 3), email("c", 4)];
    const waits = (path: Path) => everyStep(path).map(({ wait }) => usualDays(wait));
    expect(waits(shift(three, "b", 2, false))).toEqual([0, 5, 4]);
    expect(waits(shift(three, "b", 2, true))).toEqual([0, 5, 2]);
    // No further than the next one gives way, and never onto the day of the email before.
    expect(waits(shift(three, "b", 9, true))).toEqual([0, 6, 1]);
    expect(waits(shift(three, "b", -9, true))).toEqual([0, 1, 6]);
  });

  it("copies a step with an id of its own, and what is asked about it is asked about the copy", () => {
    let count = 0;
    const copied = copies(
      [email("a"), fork("f", { about: "opened", stepId: "a" }, [email("b", 1)], [])],
      () => `c${++count}`,
    );
    expect(copied[1]).toMatchObject({ id: "c2", ask: { stepId: "c1" }, yes: [{ id: "c3" }] });
  });
});

describe("moving to a new version", () => {
  it("leaves everybody before the step they stood before, if it is still there", () => {
    expect(movePlace(forked, [email("new"), ...forked], "invite", new Set(["a"]))).toEqual({
      kind: "stays",
      nodeId: "invite",
    });
  });

  it("puts whoever stood before a removed step before the next that is left", () => {
    expect(movePlace(forked, remove(forked, "c"), "c", new Set())).toEqual({ kind: "moves", nodeId: "last" });
    expect(movePlace(forked, [email("a")], "c", new Set(["a", "invite", "b"]))).toEqual({ kind: "lost" });
  });

  it("loses nobody silently, and repeats no step", () => {
    fc.assert(
      fc.property(anyPath, anyPath, fc.nat(), (from, to, pick) => {
        const all = everyNode(from);
        const node = all[pick % all.length];
        if (!node) return;
        const begun = new Set(all.slice(0, pick % all.length).map(({ id }) => id));
        const moved = movePlace(from, to, node.id, begun);
        if (moved.kind === "lost") return;
        expect(ids(to)).toContain(moved.nodeId);
        if (moved.kind === "moves") expect(begun.has(moved.nodeId)).toBe(false);
      }),
    );
  });
});

describe("a wording", () => {
  const wordings = (weights: number[]) =>
    weights.map((weight, index) => ({ id: `v${index}`, weight, subject: "", body: "" }));
  const shares = (weights: number[]) => {
    const counts = weights.map(() => 0);
    for (let journey = 0; journey < 4_000; journey++) {
      const drawn = Number(variantOf("s", wordings(weights), journey).id.slice(1));
      counts[drawn] = (counts[drawn] ?? 0) + 1;
    }
    return counts.map((count) => count / 4_000);
  };

  it("is drawn by its weight, and the same for one journey", () => {
    const [a, b, c] = shares([50, 30, 20]);
    expect(a).toBeCloseTo(0.5, 1);
    expect(b).toBeCloseTo(0.3, 1);
    expect(c).toBeCloseTo(0.2, 1);
    expect(variantOf("s", wordings([1, 1]), 12)).toEqual(variantOf("s", wordings([1, 1]), 12));
  });

  it("that is new takes only those it wins, and one without weight nobody", () => {
    for (let journey = 0; journey < 500; journey++) {
      const before = variantOf("s", wordings([1, 1]), journey).id;
      expect([before, "v2"]).toContain(variantOf("s", wordings([1, 1, 1]), journey).id);
    }
    expect(shares([0, 1])).toEqual([0, 1]);
  });
});

describe("what keeps a path from starting", () => {
  it("is nothing for one that is well made", () => expect(messages(forked)).toEqual([]));

  it.each<[string, Path, string]>([
    ["no step", [], "Add a first step"],
    [
      "no subject at first",
      [email("a", 0, { variants: [{ id: "a", weight: 1, subject: "", body: "x" }] })],
      "first email needs a subject",
    ],
    [
      "no subject on one of two ways",
      [fork("f", { about: "profile" }, [email("a")], []), email("b", 1)],
      "first email needs a subject",
    ],
    [
      "no text",
      [email("a", 0, { variants: [{ id: "a", weight: 1, subject: "x", body: " " }] })],
      "no text yet",
    ],
    [
      "a follow-up without a wait",
      [email("a"), { ...email("b", 1), wait: days(0) }, email("c", 3)],
      "at least one working day",
    ],
    [
      "two ways that are the same",
      [email("a"), fork("f", { about: "profile" }, [email("b", 1)], [email("c", 1, { name: "b" })])],
      "two ways that are the same",
    ],
    [
      "a fork on an invitation that nobody sends",
      [email("a"), fork("f", { about: "accepted" }, [email("b", 1)], [])],
      "no invitation goes out before",
    ],
    [
      "a fork on an email of the other way",
      [
        fork(
          "f",
          { about: "profile" },
          [email("a")],
          [fork("g", { about: "opened", stepId: "a" }, [email("b", 1)], [])],
        ),
      ],
      "does not come before",
    ],
    [
      "a step for a label when a reply stops",
      [email("a"), email("b", 1, { onlyIf: { about: "label", is: "interested" } })],
      "a reply ends the sequence",
    ],
    ["a step after an end", [email("a"), end("e"), email("b", 1)], "after an end"],
    [
      "a step after two ways that end",
      [fork("f", { about: "profile" }, [email("a"), end("e")], [end("g")]), email("b", 1)],
      "after an end",
    ],
    [
      "no patience",
      [email("a"), fork("f", { about: "opened", stepId: "a" }, [email("b", 1)], [], days(0))],
      "takes time",
    ],
    [
      "wordings that nobody gets",
      [email("a", 0, { variants: [{ id: "a", weight: 0, subject: "x", body: "y" }] })],
      "weight 0",
    ],
    [
      "no wait anywhere",
      [email("a"), task("t", "call"), task("v", "profile_view"), task("u", "errand")],
      "everything would come at once",
    ],
  ])("%s", (_, path, words) => expect(messages(path).join()).toContain(words));

  it("opens that are not seen", () => {
    const path = [email("a"), fork("f", { about: "opened", stepId: "a" }, [email("b", 1)], [])];
    expect(messages(path, { ...seen, tracksOpens: false }).join()).toContain("opens are not seen");
  });
});

describe("where a path gets pushy", () => {
  it.each<[string, Path, string | null]>([
    ["three emails a fortnight", [email("a"), email("b", 5), email("c", 5)], null],
    [
      "three emails in a row within few days",
      [email("a"), email("b", 2), email("c", 2)],
      "third email in a row",
    ],
    [
      "the same with a call in between",
      [email("a"), email("b", 2), task("t", "call", 1), email("c", 2)],
      null,
    ],
    ["a follow-up on the next day", [email("a"), email("b", 1)], "within one working day"],
    [
      "an invitation after a no",
      [task("i", "invitation"), fork("f", { about: "accepted" }, [], [task("j", "invitation", 2)])],
      "did not accept",
    ],
  ])("%s", (_, path, words) => {
    const said = pushyRemarks(path).map(({ message }) => message);
    if (words === null) expect(said).toEqual([]);
    else expect(said.join()).toContain(words);
  });
});

describe("the drawing", () => {
  it("has a row for each channel, yes above no, and joins again", () => {
    const drawing = layOutPath(forked);
    const at = (id: string) => drawing.nodes.find(({ node }) => node.id === id);
    expect(drawing.stretches[0]?.lanes).toEqual(["email", "social"]);
    expect(at("msg")?.row).toBeLessThan(at("b")?.row ?? 0);
    expect(at("last")?.at.day).toBe(2 + 5 + 2 + 3 + 4);
    expect(drawing.days).toBe(16);
    expect(drawing.links.filter(({ to }) => to === "last").map(({ from }) => from)).toEqual(["msg", "c"]);
    expect(countTouches(drawing).channels.get("email")).toBe(4);
  });

  it("puts nothing on another, and nothing before what it follows", () => {
    fc.assert(
      fc.property(anyPath, (path) => {
        const { nodes, links, slots } = layOutPath(path);
        expect(nodes.map(({ node }) => node.id).toSorted()).toEqual(ids(path).toSorted());
        const places = nodes.map(({ at, row }) => `${at.day} ${at.slot} ${row}`);
        expect(new Set(places).size).toBe(places.length);
        for (const { at } of nodes) expect(at.slot).toBeLessThan(slots[at.day] ?? 0);
        const whenOf = new Map(nodes.map(({ node, at }) => [node.id, at.day * 1000 + at.slot]));
        for (const { from, to } of links) expect(whenOf.get(from)).toBeLessThan(whenOf.get(to) ?? 0);
      }),
      { numRuns: 300 },
    );
  });
});
