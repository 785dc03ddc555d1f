import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../calendar.ts";
import { orderTodos, placeOf, TODO_KINDS, type Todo } from "./order.ts";

const NOW = Date.parse("2026-06-09T10:36:00+01:00");
const todo = (kind: Todo["kind"], more: Partial<Todo> = {}): Todo => ({
  kind,
  dueAt: NOW,
  people: 1,
  ...more,
});
const kinds = (...todos: Todo[]) => orderTodos(todos, NOW).map(({ kind }) => kind);

describe("the day's order", () => {
  it("puts a call that begins within the hour before all, then interested replies, then the rest of them", () => {
    const meeting = (minutes: number) => todo("meeting", { startsAt: NOW + minutes * MINUTE });
    expect(kinds(todo("call"), todo("replies", { interested: 1 }), meeting(20))).toEqual([
      "meeting",
      "replies",
      "call",
    ]);
    expect(kinds(meeting(600), todo("replies", { interested: 1 }), todo("call"))).toEqual([
      "replies",
      "call",
      "meeting",
    ]);
    expect(placeOf(todo("replies", { interested: 1 }), NOW).score).toBeGreaterThan(
      placeOf(todo("replies", { questions: 3 }), NOW).score,
    );
  });

  it("prefers a call in their good hours to one at night there, and says so", () => {
    const good = placeOf(todo("call", { hourThere: 10.5 }), NOW);
    const night = placeOf(todo("call", { hourThere: 4 }), NOW);
    const lunch = placeOf(todo("call", { hourThere: 13 }), NOW);
    expect(good.score).toBeGreaterThan(lunch.score);
    expect(lunch.score).toBeGreaterThan(night.score);
    expect(good.reasons).toContainEqual({ because: "good_hour", until: 12 });
    expect(night.reasons).toContainEqual({ because: "bad_hour", hour: 4 });
    // Their own best hour weighs more than everybody's.
    expect(placeOf(todo("call", { hourThere: 16.5, bestHour: 17 }), NOW).score).toBeGreaterThan(good.score);
  });

  it("raises what waits, up to a point, and what keeps many waiting", () => {
    const late = (days: number) => placeOf(todo("social", { dueAt: NOW - days * DAY }), NOW).score;
    expect(late(2)).toBeGreaterThan(late(0));
    expect(late(30)).toBe(late(6));
    expect(placeOf(todo("mailbox", { people: 40 }), NOW).score).toBeGreaterThan(
      placeOf(todo("mailbox"), NOW).score,
    );
  });

  it("loses nothing, repeats nothing, and is the same for the same day", () => {
    const one = fc.record({
      kind: fc.constantFrom(...TODO_KINDS),
      dueAt: fc.integer({ min: NOW - 30 * DAY, max: NOW + DAY }),
      people: fc.integer({ min: 0, max: 500 }),
      hourThere: fc.option(fc.double({ min: 0, max: 23.9, noNaN: true })),
      startsAt: fc.integer({ min: NOW - HOUR, max: NOW + DAY }),
    });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 40 }), (todos) => {
        const ordered = orderTodos(todos, NOW);
        expect(ordered.map(({ place: _, ...each }) => each).toSorted(byText)).toEqual(todos.toSorted(byText));
        for (let at = 1; at < ordered.length; at++)
          expect(ordered[at - 1]?.place.score).toBeGreaterThanOrEqual(ordered[at]?.place.score ?? 0);
        expect(orderTodos(todos, NOW)).toEqual(ordered);
      }),
    );
  });
});

const byText = (a: object, b: object) => JSON.stringify(a).localeCompare(JSON.stringify(b));
