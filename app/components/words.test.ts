import { describe, expect, it } from "vitest";
import { CLEANING_RULES } from "../../core/prospects/cleaning/rules";
import type { Filter } from "../../core/prospects/filter";
import type { MisfitReason } from "../../core/prospects/profile";
import { ADDRESS_STATES, type VerdictReason } from "../../core/prospects/verdict";
import { WAIT_REASONS } from "../../core/sending/reasons.ts";
import { filterSentence } from "../prospects/filter-words";
import {
  MISFIT_NAMES,
  misfitSentence,
  RULE_NAMES,
  VERDICT_NAMES,
  VERDICT_TONES,
  verdictSentence,
} from "../prospects/words";
import {
  count,
  day,
  dayTime,
  inWords,
  restWords,
  SHORT_WAITS,
  share,
  WAIT_WORDS,
  waitSentence,
  when,
} from "./words.ts";

const NOW = Date.parse("2026-06-09T09:36:00Z");
const LISBON = "Europe/Lisbon";

describe("the tool's words", () => {
  it("say days and times where the reader is", () => {
    expect(day(NOW, LISBON)).toBe("Tue 9 June");
    expect(dayTime(NOW, "Asia/Tokyo")).toBe("Tue 9 June, 18:36");
    expect(when(NOW + 3_600_000, NOW, LISBON)).toBe("11:36");
    expect(when(NOW + 86_400_000, NOW, LISBON)).toBe("Wed 10 June, 10:36");
  });

  it("carry their unit and their base", () => {
    expect([count(1, "reply", "replies"), count(1284, "email")]).toEqual(["1 reply", "1,284 emails"]);
    expect([share(19, 218), share(0, 0)]).toEqual(["19 of 218 (9 %)", "–"]);
    expect([inWords(7), inWords(13)]).toEqual(["Seven", "13"]);
  });

  it("have a sentence for every recorded reason", () => {
    expect(WAIT_REASONS.filter((reason) => !WAIT_WORDS[reason] || !SHORT_WAITS[reason])).toEqual([]);
    for (const reason of WAIT_REASONS) {
      const sentence = waitSentence(reason, "a detail", NOW, NOW, LISBON);
      expect(sentence).not.toContain("_");
      expect(sentence.length).toBeGreaterThan(5);
    }
    expect(waitSentence("merge_field_empty", "first_name", null, NOW, LISBON)).toBe(
      "Waits until you fill in the first name",
    );
    expect(waitSentence("in_line", null, NOW + 600_000, NOW, LISBON)).toMatch(/, goes 10:46$/);
    expect(waitSentence("mailbox_resting", "m@q.example", NOW, NOW, LISBON)).toBe(
      "m@q.example rests, goes 10:36",
    );
  });

  it("say why a mailbox rests in its own numbers", () => {
    expect(restWords('{"sent":75,"bounced":3}')).toBe(
      "3 of its last 75 emails had bounced (4.0 %) when it went to rest",
    );
  });
});

describe("the words for lists", () => {
  it("name every cleaning rule, verdict and reason for a misfit", () => {
    expect(CLEANING_RULES.filter((rule) => !RULE_NAMES[rule])).toEqual([]);
    expect(ADDRESS_STATES.filter((state) => !VERDICT_NAMES[state] || !VERDICT_TONES[state])).toEqual([]);
    const misfits: MisfitReason[] = [
      "title",
      "title_excluded",
      "seniority",
      "industry",
      "employees",
      "place",
      "keywords",
      "must_have",
    ];
    expect(
      misfits.filter((reason) => !MISFIT_NAMES[reason] || misfitSentence(reason, "x") === "Fits"),
    ).toEqual([]);
  });

  it("give the evidence of every verdict in a sentence of its own", () => {
    const reasons: VerdictReason[] = [
      "accepted",
      "answered_before",
      "not_probed",
      "accepts_all",
      "role",
      "disposable",
      "look_alike",
      "bounced",
      "refused",
      "no_mail",
      "no_domain",
      "syntax",
      "dns_silent",
      "mail_server_silent",
      "later",
    ];
    const sentences = reasons.map((reason) => verdictSentence(reason, "kai.example"));
    expect(new Set(sentences).size).toBe(reasons.length);
    for (const sentence of sentences) expect(sentence).toMatch(/^[A-Z].*[^_]\.?$/i);
    expect(verdictSentence(null, "")).toBe("Nobody has checked it yet.");
  });

  it("say a filter as one sentence", () => {
    const choices = {
      lists: [{ id: 2, name: "Museums" }],
      users: [],
      sequences: [{ id: 5, name: "Loans" }],
      customs: [],
    };
    const filter: Filter = {
      match: "any",
      groups: [
        {
          match: "all",
          conditions: [
            { field: "city", op: "is", value: "Faro" },
            { field: "list", op: "is_not", value: "2" },
          ],
        },
        {
          match: "all",
          conditions: [
            { field: "outcome", op: "is", value: "5 opened_silent" },
            { field: "written", op: "never", value: "" },
          ],
        },
      ],
    };
    expect(filterSentence(filter, choices)).toBe(
      "(City is Faro and List is not Museums) or (Outcome of a sequence is Loans: opened, never replied and Last written to never)",
    );
  });
});
