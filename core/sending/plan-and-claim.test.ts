/** What the plan promises, the claim lets go: whatever it plans, each touch passes every rule of its door at its moment. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Calendar, DAY, dayNumberOf, HOUR, MINUTE, NO_HOLIDAYS } from "../calendar.ts";
import { mayNotGo } from "./may-go.ts";
import type { Pace } from "./pace.ts";
import { dueAfter, makePlan } from "./plan.ts";
import type { PlanJourney, SendingRules } from "./plan-parts.ts";
import type { Sender } from "./sender.ts";
import { nothingAgainst } from "./test-known.ts";

const NOW = Date.parse("2026-06-09T10:17:00+01:00");
const fine = nothingAgainst(NOW);
const ZONES = ["Europe/Lisbon", "America/New_York", "Asia/Tokyo"];
const anyZone = fc.constantFrom(...ZONES);
const calendars: Calendar[] = ZONES.flatMap((zone) => [
  { zone, hours: { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" }, holidays: NO_HOLIDAYS },
  {
    zone,
    hours: { days: [2, 3, 6], opens: "10:00", closes: "12:30" },
    holidays: new Set([dayNumberOf(NOW + DAY, zone)]),
  },
]);
const orNone = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: null });

/** Something that was sent before now, by minutes. */
const before = fc
  .array(fc.integer({ min: 0, max: 23 * 60 }), { maxLength: 4 })
  .map((minutes) => minutes.map((each) => NOW - each * MINUTE).sort((a, b) => a - b));

const anySender = fc.record({
  dailyLimit: fc.integer({ min: 0, max: 12 }),
  ramp: orNone(
    fc.record({
      start: fc.integer({ min: 1, max: 3 }),
      step: fc.integer({ min: 0, max: 2 }),
      daysSoFar: fc.nat(3),
    }),
  ),
  hourlyLimit: orNone(fc.integer({ min: 1, max: 3 })),
  gap: fc.tuple(fc.constantFrom(0, 4, 25), fc.constantFrom(0, 7)),
  zone: anyZone,
  hours: orNone(fc.constant({ days: [1, 2, 4, 5], opens: "09:00", closes: "15:00" })),
  restsUntil: orNone(fc.integer({ min: 0, max: 30 }).map((hours) => NOW + hours * HOUR)),
  sent: before,
});
const anyPace = fc.record({
  newADay: orNone(fc.integer({ min: 1, max: 3 })),
  perHour: orNone(fc.integer({ min: 1, max: 3 })),
  minutesBetween: orNone(fc.constantFrom(5, 40)),
  zone: anyZone,
  sent: before,
});
const anyJourney = fc.record({
  calendar: fc.constantFrom(...calendars),
  senders: fc.uniqueArray(fc.nat(2), { minLength: 1, maxLength: 3 }),
  followUp: fc.boolean(),
  dueIn: fc.integer({ min: -40, max: 20 }),
  waits: fc.array(fc.integer({ min: 0, max: 2 }), { maxLength: 2 }),
  pace: orNone(fc.nat(1)),
  domain: fc.constantFrom("alder.example", "birch.example"),
  touchedAgo: orNone(fc.integer({ min: 0, max: 5 * 24 })),
});
const anyRules: fc.Arbitrary<SendingRules> = fc.record({
  followUpShare: fc.constantFrom(0, 0.5, 1),
  domainADay: orNone(fc.integer({ min: 1, max: 4 })),
  daysBetween: fc.nat(2),
});

const onDay = (times: readonly number[], at: number, zone: string) =>
  times.filter((each) => dayNumberOf(each, zone) === dayNumberOf(at, zone)).length;

