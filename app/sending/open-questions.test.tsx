/** What only a person can judge is counted whole, however few of them fit on the page. */
import { describe, expect, it } from "vitest";
import { shown } from "../components/test-markup";
import { OpenQuestions } from "./open-questions";

const email = (id: number) => ({
  id,
  prospectId: id,
  name: `Ana ${id}`,
  recipient: `ana${id}@kai.example`,
  subject: "Loans",
  mailbox: "marta@quillwater.example",
  claimedAt: Date.parse("2026-06-09T10:00:00Z"),
});
const none = { shown: [], total: 0 };
const page = (undecided: Parameters<typeof OpenQuestions>[0]["undecided"]) =>
  shown(<OpenQuestions undecided={undecided} setAside={none} mistakenBlocks={0} zone="Europe/Lisbon" />);

describe("emails of which nobody can tell whether they left", () => {
  it("are not mentioned while there are none", () => {
    expect(page(none)).toBe("");
  });

  it("are decided one by one, or all at once", () => {
    expect(page({ shown: [email(1)], total: 1 })).toMatch(/^1 email: nobody can tell whether it left/);
    const two = page({ shown: [email(1), email(2)], total: 2 });
    expect(two).toMatch(/^2 emails: nobody can tell whether they left/);
    expect(two).toMatch(/All 2 left Send all 2$/);
  });

  it("say how many more follow, and that a press is for these only", () => {
    const many = page({ shown: [email(1), email(2)], total: 129 });
    expect(many).toContain("129 emails: nobody can tell");
    expect(many).toContain("The first 2 are here; the others follow.");
    expect(many).toMatch(/These 2 left Send these 2$/);
  });
});
