import { describe, expect, it } from "vitest";
import { type Calendar, DAY, dayNumberOf, HOUR, NO_HOLIDAYS } from "../calendar.ts";
import type { Block } from "./plan-parts.ts";
import { whyWaiting } from "./why-waiting.ts";

/** Tuesday, 10:00 in Lisbon. */
const NOW = Date.parse("2026-06-09T10:00:00+01:00");
const END = Date.parse("2026-06-10T00:00:00+01:00");
const UNTIL = NOW + 10 * DAY;
const lisbon: Calendar = {
  zone: "Europe/Lisbon",
  hours: { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" },
  holidays: NO_HOLIDAYS,
};
const closed = { ...lisbon, hours: { ...lisbon.hours, opens: "11:00" } };
const holiday = { ...lisbon, holidays: new Set([dayNumberOf(NOW, lisbon.zone)]) };

const why = (
  dueAt: number,
  plannedAt: number | null,
  { block, calendar = lisbon }: { block?: Block; calendar?: Calendar } = {},
) => whyWaiting({ dueAt, calendar }, { plannedAt, block, dayEnds: END, until: UNTIL }, NOW);

describe("why somebody does not go right now", () => {
  it.each<[string, Parameters<typeof why>, string, number | null]>([
    ["they are not due yet", [NOW + DAY, NOW + DAY + HOUR], "wait_days", NOW + DAY + HOUR],
    ["they are due beyond the plan", [UNTIL + DAY, null], "wait_days", UNTIL + DAY],
    ["they are due within it, and nothing is known of when they go", [UNTIL, null], "wait_days", null],
    [
      "there is no room once they are due",
      [NOW + DAY, null, { block: "mailbox_limit" }],
      "mailbox_limit",
      null,
    ],
    [
      "they are due later, and what stands in their way is past by then",
      [NOW + DAY, NOW + 2 * DAY, { block: "gap" }],
      "wait_days",
      NOW + 2 * DAY,
    ],
    [
      "somebody wrote to them lately",
      [NOW, NOW + HOUR, { block: "touched_lately" }],
      "touched_lately",
      NOW + HOUR,
    ],
    ["they are due now, and go later today", [NOW, NOW + HOUR], "in_line", NOW + HOUR],
    ["a gap only moves them within the day", [NOW, END - 1, { block: "gap" }], "in_line", END - 1],
    ["a block moves them to another day", [NOW, END, { block: "domain_cap" }], "domain_cap", END],
    ["a block leaves them no day", [NOW, null, { block: "pace" }], "pace", null],
    ["it is a holiday where they are", [NOW, END + HOUR, { calendar: holiday }], "holiday", END + HOUR],
    [
      "it is a holiday, and something goes today all the same",
      [NOW, NOW + HOUR, { calendar: holiday }],
      "outside_hours",
      NOW + HOUR,
    ],
    ["their hours have not begun", [NOW, NOW + HOUR, { calendar: closed }], "outside_hours", NOW + HOUR],
    [
      "their hours are over for today",
      [NOW, END + 9 * HOUR, { calendar: closed }],
      "outside_hours",
      END + 9 * HOUR,
    ],
    ["there is no room today", [NOW, END], "mailbox_limit", END],
    ["there is no room at all", [NOW, null], "mailbox_limit", null],
  ])("%s", (_, asked, reason, until) => expect(why(...asked)).toEqual({ reason, until, detail: null }));

  it("is asked of each instant anew", () => {
    expect(
      whyWaiting(
        { dueAt: NOW, calendar: closed },
        { plannedAt: NOW + 2 * HOUR, block: undefined, dayEnds: END, until: UNTIL },
        NOW,
      ).reason,
    ).toBe("outside_hours");
    expect(
      whyWaiting(
        { dueAt: NOW, calendar: closed },
        { plannedAt: NOW + 2 * HOUR, block: undefined, dayEnds: END, until: UNTIL },
        NOW + HOUR,
      ).reason,
    ).toBe("in_line");
  });
});
