/** Each rule at its border: what it says on one side, with until when and about what, and that it is silent on the other. */
import { describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../calendar.ts";
import { publicHolidays } from "../holidays.ts";
import {
  isSilent,
  type Known,
  LATELY,
  mayNotGo,
  mayNotGoFor,
  RULES,
  type RuleName,
  rulesAt,
} from "./may-go.ts";
import { mailbox, nothingAgainst, pace } from "./test-known.ts";

/** Tuesday, 9 June 2026, 10:00 in Lisbon. */
const NOW = Date.parse("2026-06-09T10:00:00+01:00");
const at = (time: string) => Date.parse(`2026-06-${time}:00+01:00`);

const FINE = nothingAgainst(NOW);

type Said = { reason: string; until: number | null; detail: string | null } | null;
const asked = (name: RuleName, part: object | undefined): Said => {
  const { scope, asks } = RULES[name] as { scope: keyof Known; asks: (known: unknown, now: number) => Said };
  const fine = FINE[scope];
  return asks(part === undefined ? undefined : { ...fine, ...part }, NOW) || null;
};
const no = (reason: string, until: number | null = null, detail: string | null = null): Said => ({
  reason,
  until,
  detail,
});

/** Where it says no, what; and where it does not, though close to it. */
const BORDERS: Record<RuleName, [against: object | undefined, said: Said, ...silent: object[]][]> = {
  already: [[{ hadIt: true }, no("already")]],
  elsewhere: [[{ isElsewhere: true }, no("elsewhere")]],
  settling: [[{ settling: 1 }, no("settling"), { settling: 2 }]],
  undecided: [[{ settling: 2 }, no("undecided"), { settling: 1 }]],
  blocked: [[{ isBlocked: true }, no("blocked")]],
  address_bad: [
    [
      { state: "bad" },
      no("address_bad"),
      { state: "bad", isNeeded: false },
      { state: "doubtful" },
      { state: "unchecked" },
    ],
  ],
  written_lately: [[{ writtenAt: NOW - LATELY }, no("written_lately"), { writtenAt: NOW - LATELY - 1 }]],
  sequence_paused: [
    [{ state: "paused" }, no("sequence_paused")],
    [{ state: "draft" }, no("sequence_paused")],
  ],
  held: [[{ held: no("away", 7, "2026-06-19") }, no("away", 7, "2026-06-19")]],
  likely_reply: [
    [
      { waitReason: "likely_reply", waitDetail: "d" },
      no("likely_reply", null, "d"),
      { waitReason: "wait_days" },
    ],
  ],
  text: [
    [{ waitReason: "merge_field_empty", waitDetail: "rooms" }, no("merge_field_empty", null, "rooms")],
    [{ waitReason: "line_unread", waitDetail: "opening" }, no("line_unread", null, "opening")],
    [{ waitReason: "text_broken", waitDetail: "x" }, no("text_broken", null, "x"), { waitReason: "in_line" }],
  ],
  no_address: [
    [{ email: "" }, no("no_address"), { email: "", isNeeded: false }],
    [{ email: null }, no("no_address")],
  ],
  address_not_good: [
    [
      { state: "likely" },
      no("address_not_good", null, "likely"),
      { state: "likely", writesTo: "likely" },
      { state: "likely", isNeeded: false },
    ],
    [
      { state: "doubtful", writesTo: "likely" },
      no("address_not_good", null, "doubtful"),
      { state: "doubtful", writesTo: "doubtful" },
    ],
    [
      { state: "unchecked", writesTo: "doubtful" },
      no("address_not_good", null, "unchecked"),
      { state: "unchecked", writesTo: "any" },
    ],
  ],
  lacks_field: [[{ lacksField: true }, no("lacks_field")]],
  line_unread: [[{ isUnread: true }, no("line_unread")]],
  draft_open: [[{ touch: "draft" }, no("draft_open"), { touch: "open" }]],
  task_open: [
    [
      { touch: "open", wakeAt: 9 },
      no("task_open", 9),
      { touch: "draft" },
      { touch: "open", account: FINE.account },
    ],
  ],
  account: [
    [{ account: { name: "M", state: "active", retryAt: null } }, no("in_line", null, "M")],
    [{ account: { name: "M", state: "active", retryAt: NOW } }, no("in_line", NOW, "M")],
    [{ account: { name: "M", state: "active", retryAt: NOW + 1 } }, no("account_limit", NOW + 1, "M")],
    [{ account: { name: "M", state: "signed_out", retryAt: null } }, no("account_signed_out", null, "M")],
    [{ account: { name: "M", state: "paused", retryAt: null } }, no("account_paused", null, "M")],
  ],
  fork_open: [[{ isOpenFork: true, wakeAt: 9 }, no("fork_open", 9)]],
  first_ones: [[{ comesAfterFirstOnes: true }, no("first_ones")]],
  approval: [[{ isMissing: true }, no("draft_open")]],
  no_mailbox: [
    [{ removedAt: 1 }, no("no_mailbox")],
    [undefined, no("no_mailbox")],
  ],
  mailbox_paused: [[{ state: "paused" }, no("mailbox_paused", null, "m@q.example"), { state: "resting" }]],
  mailbox_resting: [
    [
      { state: "resting", restUntil: null },
      no("mailbox_resting", null, "m@q.example"),
      { state: "resting", restUntil: NOW + 1 },
      { state: "active", restUntil: null },
    ],
  ],
  mailbox_stopped: [[{ smtpStopped: 1, smtpTrouble: "550" }, no("mailbox_stopped", null, "550")]],
  mailbox_new: [
    [
      { connectedWall: null },
      no("mailbox_unreachable", null, "Its mailbox has not connected yet."),
      { connectedWall: 0 },
    ],
  ],
  mailbox_unread: [[{ trouble: "no" }, no("mailbox_unreachable", null, "no")]],
  mailbox_unreachable: [
    [
      { smtpTrouble: "no", smtpRetryAt: NOW + 1 },
      no("mailbox_unreachable", NOW + 1, "no"),
      { smtpTrouble: "no", smtpRetryAt: NOW },
      { smtpTrouble: "no", smtpRetryAt: null },
      { smtpTrouble: null, smtpRetryAt: NOW + 1 },
    ],
  ],
  overtaken: [[{ isOvertaken: true }, no("overtaken")]],
  account_waits: [
    [{ state: "signed_out" }, no("account_signed_out", null, "Marta")],
    [{ state: "paused" }, no("account_paused", null, "Marta")],
    [{ retryAt: NOW + 1 }, no("account_limit", NOW + 1, "Marta"), { retryAt: NOW }],
  ],
  wait_days: [[{ dueAt: NOW + 1 }, no("wait_days", NOW + 1), { dueAt: NOW }]],
  // By date where they are: a touch late on Sunday, two days between, is over on Tuesday.
  touched_lately: [
    [
      { daysBetween: 2, lastTouchAt: at("08T00:00") },
      no("touched_lately", at("10T00:00")),
      { daysBetween: 2, lastTouchAt: at("08T00:00") - 1 },
      { daysBetween: 0, lastTouchAt: NOW },
      { daysBetween: 2, lastTouchAt: null },
    ],
  ],
  outside_hours: [
    [
      { hours: { days: [1, 2, 3, 4, 5], opens: "10:01", closes: "17:00" } },
      no("outside_hours", at("09T10:01")),
      { hours: { days: [2], opens: "10:00", closes: "10:01" } },
    ],
    [{ hours: { days: [3], opens: "08:30", closes: "17:00" } }, no("outside_hours", at("10T08:30"))],
    [
      { holidays: new Set([Math.floor((NOW + HOUR) / DAY)]) },
      no("holiday", at("10T08:30")),
      { holidays: publicHolidays("DE", 2026) },
    ],
  ],
  own_hours: [
    [
      { hours: { days: [2], opens: "10:01", closes: "17:00" } },
      no("outside_hours"),
      { hours: { days: [2], opens: "10:00", closes: "17:00" } },
    ],
    [{ hours: { days: [2], opens: "08:00", closes: "10:00" } }, no("outside_hours"), { hours: null }],
    [{ hours: { days: [1], opens: "08:00", closes: "17:00" } }, no("outside_hours")],
  ],
  rest: [[{ restsUntil: NOW + 1 }, no("mailbox_resting", NOW + 1), { restsUntil: NOW }]],
  daily_limit: [
    [{ sentToday: 30 }, no("mailbox_limit"), { sentToday: 29 }],
    [
      { sentToday: 7, ramp: { start: 5, step: 2, daysSoFar: 1 } },
      no("ramp"),
      { sentToday: 6, ramp: { start: 5, step: 2, daysSoFar: 1 } },
    ],
  ],
  gap: [[{ lastSentAt: NOW - 9 * MINUTE + 1 }, no("gap", NOW + 1), { lastSentAt: NOW - 9 * MINUTE }]],
  hour_limit: [
    [
      { hourlyLimit: 1, sentLately: [NOW - HOUR + 1] },
      no("hour_limit"),
      { hourlyLimit: 1, sentLately: [NOW - HOUR] },
      { hourlyLimit: null, sentLately: [NOW] },
    ],
  ],
  new_a_day: [
    [
      { isFirst: true, pace: { ...pace, newADay: 2, begunToday: 2 } },
      no("new_a_day"),
      { isFirst: true, pace: { ...pace, newADay: 2, begunToday: 1 } },
      { isFirst: false, pace: { ...pace, newADay: 2, begunToday: 2 } },
      { isFirst: true, pace },
    ],
  ],
  pace: [
    [
      { pace: { ...pace, perHour: 1, sentLately: [NOW - HOUR + 1] } },
      no("pace"),
      { pace: { ...pace, perHour: 1, sentLately: [NOW - HOUR] } },
    ],
    [
      { pace: { ...pace, minutesBetween: 5, sentLately: [NOW - 5 * MINUTE + 1] } },
      no("pace"),
      { pace: { ...pace, minutesBetween: 5, sentLately: [NOW - 5 * MINUTE] } },
    ],
  ],
  domain_cap: [
    [
      { most: 1, sentAt: [NOW - DAY + 1] },
      no("domain_cap"),
      { most: 1, sentAt: [NOW - DAY] },
      { most: null, sentAt: [NOW] },
    ],
  ],
  account_limit: [[{ isSpent: true }, no("account_limit", at("10T00:00"), "Marta")]],
};

describe("a rule", () => {
  for (const [name, borders] of Object.entries(BORDERS) as [RuleName, (typeof BORDERS)[RuleName]][])
    it(`${name.replaceAll("_", " ")}`, () => {
      expect(asked(name, {})).toBeNull();
      for (const [against, said, ...silent] of borders) {
        expect(asked(name, against)).toEqual(said);
        for (const part of silent) expect([part, asked(name, part)]).toEqual([part, null]);
      }
    });
});

describe("a door", () => {
  it("lets through whom nothing is against", () => {
    for (const door of [
      ...(["preview", "start", "single", "consider", "plan", "email", "social"] as const),
      ...(["answer", "service", "exchange"] as const),
    ])
      expect([door, mayNotGo(door, FINE, NOW)]).toEqual([door, null]);
  });

  it("says the first that is against somebody, in the order of the table", () => {
    const blocked = {
      ...FINE,
      person: { isBlocked: true, held: { reason: "away" as const, until: 1, detail: null } },
    };
    expect(mayNotGo("email", blocked, NOW)?.reason).toBe("blocked");
    // The plan leaves blocks to what walks the journeys.
    expect(mayNotGo("plan", blocked, NOW)?.reason).toBe("away");
    const both = { ...blocked, entry: { ...FINE.entry, isElsewhere: true, hadIt: true } };
    expect(mayNotGo("preview", both, NOW)?.reason).toBe("already");
    expect(mayNotGo("single", both, NOW)?.reason).toBe("elsewhere");
  });

  it("reads nothing of which none of its rules is", () => {
    const read: string[] = [];
    const watched = new Proxy(FINE, {
      get: (target, part) => {
        read.push(String(part));
        return target[part as keyof Known];
      },
    });
    mayNotGo("answer", watched, NOW);
    expect(new Set(read)).toEqual(new Set(["person", "mailbox", "answer"]));
    read.length = 0;
    mayNotGoFor("plan", ["mailbox"], watched, NOW);
    expect(new Set(read)).toEqual(new Set(["mailbox"]));
  });

  it("of a start asks nothing that a preview does not show", () => {
    expect(rulesAt("start").filter((name) => !(rulesAt("preview") as string[]).includes(name))).toEqual([]);
  });
});

it("a mailbox is silent that waits for something, or rests until later", () => {
  expect(isSilent(mailbox, NOW)).toBe(false);
  expect(isSilent(undefined, NOW)).toBe(true);
  expect(isSilent({ ...mailbox, state: "paused" }, NOW)).toBe(true);
  expect(isSilent({ ...mailbox, state: "resting", restUntil: NOW + 1 }, NOW)).toBe(true);
  expect(isSilent({ ...mailbox, state: "resting", restUntil: null }, NOW)).toBe(true);
  expect(isSilent({ ...mailbox, state: "resting", restUntil: NOW }, NOW)).toBe(false);
  expect(isSilent({ ...mailbox, state: "active", restUntil: NOW + 1 }, NOW)).toBe(false);
});
