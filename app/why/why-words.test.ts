/** Recorded decisions as sentences, each leading to where its rule is set. */
import { describe, expect, it } from "vitest";
import type { DecisionInputs, DecisionLine, WhyView } from "../../server/why/why";
import { nextSentence, sentenceOf } from "./why-words";

const NOW = Date.parse("2026-06-09T10:00:00Z");
const HOUR = 3_600_000;
const NO_INPUTS: DecisionInputs = {
  ask: null,
  mailbox: null,
  planned: null,
  sentToday: null,
  limit: null,
  until: null,
  scope: null,
};
const view = (more: Partial<WhyView> = {}): WhyView => ({
  journeyId: 1,
  prospectId: 2,
  name: "Ana Reis",
  sequenceId: 7,
  sequenceName: "Loans",
  state: "active",
  path: [],
  lines: [],
  earlier: 0,
  next: null,
  stopReason: null,
  stopDetail: null,
  ...more,
});
const line = (
  kind: DecisionLine["kind"],
  outcome = "",
  inputs: Partial<DecisionInputs> = {},
  nodeName = "Opening",
) =>
  sentenceOf(
    { id: 1, at: NOW - HOUR, kind, nodeName, outcome, inputs: { ...NO_INPUTS, ...inputs } },
    view({ stopReason: "replied" }),
    NOW,
    "UTC",
  );

describe("what was decided", () => {
  const OPENED = { about: "opened", stepId: "a" } as const;
  it.each<[string, ReturnType<typeof line>, RegExp, string | null]>([
    ["a start", line("start"), /^Began the sequence “Loans”$/, "/sequences/7"],
    [
      "a fork that was true",
      line("fork", "yes", { ask: OPENED }),
      /was true: the way of the yes$/,
      "/sequences/7",
    ],
    [
      "a fork that was not",
      line("fork", "no", { ask: OPENED }),
      /not true in time: the way of the no$/,
      "/sequences/7",
    ],
    [
      "a step left out",
      line("skip", "", { ask: OPENED }),
      /^“Opening” was left out, since “.+” did not hold$/,
      "/sequences/7",
    ],
    [
      "one left out of which nobody knows the condition",
      line("skip"),
      /since “its condition held” did not hold$/,
      "/sequences/7",
    ],
    ["a step nobody did", line("lapse"), /^“Opening” was left undone for too long/, "/sequences/7"],
    ["a move", line("move"), /^Was moved to “Opening”$/, "/sequences/7"],
    ["a move to a step that is gone", line("move", "", {}, ""), /^Was moved to A step$/, "/sequences/7"],
    ["a wait", line("wait", "domain_cap"), /^Waited: /, "/settings?show=sending"],
    ["a wait until then", line("wait", "wait_days", { until: NOW + HOUR }), /^Waited until .*11:00/, null],
    ["a wait that no version knows any more", line("wait", "moon_phase"), /^Waited$/, null],
    ["a hold", line("hold", "away"), /^Was held: /, null],
    [
      "a hold by a colleague's answer",
      line("hold", "colleague_replied", { scope: "company" }),
      /^Was held: somebody else of the company answered$/,
      "/",
    ],
    ["a hold that no version knows any more", line("hold", "moon_phase"), /^Was held$/, null],
    ["its end", line("release", "away"), /^Goes on: “.+” is over$/, null],
    [
      "the end of one that no version knows",
      line("release", "moon_phase"),
      /^Goes on: the hold is over$/,
      null,
    ],
    ["an email that left", line("claim"), /^“Opening” left$/, "/sending"],
    [
      "from where, and as which of how many",
      line("claim", "", { mailbox: "m@q.example", sentToday: 3, limit: 30 }),
      /^“Opening” left from m@q\.example, as 3 of 30 that day$/,
      "/sending",
    ],
    [
      "an email that left at another time than planned",
      line("claim", "", { planned: NOW - 3 * HOUR }),
      /; it was planned for .*07:00$/,
      "/sending",
    ],
    ["one that was on time", line("claim", "", { planned: NOW - HOUR - 60_000 }), /left$/, "/sending"],
    ["a stop", line("stop"), /^Everything stopped: .+ What was still planned was cancelled$/, "/sequences/7"],
    ["the end", line("finish"), /^Got the last step$/, null],
  ])("%s", (_, sentence, words, to) => {
    expect(sentence.words).toMatch(words);
    expect(sentence.place?.to ?? null).toBe(to);
  });
});

describe("what comes next", () => {
  const next = (more: Partial<NonNullable<WhyView["next"]>> = {}) =>
    nextSentence(
      view({
        next: {
          at: null,
          mailbox: null,
          mailboxId: null,
          stepName: "Close",
          reason: null,
          detail: null,
          ...more,
        },
      }),
      NOW,
      "UTC",
    );

  it("is nothing for somebody whose journey is over", () => {
    expect(nextSentence(view(), NOW, "UTC")).toBeNull();
  });

  it("is a step, when and from where", () => {
    expect(next({ at: NOW + HOUR, mailbox: "m@q.example", reason: "in_line" })?.words).toMatch(
      /^Next is “Close”\. .*11:00.* From m@q\.example\.$/,
    );
  });

  it("names no mailbox while nobody knows when, and no step where there is none", () => {
    const held = next({ mailbox: "m@q.example", stepName: "", reason: "merge_field_empty", detail: "city" });
    expect(held?.words).not.toMatch(/Next is| From /);
    expect(held?.words).toContain("city");
    expect(held?.place?.to).toBe("/prospects/2");
  });
});
