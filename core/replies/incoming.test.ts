import { describe, expect, it } from "vitest";
import { sortIncoming } from "./incoming.ts";

const sort = (headers: Record<string, string>, subject = "Re: Loans", deliveryStatus: string | null = null) =>
  sortIncoming({ headers: new Map(Object.entries(headers)), subject, deliveryStatus });

const report = (action: string, status: string) =>
  `Reporting-MTA: dns; mx.kai.example\r\n\r\nFinal-Recipient: rfc822; Ilse@kai.example\r\nAction: ${action}\r\nStatus: ${status}\r\nDiagnostic-Code: smtp; 550 5.1.1 no such\r\n user here\r\n`;

describe("an incoming message", () => {
  it("is a person's unless something says otherwise, “Auto-Submitted: no” included", () => {
    expect(sort({}).kind).toBe("person");
    expect(sort({ "auto-submitted": "no" }).kind).toBe("person");
    expect(sort({}, "Re: out of print catalogues").kind).toBe("person");
  });

  it.each([
    ["auto-submitted", "auto-replied"],
    ["x-autoreply", "yes"],
    ["precedence", "bulk"],
  ])("is automatic by its header %s: %s", (name, value) =>
    expect(sort({ [name]: value }).kind).toBe("automatic"),
  );

  it.each([
    "Automatic reply: Loans",
    "Out of office",
    "Abwesenheitsnotiz",
    "Réponse automatique : x",
    "自動応答",
  ])("is automatic by its subject: %s", (subject) => expect(sort({}, subject).kind).toBe("automatic"));

  it("is a hard bounce when delivery failed for good, and names the address and the server's words", () => {
    expect(sort({}, "Undelivered", report("failed", "5.1.1"))).toEqual({
      kind: "bounce",
      hard: true,
      recipient: "ilse@kai.example",
      status: "5.1.1",
      words: "550 5.1.1 no such user here",
    });
  });

  it("is a soft bounce when it may still arrive, and no bounce when it did", () => {
    expect(sort({}, "Delayed", report("delayed", "4.2.2"))).toMatchObject({ kind: "bounce", hard: false });
    expect(sort({}, "Full", report("failed", "4.2.2"))).toMatchObject({ kind: "bounce", hard: false });
    expect(sort({}, "Delivered", report("delivered", "2.0.0")).kind).toBe("automatic");
  });
});
