/** Who goes first: examples a rep would give. */
import { describe, expect, it } from "vitest";
import { type Calendar, DAY, dayOf, HOUR, MINUTE, NO_HOLIDAYS, type SendingHours } from "../calendar.ts";
import { dueAfter, planTouches } from "./plan.ts";
import type { PlanJourney } from "./plan-parts.ts";
import type { Sender } from "./sender.ts";
import { whyWaiting } from "./why-waiting.ts";

const OFFICE = { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" };
const MORNINGS = { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "11:30" };
const TUESDAY = Date.parse("2026-06-09T09:00:00+01:00");
const LISBON = "Europe/Lisbon";

const calendars = new Map<string, Calendar>();
/** One object for each zone and hours, as the plan asks for. */
const inZone = (zone: string, hours: SendingHours = OFFICE): Calendar => {
  const key = zone + hours.closes;
  const calendar = calendars.get(key) ?? { zone, hours, holidays: NO_HOLIDAYS };
  calendars.set(key, calendar);
  return calendar;
};
const mailbox = (id: number, change: Partial<Sender> = {}): Sender => ({
  id,
  dailyLimit: 30,
  gapMinutes: { least: 10, most: 10 },
  zone: LISBON,
  sentToday: 0,
  lastSentAt: null,
  restsUntil: null,
  ...change,
});
const journey = (id: number, change: Partial<PlanJourney> = {}): PlanJourney => ({
  id,
  calendar: inZone(LISBON),
  senderIds: [1],
  followUp: false,
  dueAt: TUESDAY,
  ahead: [{ id: "a", waits: [] }],
  ...change,
});
const order = (mailboxes: Sender[], journeys: PlanJourney[]) =>
  planTouches({ now: TUESDAY, until: TUESDAY + 10 * DAY, senders: mailboxes, journeys }).map(
    ({ journeyId }) => journeyId,
  );

describe("of two emails that are due, the first to go is", () => {
  it("the follow-up, however long the other has waited", () => {
    expect(
      order([mailbox(1)], [journey(1, { dueAt: TUESDAY - 9 * DAY }), journey(2, { followUp: true })]),
    ).toEqual([2, 1]);
  });

  it("the one whose hours close sooner", () => {
    expect(order([mailbox(1)], [journey(1), journey(2, { calendar: inZone(LISBON, MORNINGS) })])).toEqual([
      2, 1,
    ]);
    expect(order([mailbox(1)], [journey(1), journey(2, { calendar: inZone("Europe/Athens") })])).toEqual([
      2, 1,
    ]);
  });

  it("the one that has been due longer, then the one that was started first", () => {
    expect(
      order(
        [mailbox(1)],
        [journey(1), journey(2, { dueAt: TUESDAY - HOUR }), journey(3, { dueAt: TUESDAY - HOUR })],
      ),
    ).toEqual([2, 3, 1]);
  });
});

describe("mailboxes", () => {
  it("that are free at once begin with the one that has used less of its day", () => {
    const [first] = planTouches({
      now: TUESDAY,
      until: TUESDAY + HOUR,
      senders: [mailbox(1, { sentToday: 20 }), mailbox(2, { sentToday: 3, dailyLimit: 10 })],
      journeys: [journey(1, { senderIds: [1, 2] })],
    });
    expect(first?.senderId).toBe(2);
  });

  it("count the day of where their owner is", () => {
    const inAuckland = mailbox(1, {
      zone: "Pacific/Auckland",
      dailyLimit: 2,
      sentToday: 2,
      lastSentAt: TUESDAY - HOUR,
    });
    const [touch] = planTouches({
      now: TUESDAY,
      until: TUESDAY + DAY,
      senders: [inAuckland],
      journeys: [journey(1)],
    });
    // Midnight in Auckland is 13:00 in Lisbon.
    const minutes = ((touch?.at ?? 0) - Date.parse("2026-06-09T12:00:00Z")) / MINUTE;
    expect(minutes).toBeGreaterThanOrEqual(0);
    expect(minutes).toBeLessThan(10);
  });

  it("finish what one of them began only with that one, though the others are idle", () => {
    const touches = planTouches({
      now: TUESDAY,
      until: TUESDAY + 5 * DAY,
      senders: [mailbox(1, { dailyLimit: 2 }), mailbox(2)],
      journeys: [1, 2, 3, 4].map((id) => journey(id, { followUp: true })),
    });
    expect(touches.map(({ senderId }) => senderId)).toEqual([1, 1, 1, 1]);
    expect(touches.map(({ at }) => dayOf(at, LISBON))).toEqual([
      "2026-06-09",
      "2026-06-09",
      "2026-06-10",
      "2026-06-10",
    ]);
  });

  it("begin some minutes after the opening, not all on its stroke", () => {
    const boxes = [1, 2, 3, 4, 5].map((id) => mailbox(id, { gapMinutes: { least: 9, most: 14 } }));
    const touches = planTouches({
      now: TUESDAY - 4 * HOUR,
      until: TUESDAY,
      senders: boxes,
      journeys: [1, 2, 3, 4, 5].map((id) => journey(id, { senderIds: [id], dueAt: TUESDAY - DAY })),
    });
    const minutes = touches.map(({ at }) => (at - Date.parse("2026-06-09T08:30:00+01:00")) / MINUTE);
    expect(Math.min(...minutes)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...minutes)).toBeLessThan(14);
    expect(new Set(minutes).size).toBe(5);
  });
});

