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

describe("a rehearsed day", () => {
  const never = { reply: 0, open: 0, click: 0, meeting: 0, accept: 0 };
  const two = [email("a"), email("b", 2)];
  const one = (change: Partial<RehearsalInput> = {}) =>
    rehearse(input({ path: two, people: input().people.slice(0, 1), rates: never, ...change }));
  const shown = (run: ReturnType<typeof rehearse>) =>
    run.days
      .filter(({ touches }) => Object.values(touches).some((number) => number > 0))
      .map(
        ({ day, steps }) =>
          `${day} ${Object.entries(steps)
            .map((each) => each.join(":"))
            .join(" ")}`,
      );

  it("has each step on its day, and says when the last begins and when it is over", () => {
    const run = one();
    expect(shown(run)).toEqual(["2026-06-09 a:1", "2026-06-11 b:1"]);
    expect(run).toMatchObject({
      lastDay: "2026-06-11",
      allBegunBy: "2026-06-09",
      fullDays: 0,
      ends: { finished: 1, replied: 0, stopped: 0, underWay: 0 },
    });
    // At least a week of days, so that there is something to look at.
    expect(run.days).toHaveLength(5);
    expect(run.days.every(({ late }) => late === 0)).toBe(true);
  });

  it("goes on in the mailbox that began, and no day is over its limit", () => {
    const box = input().mailboxes[0] as RehearsalInput["mailboxes"][number];
    const run = one({ people: input().people.slice(0, 3), mailboxes: [{ ...box, dailyLimit: 2 }] });
    expect(shown(run)).toEqual(["2026-06-09 a:2", "2026-06-10 a:1", "2026-06-11 b:2", "2026-06-12 b:1"]);
    expect(run.days.map(({ late }) => late)).toEqual([1, 0, 0, 0, 0]);
    expect(run).toMatchObject({ fullDays: 2, allBegunBy: "2026-06-10" });
    const sentAlready = one({ mailboxes: [{ ...box, dailyLimit: 2, sentToday: 2 }] });
    expect(shown(sentAlready)[0]).toBe("2026-06-10 a:1");
  });

  it("lets in so many new people a day", () => {
    const run = one({ people: input().people.slice(0, 5), path: [email("a")], newADay: 2 });
    expect(shown(run)).toEqual(["2026-06-09 a:2", "2026-06-10 a:2", "2026-06-11 a:1"]);
  });

  it("counts touches of every channel, and takes what a rep does as done that day", () => {
    const path = [task("c", "call"), task("v", "profile_view", 1), task("e", "errand", 1)];
    const run = one({ path });
    expect(run.days.slice(0, 3).map(({ touches }) => touches)).toEqual([
      { email: 0, social: 0, call: 1, errand: 0 },
      { email: 0, social: 1, call: 0, errand: 0 },
      { email: 0, social: 0, call: 0, errand: 1 },
    ]);
    expect(run).toMatchObject({ allBegunBy: "2026-06-09", ends: { finished: 1 } });
  });

  it("without a mailbox, or without time, leaves everybody under way", () => {
    const without = one({ mailboxes: [] });
    expect(without).toMatchObject({ lastDay: null, allBegunBy: null, fullDays: 0, ends: { underWay: 1 } });
    expect(one({ days: 1 })).toMatchObject({ ends: { underWay: 1 }, lastDay: "2026-06-09" });
    expect(one({ path: [] })).toMatchObject({ lastDay: null, ends: { finished: 1 } });
    expect(one({ people: [] }).days.length).toBeLessThanOrEqual(5);
  });

  it.each<[string, Partial<RehearsalInput>, keyof ReturnType<typeof rehearse>["ends"]]>([
    ["a reply", { rates: { ...never, reply: 1 } }, "replied"],
    [
      "a reply that stops nothing",
      { rates: { ...never, reply: 1 }, stops: { ...input().stops, reply: false } },
      "finished",
    ],
    [
      "an open that stops",
      { rates: { ...never, open: 1 }, stops: { ...input().stops, open: true } },
      "stopped",
    ],
    ["an open that does not", { rates: { ...never, open: 1 } }, "finished"],
    [
      "a click that stops",
      { rates: { ...never, open: 1, click: 1 }, stops: { ...input().stops, click: true } },
      "stopped",
    ],
    ["a click that does not", { rates: { ...never, open: 1, click: 1 } }, "finished"],
  ])("ends by %s", (_, change, end) => {
    expect(one(change).ends[end]).toBe(1);
    expect(shown(one(change))).toHaveLength(end === "finished" ? 2 : 1);
  });

  it.each<[string, Parameters<typeof fork>[1], Partial<RehearsalInput["rates"]>]>([
    ["an open", { about: "opened", stepId: "a" }, { open: 1 }],
    ["a click", { about: "clicked", stepId: "a" }, { open: 1, click: 1 }],
  ])("takes the way of yes once there was %s, and of no after the patience", (_, ask, rates) => {
    const path = [email("a"), fork("f", ask, [email("y", 1)], [email("n", 1)], days(4))];
    const steps = (change: Partial<RehearsalInput["rates"]>) =>
      shown(one({ path, rates: { ...never, ...change } })).at(-1);
    expect(steps(rates)).toMatch(/ y:1$/);
    expect(steps({})).toMatch(/ n:1$/);
    expect(steps({}) ?? "").toContain("2026-06-16");
    expect((steps(rates) ?? "") < "2026-06-13").toBe(true);
  });

  it("takes an accepted invitation into account some hours later", () => {
    const path = [
      task("i", "invitation"),
      fork("f", { about: "accepted" }, [task("m", "social_message")], [], days(9)),
    ];
    expect(shown(one({ path, rates: { ...never, accept: 1 } })).at(-1)).toMatch(
      /2026-06-(09|10|11|12|15) m:1$/,
    );
    expect(shown(one({ path }))).toHaveLength(1);
  });

  it("asks people as they are", () => {
    const path = [fork("f", { about: "profile" }, [task("m", "social_message")], [email("n")])];
    const of = (hasProfile: boolean) =>
      shown(one({ path, people: [{ calendar: 0, hasAddress: true, hasProfile }] }));
    expect(of(true)).toEqual(["2026-06-09 m:1"]);
    expect(of(false)).toEqual(["2026-06-09 n:1"]);
  });

  it("tells how far it is", () => {
    const told: number[] = [];
    rehearse(input({ people: [], days: 3 }), (day) => told.push(day));
    expect(told).toEqual([1, 2, 3]);
  });
});

