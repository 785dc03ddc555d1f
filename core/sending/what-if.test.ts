import { describe, expect, it } from "vitest";
import { type Calendar, NO_HOLIDAYS } from "../calendar.ts";
import type { PlanInput, PlanJourney } from "./plan-parts.ts";
import type { Sender } from "./sender.ts";
import { changed, isNothing, NOTHING_ELSE, type WhatIf, whatIfSchema } from "./what-if.ts";

const calendar: Calendar = {
  zone: "UTC",
  hours: { days: [1, 2, 3, 4, 5], opens: "09:00", closes: "17:00" },
  holidays: NO_HOLIDAYS,
};
const sender = (id: number): Sender => ({
  id,
  dailyLimit: 30,
  ramp: { start: 5, step: 1, daysSoFar: 3 },
  gapMinutes: { least: 5, most: 9 },
  zone: "UTC",
  sentToday: 4,
  followUpsToday: 2,
  lastSentAt: 90,
  sentLately: [90],
  restsUntil: 500,
});
const pool: readonly number[] = [1, 2];
const journey = (id: number, change: Partial<PlanJourney> = {}): PlanJourney => ({
  id,
  calendar,
  senderIds: pool,
  followUp: false,
  dueAt: 100,
  ahead: [{ id: "a", waits: [] }],
  ...change,
});
const input: PlanInput = {
  now: 100,
  until: 9_000,
  senders: [sender(1), sender(2)],
  journeys: [journey(1), journey(2), journey(3, { followUp: true, senderIds: [1] })],
  rules: { followUpShare: 0.6, domainADay: null, daysBetween: 0 },
  kept: [{ journeyId: 1, stepId: "a", senderId: 1, at: 200, followUp: false }],
};
const newcomer = { calendar, senderIds: pool, ahead: [{ id: "x", waits: [] }], pace: null, dueAt: 300 };
const of = (change: Partial<WhatIf>, who: typeof newcomer | null = newcomer) =>
  changed(input, { ...NOTHING_ELSE, ...change }, who);

describe("what is asked", () => {
  it("is nothing where nothing is said", () => {
    expect(isNothing(NOTHING_ELSE)).toBe(true);
    expect(isNothing({ ...NOTHING_ELSE, morePeople: 1 })).toBe(false);
    expect(whatIfSchema.parse({})).toEqual({
      onlyMailbox: null,
      dailyLimit: null,
      gapMinutes: null,
      followUpPercent: null,
      moreMailboxes: 0,
      paused: [],
      firstsFrom: null,
      morePeople: 0,
      sequenceId: null,
    });
  });

  it.each<[string, object, boolean]>([
    ["a limit of none", { dailyLimit: 0 }, false],
    ["the least limit", { dailyLimit: 1 }, true],
    ["the most", { dailyLimit: 500 }, true],
    ["more than the most", { dailyLimit: 501 }, false],
    ["a gap the wrong way round", { gapMinutes: { least: 9, most: 5 } }, false],
    ["an even gap", { gapMinutes: { least: 9, most: 9 } }, true],
    ["a gap of hours", { gapMinutes: { least: 0, most: 241 } }, false],
    ["more than all", { followUpPercent: 101 }, false],
    ["a hundred mailboxes", { moreMailboxes: 100 }, true],
    ["a hundred and one", { moreMailboxes: 101 }, false],
    ["too many people", { morePeople: 100_001 }, false],
    ["less than nobody", { morePeople: -1 }, false],
  ])("is read or refused: %s", (_, asked, fits) => expect(whatIfSchema.safeParse(asked).success).toBe(fits));
});

describe("a plan's input, changed", () => {
  it("is as it was where nothing is, but for the moments that were kept", () => {
    expect(of({})).toEqual({ ...input, kept: [] });
  });

  it("has another limit and gap for every mailbox, or for one alone", () => {
    const gapMinutes = { least: 1, most: 2 };
    expect(of({ dailyLimit: 9, gapMinutes }).senders).toMatchObject([
      { dailyLimit: 9, gapMinutes },
      { dailyLimit: 9, gapMinutes },
    ]);
    expect(of({ dailyLimit: 9, onlyMailbox: 2 }).senders).toEqual([
      sender(1),
      { ...sender(2), dailyLimit: 9 },
    ]);
    expect(of({ gapMinutes }).senders[0]).toEqual({ ...sender(1), gapMinutes });
  });

  it("has further mailboxes like the first, which have sent nothing yet and rest from nothing", () => {
    const { senders, journeys } = of({ moreMailboxes: 2, dailyLimit: 7 });
    const fresh = {
      ramp: null,
      sentToday: 0,
      followUpsToday: 0,
      lastSentAt: null,
      sentLately: [],
      restsUntil: null,
    };
    expect(senders.slice(2)).toEqual([-1, -2].map((id) => ({ ...sender(1), dailyLimit: 7, ...fresh, id })));
    // New people may go from them; a thread stays where it is.
    expect(journeys.map(({ senderIds }) => senderIds)).toEqual([[1, 2, -1, -2], [1, 2, -1, -2], [1]]);
    expect(journeys[0]?.senderIds).toBe(journeys[1]?.senderIds);
  });

  it("goes without the mailboxes that are paused; threads there wait", () => {
    const { senders, journeys } = of({ paused: [1], moreMailboxes: 1 });
    expect(senders.map(({ id }) => id)).toEqual([2, -1]);
    expect(senders[1]).toMatchObject({ dailyLimit: 30 });
    expect(journeys.map(({ senderIds }) => senderIds)).toEqual([[2, -1], [2, -1], [1]]);
    expect(of({ paused: [1, 2], moreMailboxes: 3 }).senders).toEqual([]);
  });

  it("lets first emails go later, never earlier, and follow-ups as they were", () => {
    expect(of({ firstsFrom: 400 }).journeys.map(({ dueAt }) => dueAt)).toEqual([400, 400, 100]);
    expect(of({ firstsFrom: 50 }).journeys.map(({ dueAt }) => dueAt)).toEqual([100, 100, 100]);
  });

  it("has new people, who begin as those who begin now, or none where nobody does", () => {
    const added = of({ morePeople: 2, moreMailboxes: 1 }).journeys.slice(3);
    expect(added).toEqual(
      [-1, -2].map((id) => ({ ...newcomer, id, senderIds: [1, 2, -1], followUp: false, dueAt: 300 })),
    );
    expect(of({ morePeople: 1, firstsFrom: 800 }).journeys.at(-1)?.dueAt).toBe(800);
    expect(of({ morePeople: 5 }, null).journeys).toHaveLength(3);
  });

  it("gives follow-ups another share", () => {
    expect(of({ followUpPercent: 25 }).rules).toEqual({
      followUpShare: 0.25,
      domainADay: null,
      daysBetween: 0,
    });
    const { rules: _, ...without } = input;
    expect(changed(without, { ...NOTHING_ELSE, followUpPercent: 25 }, null).rules).toBeUndefined();
  });
});