describe("the plan and the claim", () => {
  it("agree about every touch, as the world stands when its moment comes", () => {
    let planned = 0;
    fc.assert(
      fc.property(
        fc.tuple(anySender, anySender, anySender),
        fc.tuple(anyPace, anyPace),
        fc.array(anyJourney, { minLength: 1, maxLength: 30 }),
        anyRules,
        fc.dictionary(fc.constantFrom("alder.example", "birch.example"), before),
        (drawnSenders, drawnPaces, drawnJourneys, rules, domains) => {
          /** What each has sent, as the claims would find it in the ledger. */
          const sentBy = drawnSenders.map(({ sent }) => [...sent]);
          const sentAt = drawnPaces.map(({ sent }) => [...sent]);
          const begunAt: number[][] = drawnPaces.map(() => []);
          const sentTo = new Map(Object.entries(domains).map(([domain, sent]) => [domain, [...sent]]));
          const senderAt = (id: number, now: number): Sender => {
            const { gap, sent: _, ...drawn } = drawnSenders[id] as (typeof drawnSenders)[number];
            const sent = sentBy[id] as number[];
            const newDays = new Set(
              sent.filter((each) => each >= NOW).map((each) => dayNumberOf(each, drawn.zone)),
            );
            const sendsToday = onDay(sent, NOW, drawn.zone) > 0;
            if (sendsToday) newDays.add(dayNumberOf(NOW, drawn.zone));
            newDays.delete(dayNumberOf(now, drawn.zone));
            return {
              ...drawn,
              id,
              gapMinutes: { least: gap[0], most: gap[0] + gap[1] },
              ramp: drawn.ramp && { ...drawn.ramp, daysSoFar: drawn.ramp.daysSoFar + newDays.size },
              sentToday: onDay(sent, now, drawn.zone),
              lastSentAt: sent.at(-1) ?? null,
              sentLately: sent,
            };
          };
          const paceAt = (nth: number, now: number): Pace => {
            const { sent: _, ...drawn } = drawnPaces[nth] as (typeof drawnPaces)[number];
            return {
              ...drawn,
              begunToday: onDay(begunAt[nth] as number[], now, drawn.zone),
              sentLately: sentAt[nth] as number[],
            };
          };
          const paces = drawnPaces.map((_, nth) => paceAt(nth, NOW));
          const pools = new Map<string, number[]>();
          const journeys = drawnJourneys.map((drawn, id): PlanJourney => {
            const ids = drawn.followUp ? drawn.senders.slice(0, 1) : drawn.senders;
            const pool = pools.get(ids.join()) ?? ids;
            pools.set(ids.join(), pool);
            return {
              id,
              calendar: drawn.calendar,
              senderIds: pool,
              followUp: drawn.followUp,
              dueAt: NOW + drawn.dueIn * HOUR,
              ahead: [0, ...drawn.waits].map((days, nth) => ({
                id: `s${nth}`,
                waits: nth === 0 ? [] : [{ days, working: true }],
              })),
              pace: drawn.pace === null ? null : (paces[drawn.pace] as Pace),
              domain: drawn.domain,
              lastTouchAt: drawn.touchedAgo === null ? null : NOW - drawn.touchedAgo * HOUR,
            };
          });
          const { touches } = makePlan({
            now: NOW,
            until: NOW + 6 * DAY,
            senders: drawnSenders.map((_, id) => senderAt(id, NOW)),
            journeys,
            rules,
            domainsLately: sentTo,
          });
          const lastOf = new Map<number, number>();
          for (const { journeyId, stepId, senderId, at } of touches) {
            const journey = journeys[journeyId] as PlanJourney;
            const step = journey.ahead.find(({ id }) => id === stepId) as PlanJourney["ahead"][number];
            const drawn = drawnJourneys[journeyId] as (typeof drawnJourneys)[number];
            const last = lastOf.get(journeyId) ?? null;
            const known: Parameters<typeof mayNotGo<"email">>[1] = {
              ...fine,
              journey: {
                ...fine.journey,
                dueAt:
                  last === null
                    ? journey.dueAt
                    : dueAfter(last, step.waits, journey.calendar, journeyId, stepId),
              },
              sender: senderAt(senderId, at),
              pace: {
                pace: drawn.pace === null ? null : paceAt(drawn.pace, at),
                isFirst: !drawn.followUp && last === null,
              },
              domain: { most: rules.domainADay, sentAt: sentTo.get(drawn.domain) ?? [] },
              team: {
                daysBetween: rules.daysBetween,
                lastTouchAt: last ?? journey.lastTouchAt ?? null,
                zone: journey.calendar.zone,
              },
              hours: journey.calendar,
            };
            expect(
              mayNotGo("email", known, at),
              `${journeyId} ${stepId} at ${new Date(at).toISOString()}`,
            ).toBeNull();
            planned++;
            lastOf.set(journeyId, at);
            (sentBy[senderId] as number[]).push(at);
            if (drawn.pace !== null) {
              (sentAt[drawn.pace] as number[]).push(at);
              if (known.pace.isFirst) (begunAt[drawn.pace] as number[]).push(at);
            }
            sentTo.set(drawn.domain, [...(sentTo.get(drawn.domain) ?? []), at]);
          }
        },
      ),
      { numRuns: 400 },
    );
    // Else it would hold of empty plans only.
    expect(planned).toBeGreaterThan(1_000);
  });
});