describe("a follow-up falls due", () => {
  it.each([
    ["2026-06-09", 1, "2026-06-10"],
    ["2026-06-12", 1, "2026-06-15"],
    ["2026-06-11", 3, "2026-06-16"],
    ["2026-06-13", 1, "2026-06-16"],
  ])("after an email on %s and %i working days on %s, in the early hours there", (sent, wait, due) => {
    for (const zone of [LISBON, "Asia/Tokyo", "America/Lima"]) {
      const noon = Date.parse(`${sent}T12:00:00Z`);
      const at = dueAfter(noon, [{ days: wait, working: true }], inZone(zone), 1, "b");
      const local = new Intl.DateTimeFormat("en-CA", { timeZone: zone, dateStyle: "short" }).format(at);
      const hour = Number(
        new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", hourCycle: "h23" }).format(at),
      );
      expect(local).toBe(due);
      expect(hour).toBeGreaterThanOrEqual(8);
      expect(hour).toBeLessThan(13);
    }
  });

  it("at another minute for everybody", () => {
    const times = Array.from({ length: 50 }, (_, id) =>
      dueAfter(TUESDAY, [{ days: 2, working: true }], inZone(LISBON), id, "b"),
    );
    expect(new Set(times).size).toBeGreaterThan(45);
  });
});

describe("asked why it waits, a journey names", () => {
  const ends = TUESDAY + 15 * HOUR;
  it("its own days first, then the hours, then the limit, then its turn", () => {
    const inTokyo = { calendar: inZone("Asia/Tokyo") };
    expect(
      whyWaiting(
        journey(1, { dueAt: TUESDAY + DAY, ...inTokyo }),
        { plannedAt: null, block: undefined, dayEnds: ends, until: ends },
        TUESDAY,
      ).reason,
    ).toBe("wait_days");
    expect(
      whyWaiting(
        journey(1, inTokyo),
        { plannedAt: null, block: undefined, dayEnds: ends, until: ends },
        TUESDAY,
      ).reason,
    ).toBe("outside_hours");
    expect(
      whyWaiting(journey(1), { plannedAt: null, block: undefined, dayEnds: ends, until: ends }, TUESDAY),
    ).toEqual({
      reason: "mailbox_limit",
      until: null,
      detail: null,
    });
    expect(
      whyWaiting(
        journey(1),
        { plannedAt: TUESDAY + MINUTE, block: undefined, dayEnds: ends, until: ends },
        TUESDAY,
      ),
    ).toEqual({
      reason: "in_line",
      until: TUESDAY + MINUTE,
      detail: null,
    });
  });
});
