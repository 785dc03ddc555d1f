import { describe, expect, it } from "vitest";
import { sortIncoming } from "./incoming.ts";

const sort = (headers: Record<string, string>, subject = "Re: Loans", deliveryStatus: string | null = null) =>
  sortIncoming({
    headers: new Map(Object.entries(headers)),
    fromAddress: "ilse@kai.example",
    subject,
    text: "",
    deliveryStatus,
  });
/** A report from a mail server without the part for programs. */
const plain = (
  text: string,
  headers: Record<string, string> = {},
  fromAddress = "mailer-daemon@mx.kai.example",
) =>
  sortIncoming({
    headers: new Map(Object.entries(headers)),
    fromAddress,
    subject: "failure notice",
    text,
    deliveryStatus: null,
  });

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

describe("a report that is written for people only", () => {
  it("is a hard bounce by its code, in brackets or at the line's start", () => {
    const old =
      "Hi. This is the mail program at mx.kai.example.\nI wasn't able to deliver your message.\n\n<Ilse@kai.example>:\nSorry, no mailbox here by that name. (#5.1.1)\n";
    expect(plain(old)).toEqual({
      kind: "bounce",
      hard: true,
      recipient: "ilse@kai.example",
      status: "5.1.1",
      words: "Sorry, no mailbox here by that name. (#5.1.1)",
    });
    const named =
      "A message that you sent could not be delivered:\n\n  ilse@kai.example\n    host mx.kai.example said:\n    550 unknown user\n";
    expect(plain(named, { "x-failed-recipients": "ilse@kai.example" })).toEqual({
      kind: "bounce",
      hard: true,
      recipient: "ilse@kai.example",
      status: null,
      words: "550 unknown user",
    });
  });

  it("is a soft bounce where the server goes on trying", () => {
    expect(plain("<ilse@kai.example>: 452 4.2.2 mailbox full. I will keep trying.")).toMatchObject({
      kind: "bounce",
      hard: false,
      status: "4.2.2",
    });
  });

  it("proves nothing without a code, nor by the codes that a person writes about", () => {
    expect(plain("Your message was quarantined on 5 June 2026.").kind).toBe("automatic");
    expect(plain("We have 550 objects in store.", {}, "ilse@kai.example").kind).toBe("person");
    expect(plain("We keep 1550 objects, in rooms 3.5.1 to 3.5.4.").kind).toBe("automatic");
  });

  it("is believed even if it calls itself an automatic answer", () => {
    expect(plain("550 5.1.1 gone", { "auto-submitted": "auto-replied" }).kind).toBe("bounce");
  });
});
