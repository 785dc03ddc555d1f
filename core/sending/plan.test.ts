import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  type Calendar,
  DAY,
  dayOf,
  HOUR,
  MINUTE,
  NO_HOLIDAYS,
  OpenHours,
  type SendingHours,
} from "../calendar.ts";
import { dueAfter, planTouches } from "./plan.ts";
import type { PlanJourney } from "./plan-parts.ts";
import type { Sender } from "./sender.ts";
import { whyWaiting } from "./why-waiting.ts";

const OFFICE = { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" };
const TUESDAY = Date.parse("2026-06-09T09:00:00+01:00");

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
  gapMinutes: { least: 9, most: 14 },
  zone: "Europe/Lisbon",
  sentToday: 0,
  lastSentAt: null,
  restsUntil: null,
  ...change,
});
const journey = (id: number, change: Partial<PlanJourney> = {}): PlanJourney => ({
  id,
  calendar: inZone("Europe/Lisbon"),
  senderIds: [1, 2],
  followUp: false,
  dueAt: TUESDAY,
  ahead: [{ id: "a", waits: [] }],
  ...change,
});
const many = (count: number, change: Partial<PlanJourney> = {}) =>
  Array.from({ length: count }, (_, index) => journey(index + 1, change));
const plan = (mailboxes: Sender[], journeys: PlanJourney[], days = 30) =>
  planTouches({ now: TUESDAY, until: TUESDAY + days * DAY, senders: mailboxes, journeys });

