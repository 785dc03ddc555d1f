/** What is said beside a chosen prospect, and before an import changes anything. */
import { describe, expect, it } from "vitest";
import type { ProspectRow } from "../../server/prospects/people/list-prospects";
import type { Overview } from "../../server/prospects/people/overview";
import { markup, shown } from "../components/test-markup";
import { CleaningReview, KnownReview } from "./import-review";
import { OverviewMargin, ProspectMargin } from "./prospect-margin";

const NOW = Date.parse("2026-06-09T09:36:00Z");
const row: ProspectRow = {
  id: 7,
  email: "ilse@kai.example",
  name: "Ilse Brandt",
  company: "Kaimuseum",
  title: "Registrar",
  city: "Hamburg",
  stage: "contacted",
  verdict: "good",
  verdictReason: "accepted",
  verdictDetail: "mx.kai.example",
  verdictAt: NOW,
  custom: {},
  owner: "Marta Quintela",
  sequence: "Loans",
  journeyState: "active",
  nextAt: Date.parse("2026-06-09T13:20:00Z"),
  waitReason: "in_line",
  waitDetail: null,
  stopReason: null,
  blocked: 0,
};
const beside = (change: Partial<ProspectRow>) =>
  shown(<ProspectMargin row={{ ...row, ...change }} now={NOW} zone="Europe/Lisbon" />);

describe("beside a prospect", () => {
  it("the margin says who, how sure their address is, and what goes on", () => {
    expect(beside({})).toBe(
      "Chosen Ilse Brandt Registrar, Kaimuseum Owner: Marta Quintela Write to them The address Good ilse@kai.example Its mail server (mx.kai.example) takes mail for this address, and not for an invented one. Checked Tue 9 June, 10:36. Where they stand, and why Loans: Its turn comes; minutes pass between two emails, goes 14:20.",
    );
  });

  it.each<[string, Partial<ProspectRow>]>([
    ["On the block list", { blocked: 1 }],
    ["Not written to yet", { sequence: null }],
    ["Loans: finished", { journeyState: "finished" }],
    ["Loans: stopped, they replied", { journeyState: "stopped", stopReason: "replied" }],
    [
      "Loans: Waits until you fill in the first name",
      { waitReason: "merge_field_empty", waitDetail: "first_name" },
    ],
    ["Their address was not checked yet", { waitReason: "address_not_good", waitDetail: "unchecked" }],
  ])("“%s” is said where it is so", (sentence, change) => expect(beside(change)).toContain(sentence));

  it("somebody without an address or a name is told what can be done", () => {
    expect(beside({ email: "", verdict: null, verdictReason: null, verdictAt: null })).toContain(
      "None is known. It can be found by the company's pattern",
    );
    expect(beside({ name: "" })).toMatch(/^Chosen ilse@kai\.example/);
  });

  it("nobody chosen says where everybody stands, and what is left to do", () => {
    const overview: Overview = {
      stages: { new: 30, contacted: 10, in_conversation: 0, meeting_booked: 1, won: 0, lost: 0 },
      addresses: { good: 35, likely: 0, doubtful: 0, unchecked: 1, missing: 5, bad: 0 },
    };
    expect(shown(<OverviewMargin overview={overview} total={41} />)).toBe(
      "Where they stand New 30 Contacted 10 Meeting booked 1 Before you write to them 5 people without an address 1 person whose address was never checked",
    );
    const clean = { ...overview.addresses, unchecked: 0, missing: 0 };
    expect(shown(<OverviewMargin overview={{ ...overview, addresses: clean }} total={41} />)).toContain(
      "All 41 addresses are checked",
    );
  });
});

describe("before an import", () => {
  const cleaning = [
    {
      rule: "legal_form" as const,
      count: 31,
      examples: [{ line: 2, before: "Kaimuseum GmbH", after: "Kaimuseum" }],
    },
  ];

  it("what will be cleaned is shown before → after, and a kind that is switched off stays to be switched on", () => {
    const review = <CleaningReview cleaning={cleaning} off={["honorific"]} onOff={() => {}} />;
    expect(shown(review)).toContain("31 values Kaimuseum GmbH → Kaimuseum");
    expect(shown(review)).toContain("switched off");
    expect(markup(review).match(/<input[^>]*type="checkbox"[^>]*checked/g)).toHaveLength(1);
    expect(shown(<CleaningReview cleaning={[]} off={[]} onOff={() => {}} />)).toBe("");
  });

  it("what the file says anew of known people is shown by field, blanks as blanks", () => {
    const differ = [
      { field: "title", before: "Registrar", after: "Head of collections" },
      { field: "city", before: "", after: "Hamburg" },
    ];
    const review = (
      total: number,
      fields: { field: string; differ: number; blank: number }[],
      anothers = 0,
    ) =>
      shown(
        <KnownReview
          fields={fields}
          rows={[{ line: 4, kind: "known", prospectId: 7, detail: JSON.stringify({ differ }) }]}
          total={total}
          anothers={anothers}
          choices={{ title: "replace" }}
          onChoices={() => {}}
        />,
      );
    const all = review(1, [
      { field: "title", differ: 1, blank: 0 },
      { field: "city", differ: 0, blank: 1 },
    ]);
    expect(all).toContain("1 person is known already");
    expect(all).toMatch(/Job title 1 differ Replace with the file's .*Registrar → Head of collections/);
    expect(all).toMatch(/City 1 blank Fill blanks only .*blank → Hamburg/);
    expect(review(2, [])).toContain("The file says nothing new about them.");
    expect(review(0, [])).toBe("");
    expect(review(2, [], 1)).toContain("about 1 of them, who is a colleague's: they stay as they are.");
    expect(review(2, [], 2)).not.toContain("nothing new");
  });
});
