import { describe, expect, it } from "vitest";
import { DAY, instantOn } from "../calendar.ts";
import { outcomes, type RehearsalInput, rehearse } from "./rehearse.ts";
import { days, email, fork, lisbon, task } from "./test-paths.ts";

const path = [
  email("a"),
  task("invite", "invitation", 2),
  fork("f", { about: "accepted" }, [task("msg", "social_message", 1)], [email("b", 1)], days(4)),
  email("c", 3),
];
const input = (change: Partial<RehearsalInput> = {}): RehearsalInput => ({
  path,
  calendars: [lisbon],
  people: Array.from({ length: 300 }, () => ({ calendar: 0, hasAddress: true, hasProfile: true })),
  mailboxes: [1, 2].map((id) => ({
    id,
    dailyLimit: 30,
    gapMinutes: { least: 5, most: 9 },
    zone: "Europe/Lisbon",
    sentToday: 0,
    lastSentAt: null,
    restsUntil: null,
  })),
  now: instantOn("2026-06-09", "08:00", "Europe/Lisbon"),
  days: 60,
  rates: { reply: 0.05, open: 0.4, click: 0.1, meeting: 0.3, accept: 0.35 },
  seenEmails: 400,
  stops: { reply: true, meeting: true, open: false, click: false },
  newADay: null,
  seed: "x",
  ...change,
});

describe("a rehearsal", () => {
  it("passes no limit, loses nobody, and is the same for the same seed", () => {
    const run = rehearse(input());
    expect(rehearse(input())).toEqual(run);
    for (const { touches } of run.days) expect(touches.email).toBeLessThanOrEqual(60);
    const { finished, replied, stopped, underWay } = run.ends;
    expect(finished + replied + stopped + underWay).toBe(300);
    expect(underWay).toBe(0);
    const got = (id: string) => run.days.reduce((sum, { steps }) => sum + (steps[id] ?? 0), 0);
    expect(got("a")).toBe(300);
    // Every one of those who went on took one of the two ways.
    expect(got("msg") + got("b")).toBeLessThanOrEqual(300);
    expect(got("msg")).toBeGreaterThan(40);
  });

  it("sends nothing on a weekend or a holiday", () => {
    const holidays = new Set([Math.floor(Date.parse("2026-06-10") / DAY)]);
    const run = rehearse(input({ calendars: [{ ...lisbon, holidays }] }));
    for (const { day, touches } of run.days)
      if ([0, 6].includes(new Date(day).getUTCDay()) || day === "2026-06-10") expect(touches.email).toBe(0);
  });

  it("says when the mailboxes are what holds it up", () => {
    const tight = rehearse(input({ mailboxes: input().mailboxes.slice(0, 1) }));
    expect(tight.fullDays).toBeGreaterThan(5);
    expect(tight.days[0]?.late).toBeGreaterThan(200);
    expect(Date.parse(tight.allBegunBy ?? "")).toBeGreaterThan(Date.parse("2026-06-20"));
    const people = input().people.slice(0, 20);
    expect(rehearse(input({ people })).fullDays).toBe(0);
  });

  it("gives a range that is wider the less was seen, and holds the middle", () => {
    const emails = Array.from({ length: 500 }, () => 3);
    const few = outcomes(emails, input({ seenEmails: 20 })).replies;
    const many = outcomes(emails, input({ seenEmails: 5_000 })).replies;
    expect(few.high - few.low).toBeGreaterThan(1.5 * (many.high - many.low));
    // 500 people with three emails each at 5 %: about 71 answer.
    expect(many.middle).toBeGreaterThan(60);
    expect(many.middle).toBeLessThan(82);
  });
});
