/** Every rule of the plan, each with the reason it gives, and what must hold whatever comes together. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  type Calendar,
  DAY,
  dayNumberFrom,
  dayNumberOf,
  dayOf,
  HOUR,
  instantOn,
  MINUTE,
  NO_HOLIDAYS,
  OpenHours,
} from "../calendar.ts";
import type { Pace } from "./pace.ts";
import { makePlan } from "./plan.ts";
import { NO_RULES, type PlanInput, type PlanJourney, type PlannedTouch } from "./plan-parts.ts";
import { limitAfter, momentsOf, type Sender } from "./sender.ts";

const LISBON = "Europe/Lisbon";
const OFFICE = { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" };
const TUESDAY = Date.parse("2026-06-09T09:00:00+01:00");
const lisbon: Calendar = { zone: LISBON, hours: OFFICE, holidays: NO_HOLIDAYS };

const sender = (id: number, change: Partial<Sender> = {}): Sender => ({
  id,
  dailyLimit: 30,
  gapMinutes: { least: 4, most: 6 },
  zone: LISBON,
  sentToday: 0,
  lastSentAt: null,
  restsUntil: null,
  ...change,
});
const one: readonly number[] = [1];
const journey = (id: number, change: Partial<PlanJourney> = {}): PlanJourney => ({
  id,
  calendar: lisbon,
  senderIds: one,
  followUp: false,
  dueAt: TUESDAY,
  ahead: [{ id: "a", waits: [] }],
  ...change,
});
const many = (count: number, change: Partial<PlanJourney> = {}, from = 1) =>
  Array.from({ length: count }, (_, nth) => journey(from + nth, change));
const pace = (change: Partial<Pace>): Pace => ({
  newADay: null,
  begunToday: 0,
  perHour: null,
  minutesBetween: null,
  sentLately: [],
  zone: LISBON,
  ...change,
});
const plan = (change: Partial<PlanInput>) =>
  makePlan({ now: TUESDAY, until: TUESDAY + 10 * DAY, senders: [sender(1)], journeys: [], ...change });
const on = (touches: readonly PlannedTouch[], day: string) =>
  touches.filter(({ at }) => dayOf(at, LISBON) === day);
const most = (times: readonly number[], span: number) =>
  Math.max(0, ...times.map((from) => times.filter((at) => at >= from && at < from + span).length));

describe("the plan keeps", () => {
  it("a daily limit, and names it for those who wait for tomorrow", () => {
    const { touches, blocks } = plan({ senders: [sender(1, { dailyLimit: 5 })], journeys: many(8) });
    expect(on(touches, "2026-06-09")).toHaveLength(5);
    expect([...blocks.values()]).toEqual(["mailbox_limit", "mailbox_limit", "mailbox_limit"]);
  });

  it("a limit that rises with each day of sending, and says that it is young", () => {
    const ramp = { start: 2, step: 3, daysSoFar: 0 };
    const { touches, blocks } = plan({ senders: [sender(1, { dailyLimit: 9, ramp })], journeys: many(40) });
    expect(["09", "10", "11", "12", "15"].map((day) => on(touches, `2026-06-${day}`).length)).toEqual([
      2, 5, 8, 9, 9,
    ]);
    expect(blocks.get(40)).toBe("ramp");
    expect(limitAfter({ dailyLimit: 9, ramp }, 100)).toBe(9);
  });

  it("an hourly limit over any sixty minutes, those before now among them", () => {
    const sentLately = [TUESDAY - 10 * MINUTE, TUESDAY - 20 * MINUTE];
    const { touches } = plan({
      senders: [sender(1, { hourlyLimit: 3, sentLately, sentToday: 2, lastSentAt: TUESDAY - 10 * MINUTE })],
      journeys: many(20),
    });
    expect(touches).toHaveLength(20);
    expect(most([...sentLately, ...touches.map(({ at }) => at)], HOUR)).toBe(3);
  });

  it("new people a day by sequence, whichever mailbox they go from", () => {
    const own = pace({ newADay: 4, begunToday: 1 });
    const both = [1, 2];
    const { touches, blocks } = plan({
      senders: [sender(1), sender(2)],
      journeys: many(12, { pace: own, senderIds: both }),
    });
    expect(on(touches, "2026-06-09")).toHaveLength(3);
    expect(on(touches, "2026-06-10")).toHaveLength(4);
    expect(blocks.get(12)).toBe("new_a_day");
  });

  it("a sequence's own pace over all mailboxes", () => {
    const { touches, blocks } = plan({
      senders: [sender(1), sender(2), sender(3)],
      journeys: many(60, { pace: pace({ perHour: 5, minutesBetween: 7 }), senderIds: [1, 2, 3] }),
    });
    const times = touches.map(({ at }) => at);
    expect(most(times, HOUR)).toBeLessThanOrEqual(5);
    for (let nth = 1; nth < times.length; nth++)
      expect((times[nth] as number) - (times[nth - 1] as number)).toBeGreaterThanOrEqual(7 * MINUTE);
    expect(blocks.get(60)).toBe("pace");
  });

  it("the share of follow-ups while both kinds wait, and gives the rest to the other where one has less", () => {
    const rules = { ...NO_RULES, followUpShare: 0.6 };
    const both = [...many(100, { followUp: true }), ...many(100, {}, 1_000)];
    const full = plan({ senders: [sender(1, { dailyLimit: 20 })], journeys: both, rules });
    expect(on(full.touches, "2026-06-09").filter(({ followUp }) => followUp)).toHaveLength(12);
    expect(full.blocks.get(100)).toBe("ratio");
    const few = plan({
      senders: [sender(1, { dailyLimit: 20 })],
      journeys: [...many(3, { followUp: true }), ...many(100, {}, 1_000)],
      rules,
    });
    expect(on(few.touches, "2026-06-09").filter(({ followUp }) => !followUp)).toHaveLength(17);
    const alone = plan({
      senders: [sender(1, { dailyLimit: 20 })],
      journeys: many(100, { followUp: true }),
      rules,
    });
    expect(on(alone.touches, "2026-06-09")).toHaveLength(20);
  });

  it("a cap by recipient domain, and lets the next in line go", () => {
    const rules = { ...NO_RULES, domainADay: 2 };
    const { touches, blocks } = plan({
      journeys: [...many(5, { domain: "big.example" }), ...many(3, { domain: "small.example" }, 100)],
      rules,
      domainsLately: new Map([["small.example", [TUESDAY - HOUR]]]),
    });
    expect(on(touches, "2026-06-09").map(({ journeyId }) => journeyId)).toEqual([1, 2, 100]);
    expect(blocks.get(3)).toBe("domain_cap");
    expect(
      on(touches, "2026-06-10")
        .map(({ journeyId }) => journeyId)
        .toSorted((a, b) => a - b),
    ).toEqual([3, 4, 101, 102]);
  });

  it("days between two touches of one person, by date where they are", () => {
    const rules = { ...NO_RULES, daysBetween: 2 };
    const tokyo: Calendar = { ...lisbon, zone: "Asia/Tokyo" };
    const { touches, blocks } = plan({
      journeys: [journey(1, { calendar: tokyo, lastTouchAt: TUESDAY - HOUR })],
      rules,
      until: TUESDAY + 10 * DAY,
    });
    expect(dayOf(touches[0]?.at ?? 0, "Asia/Tokyo")).toBe("2026-06-11");
    expect(blocks.get(1)).toBe("touched_lately");
  });

  it("public holidays where the prospect is, and not where the sender is", () => {
    const closed = new Set([dayNumberFrom("2026-06-09"), dayNumberFrom("2026-06-10")]);
    const { touches } = plan({
      journeys: [journey(1, { calendar: { ...lisbon, holidays: closed } }), journey(2)],
    });
    expect(touches.map(({ journeyId, at }) => [journeyId, dayOf(at, LISBON)])).toEqual([
      [2, "2026-06-09"],
      [1, "2026-06-11"],
    ]);
  });

  it("a mailbox's own hours besides theirs", () => {
    const { touches } = plan({
      senders: [sender(1, { hours: { days: [1, 2, 3, 4, 5, 6, 7], opens: "14:00", closes: "15:00" } })],
      journeys: many(20),
    });
    for (const { at } of touches) {
      const local = at - instantOn(dayOf(at, LISBON), "00:00", LISBON);
      expect(local).toBeGreaterThanOrEqual(14 * HOUR);
      expect(local).toBeLessThan(15 * HOUR);
    }
    expect(touches).toHaveLength(20);
  });

  it("mail to the same provider from the same provider's mailbox, while that costs nobody a day", () => {
    const senders = [sender(1, { provider: "north.example" }), sender(2, { provider: "south.example" })];
    const pool = [1, 2];
    const mixed = Array.from({ length: 20 }, (_, nth) =>
      journey(nth + 1, { senderIds: pool, provider: nth % 2 === 0 ? "north.example" : "south.example" }),
    );
    const { touches } = plan({ senders, journeys: mixed });
    const matched = touches.filter(({ journeyId, senderId }) => (journeyId % 2 === 1 ? 1 : 2) === senderId);
    expect(matched).toHaveLength(20);
    // All of one provider: the other mailbox does not idle for it.
    const alike = many(60, { senderIds: pool, provider: "north.example" });
    expect(on(plan({ senders, journeys: alike }).touches, "2026-06-09")).toHaveLength(60);
    // As long as the one has room, all of its provider's people are its own.
    const few = plan({ senders, journeys: many(20, { senderIds: pool, provider: "north.example" }) });
    expect(new Set(few.touches.map(({ senderId }) => senderId))).toEqual(new Set([1]));
    const tooMany = plan({ senders, journeys: many(40, { senderIds: pool, provider: "north.example" }) });
    expect(on(tooMany.touches, "2026-06-09").filter(({ senderId }) => senderId === 1)).toHaveLength(30);
  });

  it("as many today as without providers, whoever runs whose mail", () => {
    const providers = ["north.example", "south.example", "west.example", null];
    const anyProvider = fc.constantFrom(...providers);
    fc.assert(
      fc.property(
        fc.array(fc.record({ dailyLimit: fc.integer({ min: 0, max: 6 }), provider: anyProvider }), {
          minLength: 2,
          maxLength: 4,
        }),
        fc.array(
          fc.record({
            provider: anyProvider,
            pool: fc.nat(2),
            dueIn: fc.integer({ min: -3, max: 1 }),
            followUp: fc.boolean(),
          }),
          { maxLength: 40 },
        ),
        (boxes, people) => {
          const senders = boxes.map((box, nth) => sender(nth + 1, box));
          const pools = [senders.map(({ id }) => id), [1], [senders.length]];
          const countOn = (hasProviders: boolean) => {
            const { touches } = plan({
              senders: senders.map((each) => (hasProviders ? each : { ...each, provider: null })),
              rules: { ...NO_RULES, followUpShare: 0.5 },
              journeys: people.map(({ pool, dueIn, ...each }, nth) =>
                journey(nth + 1, {
                  ...each,
                  senderIds: each.followUp ? [1] : (pools[pool] as number[]),
                  dueAt: TUESDAY + dueIn * DAY,
                }),
              ),
            });
            return on(touches, "2026-06-09").length;
          };
          expect(countOn(true)).toBe(countOn(false));
        },
      ),
      { numRuns: 100 },
    );
  });
});

describe("the moments of a mailbox", () => {
  it("lie between the shortest and the longest gap apart, and are the same for the same day", () => {
    const grid = { id: 7, zone: LISBON, gapMinutes: { least: 9, most: 14 } };
    const moments = momentsOf(grid, dayNumberOf(TUESDAY, LISBON)) as number[];
    expect(momentsOf(grid, dayNumberOf(TUESDAY, LISBON))).toEqual(moments);
    expect(momentsOf({ ...grid, id: 8 }, dayNumberOf(TUESDAY, LISBON))).not.toEqual(moments);
    for (let nth = 1; nth < moments.length; nth++) {
      const gap = (moments[nth] as number) - (moments[nth - 1] as number);
      expect(gap).toBeGreaterThanOrEqual(9 * MINUTE - 1);
      expect(gap).toBeLessThanOrEqual(14 * MINUTE + 1);
    }
  });

  it.each(["2026-03-29", "2026-10-25"])(
    "on %s, when the clocks change, nothing goes twice or outside the hours",
    (day) => {
      const now = instantOn(day, "00:00", LISBON) - HOUR;
      const hours = { days: [1, 2, 3, 4, 5, 6, 7], opens: "00:30", closes: "03:30" };
      const { touches } = plan({
        now,
        until: now + 3 * DAY,
        senders: [sender(1, { dailyLimit: 100 })],
        journeys: many(60, { calendar: { ...lisbon, hours }, dueAt: now }),
      });
      expect(new Set(touches.map(({ at }) => at)).size).toBe(60);
      for (const { at } of touches)
        expect(new OpenHours(hours, LISBON, at).windowFrom(at).opens).toBeLessThanOrEqual(at);
    },
  );
});

describe("what was planned before", () => {
  const senders = [sender(1, { dailyLimit: 12 }), sender(2, { dailyLimit: 12 })];
  const pool = [1, 2];
  const journeys = many(60, { senderIds: pool });
  const before = plan({ senders, journeys, until: TUESDAY + 2 * DAY });
  const moved = (after: readonly PlannedTouch[]) => {
    const known = new Map(before.touches.map((touch) => [touch.journeyId, `${touch.at} ${touch.senderId}`]));
    return after.filter(({ journeyId, at, senderId }) => known.get(journeyId) !== `${at} ${senderId}`).length;
  };

  it("stays after one email went, was late, or was lost", () => {
    const [first, ...rest] = before.touches as [PlannedTouch, ...PlannedTouch[]];
    const others = journeys.filter(({ id }) => id !== first.journeyId);
    const sentAt = (at: number) =>
      plan({
        now: at,
        until: TUESDAY + 2 * DAY,
        senders: senders.map((each) =>
          each.id === first.senderId ? { ...each, sentToday: 1, lastSentAt: at } : each,
        ),
        journeys: others,
        kept: rest,
      }).touches;
    expect(moved(sentAt(first.at))).toBe(0);
    // Late by so much that the next of its mailbox would follow too closely: that one moves, and whoever is late themselves.
    expect(moved(sentAt(first.at + 20_000))).toBeLessThanOrEqual(2);
    // Nobody was in its place: it goes at another moment, and all others stay.
    const lost = { now: first.at + 30_000, until: TUESDAY + 2 * DAY };
    expect(moved(plan({ ...lost, senders, journeys, kept: rest }).touches)).toBeLessThanOrEqual(2);
  });

  it("moves few when somebody drops out or comes in", () => {
    const gone = journeys.filter(({ id }) => id !== before.touches[3]?.journeyId);
    expect(
      moved(plan({ senders, journeys: gone, kept: before.touches, until: TUESDAY + 2 * DAY }).touches),
    ).toBeLessThanOrEqual(3);
    const more = [...journeys, journey(99, { followUp: true, senderIds: one, dueAt: TUESDAY })];
    const after = plan({ senders, journeys: more, kept: before.touches, until: TUESDAY + 2 * DAY });
    expect(moved(after.touches)).toBeLessThanOrEqual(4);
    // A follow-up that came up takes a first email's place rather than wait for the day after tomorrow.
    expect(dayOf(after.touches.find(({ journeyId }) => journeyId === 99)?.at ?? 0, LISBON)).toBe(
      "2026-06-09",
    );
  });

  it("gives way as far as the shares ask, whichever kind has too much", () => {
    const rules = { ...NO_RULES, followUpShare: 0.5 };
    const [box] = [sender(1, { dailyLimit: 20 })];
    const followUps = many(30, { followUp: true });
    const firsts = many(30, {}, 1_000);
    const followUpsOf = (touches: readonly PlannedTouch[]) =>
      on(touches, "2026-06-09").filter(({ followUp }) => followUp).length;
    for (const early of [followUps, firsts]) {
      // The one kind alone took all of the day, until the other came.
      const { touches: kept } = plan({ senders: [box], journeys: early, rules });
      expect(on(kept, "2026-06-09")).toHaveLength(20);
      const both = plan({ senders: [box], journeys: [...followUps, ...firsts], rules, kept });
      expect(followUpsOf(both.touches)).toBe(10);
      expect(new Set(both.touches.map(({ journeyId }) => journeyId)).size).toBe(60);
      // Those planned first keep their moments.
      const stays = new Set(both.touches.map(({ journeyId, at }) => `${journeyId} ${at}`));
      for (const { journeyId, at } of kept.slice(0, 10)) expect(stays).toContain(`${journeyId} ${at}`);
      // Nobody gives way to whom their own sequence's pace keeps back.
      const slow = { pace: pace({ newADay: 2, begunToday: 2 }) };
      const paced = plan({ senders: [box], journeys: [...followUps, ...many(30, slow, 2_000)], rules, kept });
      if (early === followUps)
        expect(on(paced.touches, "2026-06-09").map(({ at }) => at)).toEqual(
          on(kept, "2026-06-09").map(({ at }) => at),
        );
    }
  });

  it("gives way where a limit was lowered", () => {
    const lower = senders.map((each) => ({ ...each, dailyLimit: 5 }));
    const { touches } = plan({ senders: lower, journeys, kept: before.touches, until: TUESDAY + 2 * DAY });
    expect(on(touches, "2026-06-09")).toHaveLength(10);
  });
});

describe("no mailbox idles while another is full", () => {
  it("where one may send for both sequences and the other for one only", () => {
    const [both, second] = [[1, 2], [2]];
    const journeys = [...many(30, { senderIds: both }), ...many(30, { senderIds: second }, 100)];
    const { touches } = plan({ senders: [sender(1), sender(2)], journeys });
    expect(on(touches, "2026-06-09")).toHaveLength(60);
  });

  it("reaches what an exhaustive search finds, in small cases", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 2, maxLength: 3 }),
        fc.array(fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 1, maxLength: 3 }), {
          minLength: 1,
          maxLength: 3,
        }),
        fc.array(fc.integer({ min: 0, max: 2 }), { minLength: 1, maxLength: 7 }),
        (limits, pools, people) => {
          const usable = pools.map((pool) => [...new Set(pool)].filter((id) => id <= limits.length));
          const senders = limits.map((dailyLimit, nth) => sender(nth + 1, { dailyLimit }));
          const journeys = people.flatMap((pool, nth) => {
            const senderIds = usable[pool % usable.length] as number[];
            return senderIds.length === 0 ? [] : [journey(nth + 1, { senderIds })];
          });
          const { touches } = plan({ senders, journeys, until: TUESDAY + 8 * HOUR });
          expect(touches).toHaveLength(mostServed(journeys, [...limits]));
        },
      ),
      { numRuns: 300 },
    );
  });
});

/** The most people that mailboxes with these limits can serve on one day, by trying everything. */
function mostServed(journeys: readonly PlanJourney[], left: number[]): number {
  const [first, ...rest] = journeys;
  if (!first) return 0;
  let best = mostServed(rest, left);
  for (const id of first.senderIds) {
    if ((left[id - 1] ?? 0) <= 0) continue;
    left[id - 1] = (left[id - 1] as number) - 1;
    best = Math.max(best, 1 + mostServed(rest, left));
    left[id - 1] = (left[id - 1] as number) + 1;
  }
  return best;
}
