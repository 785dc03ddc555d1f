/** What the parts of the list's pages show in each of their states. */
import { describe, expect, it } from "vitest";
import type { JobState } from "../../server/jobs/job-state";
import type { ListState } from "../../server/prospects/lists/list-state";
import { markup, shown } from "../components/test-markup";
import { AddressPill } from "./address-pill";
import { JobProgress } from "./job-progress";
import { ListQuality } from "./list-margin";
import { ListTabs } from "./list-tabs";
import { SavedFilters } from "./saved-filters";

const list: ListState = {
  people: 1_214,
  verdicts: { good: 1_000, likely: 150, doubtful: 50, bad: 4, unchecked: 5, missing: 2 },
  duplicates: 0,
  blocked: 0,
  verifying: null,
  finding: null,
  columns: 0,
  canFind: true,
};

describe("a job's progress", () => {
  const job: JobState = { id: 1, state: "working", done: 1_200, total: 20_000, problem: null };
  const progress = (change: Partial<JobState>, more = {}) =>
    shown(<JobProgress job={{ ...job, ...change }} doing="Importing" unit="rows" {...more} />);

  it("says how far it is and can be ended, also while it waits for its turn", () => {
    expect(progress({})).toContain("1,200 of 20,000 rows");
    expect(progress({})).toContain("End it");
    expect(progress({ state: "waiting", done: 0, total: 0 })).toMatch(/^Importing … End it$/);
  });

  it("says why it failed and where it was ended, and is gone once it is done", () => {
    expect(progress({ state: "failed", problem: "The directory cannot be searched." })).toBe(
      "The directory cannot be searched.",
    );
    expect(progress({ state: "cancelled" })).toBe("Importing was ended after 1,200 of 20,000 rows.");
    expect(progress({ state: "cancelled", done: 0, total: 0 })).toBe(
      "Importing was ended before it brought anything.",
    );
    expect(progress({ state: "cancelled" }, { onlyWhileRunning: true })).toBe("");
    expect(progress({ state: "done" })).toBe("");
    expect(shown(<JobProgress job={null} doing="Importing" unit="rows" />)).toBe("");
  });
});

describe("a list's stations", () => {
  it("say what is left to do at each, and which one is open", () => {
    const tabs = <ListTabs list={{ id: 5, name: "Fair" }} state={{ ...list, duplicates: 3 }} />;
    expect(shown(tabs, "/lists/5/addresses")).toBe(
      "People 1,214 Cleaning Duplicates 3 Addresses 7 Research Web form Rename or delete",
    );
    const current = (at: string) => [
      ...markup(tabs, at).matchAll(/<a[^>]*aria-current="page"[^>]*>([A-Z][a-z ]+)/g),
    ];
    expect(current("/lists/5/addresses").map(([, name]) => name)).toEqual(["Addresses"]);
    expect(current("/prospects?list=5").map(([, name]) => name)).toEqual(["People"]);
  });

  it("show the quality with what there is, and leave out what there is not", () => {
    expect(shown(<ListQuality state={list} title="“Fair”" />)).toBe(
      "“Fair” 1,000 of 1,214 addresses are good Good 1,000 Likely: nothing against it 150 Doubtful: something against it 50 Bad 4 Not checked 5 None 2",
    );
    const none = { good: 2, likely: 0, doubtful: 0, bad: 0, unchecked: 0, missing: 0 };
    const blocked = { ...list, people: 2, verdicts: none, blocked: 1 };
    expect(shown(<ListQuality state={blocked} title="“Fair”" />)).toBe(
      "“Fair” 2 of 2 addresses are good Good 2 1 on the block list; nothing goes to them.",
    );
  });
});

it("an address is told by its verdict, as unchecked, or as none", () => {
  const pill = (email: string, verdict: string | null, verdictReason: string | null) =>
    shown(<AddressPill of={{ email, verdict, verdictReason }} />);
  expect(pill("a@kai.example", "risky", "not_probed")).toBe("Likely");
  expect(pill("info@kai.example", "risky", "role")).toBe("Doubtful");
  expect(pill("a@kai.example", null, null)).toBe("Not checked");
  expect(pill("", null, null)).toBe("None");
});

it("saved filters are offered once there is one", () => {
  const filters = [
    {
      id: 1,
      name: "Opened, silent",
      definition: "{}",
      shared: { owner: "Rui", sharing: "use" as const, mayShare: false },
    },
  ];
  expect(shown(<SavedFilters filters={[]} onChoose={() => {}} />)).toBe("");
  expect(shown(<SavedFilters filters={filters} onChoose={() => {}} />)).toBe("Saved filters");
});
