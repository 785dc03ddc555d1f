import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { advance, type Walker } from "./advance.ts";
import type { Path } from "./path.ts";
import { stretched } from "./pauses.ts";
import { days, email, fork, lisbon, nothingKnown, task } from "./test-paths.ts";

describe("a pause stops every clock", () => {
  it.each([
    ["that lay before the wait", [{ from: 0, to: 5 }], 20],
    ["within it", [{ from: 12, to: 15 }], 23],
    ["that was on when it began", [{ from: 5, to: 14 }], 24],
    ["that began after it was over", [{ from: 20, to: 90 }], 20],
    [
      "that only the first one's length brings into it",
      [
        { from: 12, to: 17 },
        { from: 22, to: 30 },
      ],
      33,
    ],
    [
      "that overlaps another counts once",
      [
        { from: 12, to: 16 },
        { from: 14, to: 18 },
      ],
      26,
    ],
    [
      "within another counts for nothing",
      [
        { from: 12, to: 18 },
        { from: 13, to: 14 },
      ],
      26,
    ],
  ])("%s", (_what, pauses, over) => expect(stretched(20, 10, pauses)).toBe(over));

  it("whatever there were: what was left before them is left after them", () => {
    const span = fc.tuple(fc.nat(200), fc.nat(40)).map(([from, long]) => ({ from, to: from + long }));
    fc.assert(
      fc.property(fc.array(span, { maxLength: 6 }), fc.nat(100), fc.nat(60), (pauses, since, long) => {
        const over = stretched(since + long, since, pauses);
        const runs = (at: number) => !pauses.some(({ from, to }) => from <= at && at < to);
        let ran = 0;
        for (let at = since; at < over; at++) if (runs(at)) ran++;
        expect(ran).toBe(long);
      }),
    );
  });

  const monday = Date.parse("2026-06-01T09:00:00+01:00");
  const day = 86_400_000;
  const walker = (path: Path, more: Partial<Walker> = {}): Walker => ({
    path,
    calendar: lisbon,
    seed: 1,
    begun: new Map(),
    ...more,
  });

  it("of a touch that is open: it is not left undone while nobody could do it", () => {
    const path = [task("invite", "invitation", 0, { skipAfter: 2 }), email("later", 1)];
    const begun = new Map([["invite", { at: monday, endedAt: null }]]);
    const late = monday + 9 * day;
    const place = { nodeId: "invite", since: monday };
    expect(advance(walker(path, { begun }), place, nothingKnown, late).decisions).toMatchObject([
      { kind: "lapse" },
    ]);
    const pauses = [{ from: monday + day, to: late }];
    const kept = advance(walker(path, { begun, pauses }), place, nothingKnown, late);
    expect(kept).toMatchObject({ decisions: [], move: { for: "touch" } });
    // A day was left of it.
    expect(kept.move.kind === "wait" && kept.move.until).toBeGreaterThanOrEqual(late + day);
  });

  it("of a fork's patience and of an email's wait", () => {
    const path = [
      email("first"),
      fork("f", { about: "clicked", stepId: "first" }, [], [email("again", 0)], days(3)),
    ];
    const at = { nodeId: "f", since: monday };
    const pauses = [{ from: monday + day, to: monday + 8 * day }];
    const asked = (now: number) => advance(walker(path, { pauses }), at, nothingKnown, now).move;
    expect(asked(monday + 8 * day)).toMatchObject({ kind: "wait", for: "fork" });
    expect(asked(monday + 12 * day)).toMatchObject({ kind: "act" });
    const two = [email("first"), email("second", 2)];
    const second = (more: Partial<Walker>) =>
      advance(walker(two, more), { nodeId: "second", since: monday }, nothingKnown, monday).move;
    const usual = second({});
    const paused = second({ pauses: [{ from: monday, to: monday + 7 * day }] });
    expect(usual.kind === "wait" && paused.kind === "wait" && (paused.until ?? 0) - (usual.until ?? 0)).toBe(
      7 * day,
    );
  });

  it("but a date that was named stays that date", () => {
    const path = [email("fair", 0, { wait: { date: "2026-06-12", time: "10:00" } })];
    const pauses = [{ from: monday, to: monday + 5 * day }];
    const { move } = advance(
      walker(path, { pauses }),
      { nodeId: "fair", since: monday },
      nothingKnown,
      monday,
    );
    expect(move.kind === "wait" && new Date(move.until ?? 0).toISOString()).toBe("2026-06-12T09:00:00.000Z");
  });
});
