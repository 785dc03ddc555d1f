import { describe, expect, it } from "vitest";
import { bareSubject, type Incoming, matchIncoming, type SentEmail } from "./match.ts";

const DAY = 86_400_000;
const NOW = Date.parse("2026-06-09T10:00:00Z");
const sent = (touchId: number, change: Partial<SentEmail> = {}): SentEmail => ({
  touchId,
  prospectId: touchId,
  messageId: `<m${touchId}@quillwater.example>`,
  recipient: `p${touchId}@kai.example`,
  addresses: [`p${touchId}@kai.example`],
  subject: "Loans at Kai",
  sentAt: NOW - touchId * DAY,
  ...change,
});
const incoming = (change: Partial<Incoming>): Incoming => ({
  ids: [],
  envelopeTouchId: null,
  addresses: [],
  subject: "Re: Loans at Kai",
  at: NOW,
  mayBeColleague: true,
  ...change,
});
const matched = (change: Partial<Incoming>, emails = [sent(1), sent(2)]) => {
  const match = matchIncoming(incoming(change), emails);
  return match && `${match.certainty} ${match.email.touchId}`;
};

describe("an incoming message belongs to", () => {
  it("the email it names, the nearest first, or whose envelope a report names", () => {
    expect(
      matched({ ids: ["<other@x.example>", "<m2@quillwater.example>", "<m1@quillwater.example>"] }),
    ).toBe("sure 2");
    expect(matched({ envelopeTouchId: 1, subject: "Undelivered" })).toBe("sure 1");
  });

  it("what was sent to its sender, under any of their addresses, the same subject before the latest", () => {
    expect(matched({ addresses: ["p2@kai.example"] })).toBe("sure 2");
    const two = [
      sent(1, { recipient: "p@kai.example", subject: "Another thing" }),
      sent(2, { recipient: "p@kai.example", addresses: ["p@kai.example", "home@home.example"] }),
    ];
    expect(matched({ addresses: ["p@kai.example"] }, two)).toBe("sure 2");
    expect(matched({ addresses: ["p@kai.example"], subject: "your letter" }, two)).toBe("sure 1");
    expect(matched({ addresses: ["home@home.example"] }, two)).toBe("sure 2");
  });

  it("likely what a colleague answers under the same subject, without its ids", () => {
    expect(matched({ addresses: ["chief@mail.kai.example"] })).toBe("likely 1");
    expect(matched({ addresses: ["chief@kai.example"], subject: "AW: Fwd: loans at  KAI" })).toBe("likely 1");
  });

  it("nobody: another subject, a provider for everybody, a machine, an old letter, one from before it was sent", () => {
    const colleague = { addresses: ["chief@kai.example"] };
    expect(matched({ ...colleague, subject: "Invoice" })).toBeNull();
    expect(matched({ ...colleague, mayBeColleague: false })).toBeNull();
    expect(matched(colleague, [sent(1, { sentAt: NOW - 200 * DAY })])).toBeNull();
    expect(matched(colleague, [sent(1, { sentAt: NOW + DAY })])).toBeNull();
    const free = [sent(1, { recipient: "p1@gmx.de", addresses: ["p1@gmx.de"] })];
    expect(matched({ addresses: ["chief@gmx.de"] }, free)).toBeNull();
  });

  it("by a subject that answers and forwards leave as it was", () => {
    for (const subject of [
      "Loans",
      "Re: Loans",
      "RE: AW: Fwd: Loans",
      "Re[2]: loans",
      "SV : Loans",
      "[EXTERNAL] Re: Loans",
      "Re: [Ext] RIF: *** SPAM *** loans",
      "返信：Loans",
      "Απ: Loans",
    ])
      expect(bareSubject(subject)).toBe("loans");
    for (const kept of ["regarding: loans", "[loans] at kai", "external loans"])
      expect(bareSubject(kept)).toBe(kept);
  });
});