describe("the plan", () => {
  it("lets mailboxes take turns", () => {
    const sent = plan([mailbox(1), mailbox(2)], many(20));
    const counts = [1, 2].map((id) => sent.filter((touch) => touch.senderId === id).length);
    expect(Math.abs((counts[0] as number) - (counts[1] as number))).toBeLessThanOrEqual(2);
  });

  it("counts 15 mailboxes at 30 a day as 450 a day", () => {
    const mailboxes = Array.from({ length: 15 }, (_, index) =>
      mailbox(index + 1, { gapMinutes: { least: 5, most: 9 } }),
    );
    const ids = mailboxes.map(({ id }) => id);
    const sent = plan(mailboxes, many(1000, { senderIds: ids }));
    const today = sent.filter(({ at }) => dayOf(at, "Europe/Lisbon") === "2026-06-09");
    expect(today).toHaveLength(450);
    expect(sent).toHaveLength(1000);
  });

  it("keeps a thread in its mailbox and sends follow-ups before first emails", () => {
    const followUps = many(3, { followUp: true, senderIds: [2] }).map((each) => ({
      ...each,
      id: each.id + 100,
    }));
    const sent = plan([mailbox(1), mailbox(2)], [...many(10), ...followUps]);
    const fromTwo = sent.filter((touch) => touch.senderId === 2);
    expect(fromTwo.slice(0, 3).every((touch) => touch.followUp)).toBe(true);
    expect(sent.filter((touch) => touch.followUp).every((touch) => touch.senderId === 2)).toBe(true);
  });

  it("writes in the morning where the prospect is", () => {
    const [touch] = plan([mailbox(1)], [journey(1, { calendar: inZone("Asia/Tokyo"), senderIds: [1] })]);
    // 09:00 in Lisbon is 17:00 in Tokyo, so it goes at Tokyo's next opening: 00:30 in Lisbon.
    expect(touch?.at).toBeGreaterThanOrEqual(Date.parse("2026-06-10T08:30:00+09:00"));
    expect(touch?.at).toBeLessThan(Date.parse("2026-06-10T09:00:00+09:00"));
  });

  it("continues a journey with its later steps, working days apart, in the same mailbox", () => {
    const ahead = [
      { id: "a", waits: [] },
      { id: "b", waits: [{ days: 3, working: true }] },
    ];
    const sent = plan([mailbox(1), mailbox(2)], [journey(1, { ahead })]);
    expect(sent.map((touch) => touch.stepId)).toEqual(["a", "b"]);
    expect(dayOf(sent[1]?.at ?? 0, "Europe/Lisbon")).toBe("2026-06-12");
    expect(sent[1]?.senderId).toBe(sent[0]?.senderId);
  });

  it("plans a resting mailbox from the end of its rest on", () => {
    const restsUntil = TUESDAY + 2 * DAY;
    const [touch] = plan([mailbox(1, { restsUntil })], [journey(1, { senderIds: [1] })]);
    expect(touch?.at).toBeGreaterThanOrEqual(restsUntil);
  });

  it("does not shift when it is made again after its first email went out", () => {
    const journeys = many(40);
    const before = plan(
      [mailbox(1)],
      journeys.map((each) => ({ ...each, senderIds: [1] })),
    );
    const first = before[0] as (typeof before)[number];
    const again = planTouches({
      now: first.at + MINUTE,
      until: TUESDAY + 30 * DAY,
      senders: [mailbox(1, { sentToday: 1, lastSentAt: first.at })],
      journeys: journeys
        .filter(({ id }) => id !== first.journeyId)
        .map((each) => ({ ...each, senderIds: [1] })),
    });
    expect(again).toEqual(before.slice(1));
  });

  it("never passes a limit, never leaves the hours, never hurries a mailbox, loses and doubles nobody", () => {
    const zones = ["Europe/Lisbon", "America/Lima", "Asia/Tokyo", "Australia/Adelaide"];
    fc.assert(
      fc.property(
        fc.array(fc.record({ zone: fc.constantFrom(...zones), dueIn: fc.integer({ min: -2, max: 60 }) }), {
          minLength: 1,
          maxLength: 120,
        }),
        fc.array(
          fc.record({ limit: fc.integer({ min: 1, max: 12 }), sent: fc.integer({ min: 0, max: 12 }) }),
          {
            minLength: 1,
            maxLength: 4,
          },
        ),
        (people, boxes) => {
          const mailboxes = boxes.map(({ limit, sent }, index) =>
            mailbox(index + 1, {
              dailyLimit: limit,
              sentToday: sent,
              lastSentAt: sent ? TUESDAY - MINUTE : null,
            }),
          );
          const journeys = people.map(({ zone, dueIn }, index) =>
            journey(index + 1, {
              calendar: inZone(zone),
              dueAt: TUESDAY + dueIn * HOUR,
              senderIds: mailboxes.map(({ id }) => id),
              ahead: [
                { id: "a", waits: [] },
                { id: "b", waits: [{ days: 2, working: true }] },
              ],
            }),
          );
          const sent = plan(mailboxes, journeys, 365);
          expect(new Set(sent.map((touch) => `${touch.journeyId} ${touch.stepId}`)).size).toBe(
            journeys.length * 2,
          );
          expect(sent).toHaveLength(journeys.length * 2);
          for (const box of mailboxes) {
            const own = sent.filter((touch) => touch.senderId === box.id);
            const perDay = new Map<string, number>([["2026-06-09", box.sentToday]]);
            for (const touch of own) {
              const day = dayOf(touch.at, box.zone);
              const count = (perDay.get(day) ?? 0) + 1;
              expect(count).toBeLessThanOrEqual(box.dailyLimit);
              perDay.set(day, count);
            }
            own.slice(1).forEach((touch, index) => {
              expect(touch.at - (own[index]?.at ?? 0)).toBeGreaterThanOrEqual(9 * MINUTE);
            });
          }
          for (const touch of sent) {
            const { calendar, dueAt } = journeys[touch.journeyId - 1] as PlanJourney;
            expect(touch.at).toBeGreaterThanOrEqual(dueAt);
            expect(
              new OpenHours(OFFICE, calendar.zone, touch.at).windowFrom(touch.at).opens,
            ).toBeLessThanOrEqual(touch.at);
          }
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe("a step falls due", () => {
  it("on the working day its wait says, weekends left out", () => {
    const thursday = Date.parse("2026-06-11T15:00:00+01:00");
    const due = dueAfter(thursday, [{ days: 3, working: true }], inZone("Europe/Lisbon"), 1, "b");
    expect(dayOf(due, "Europe/Lisbon")).toBe("2026-06-16");
  });
});

describe("a journey waits because", () => {
  it.each([
    ["its working days are not over", { dueAt: TUESDAY + DAY }, TUESDAY + DAY, "wait_days"],
    ["it is evening there", { calendar: inZone("Asia/Tokyo") }, TUESDAY + DAY, "outside_hours"],
    ["today's limit is reached", {}, TUESDAY + DAY, "mailbox_limit"],
    ["its turn comes later today", {}, TUESDAY + HOUR, "in_line"],
  ])("%s", (_, change, plannedAt, reason) => {
    const wait = whyWaiting(
      journey(1, change),
      { plannedAt, block: undefined, dayEnds: TUESDAY + 15 * HOUR, until: TUESDAY + 15 * HOUR },
      TUESDAY,
    );
    expect(wait.reason).toBe(reason);
  });
});