describe("replies by chance", () => {
  const of = (emails: number[], change: Partial<RehearsalInput> = {}) => outcomes(emails, input(change));

  it("are none of nobody, at most one of each, and in order", () => {
    expect(of([]).replies).toEqual({ low: 0, middle: 0, high: 0 });
    expect(of([0, 0, 0]).replies).toEqual({ low: 0, middle: 0, high: 0 });
    const sure = of(Array(30).fill(2), {
      rates: { ...input().rates, reply: 1, meeting: 1 },
      seenEmails: 1e9,
    });
    expect(sure).toEqual({
      replies: { low: 30, middle: 30, high: 30 },
      meetings: { low: 30, middle: 30, high: 30 },
    });
  });

  // Once below and once above the number from which a normal distribution stands for the binomial one.
  it.each([50, 400])("of %i people spread as chance does, and a third of them book", (people) => {
    const { replies, meetings } = of(Array(people).fill(1), {
      rates: { ...input().rates, reply: 0.4, meeting: 1 / 3 },
      seenEmails: 1e9,
    });
    const deviation = Math.sqrt(people * 0.4 * 0.6);
    expect(Math.abs(replies.middle - people * 0.4)).toBeLessThan(0.35 * deviation);
    expect((replies.high - replies.low) / (2 * 1.645 * deviation)).toBeGreaterThan(0.8);
    expect((replies.high - replies.low) / (2 * 1.645 * deviation)).toBeLessThan(1.2);
    expect(Math.abs(meetings.middle - replies.middle / 3)).toBeLessThan(0.4 * deviation);
  });

  it("grow with each email that somebody gets", () => {
    const middle = (each: number) => of(Array(400).fill(each), { seenEmails: 1e9 }).replies.middle;
    expect(Math.abs(middle(1) - 20)).toBeLessThan(3);
    expect(Math.abs(middle(3) - 400 * (1 - 0.95 ** 3))).toBeLessThan(5);
  });
});
