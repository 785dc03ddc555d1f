import { describe, expect, it } from "vitest";
import { enhancedCode, faultOf, judge } from "./refusal.ts";

const fault = (words: string, command: "MAIL" | "RCPT" | "DATA" = "RCPT", hasSent = true) =>
  faultOf({ code: Number(words.slice(0, 3)), words, command, hasSent });

describe("a refusal is the fault of", () => {
  it.each([
    "550 5.1.1 <a@kai.example>: Recipient address rejected: User unknown in local recipient table",
    "550 5.1.2 Bad destination system address",
    "556 5.1.10 Recipient address has null MX",
    "550 5.2.1 The email account is disabled",
    "550 No such user here",
    "551 User not local; mailbox unknown",
  ])("the recipient: %s", (words) => expect(fault(words)).toBe("recipient"));

  it.each([
    "553 5.7.1 <b@sender.example>: Sender address rejected: not owned by user ana@sender.example",
    "554 5.7.1 <a@kai.example>: Relay access denied",
    "550 5.7.1 Message refused by policy",
    "550 5.4.5 Daily user sending quota exceeded",
    "550 5.1.8 Sender address has null MX",
    "530 5.7.0 Must issue a STARTTLS command first",
    "550 relay not permitted",
    "554 Refused: you are on our block list",
    "552 5.2.2 Sender over quota for outgoing mail",
  ])("the mailbox, or the rules that it meets: %s", (words) =>
    expect(fault(words)).toMatch(/^(sender|policy)$/),
  );

  it.each([
    "550 5.7.1 No such user here",
    "550 5.1.0 <a@kai.example>: recipient not found",
    "521 5.3.2 kai.example does not accept mail",
    "521 mx.kai.example accepts no mail",
  ])("the recipient or their domain, as words and code say together: %s", (words) =>
    expect(fault(words)).toBe("recipient"),
  );

  it.each([
    "553 5.1.8 <b@sender.example>: Sender address rejected: Domain not found",
    "550 5.1.1 sender address rejected: domain not found",
    "450 4.1.8 Sender address rejected: Domain not found",
    "550 Verification failed for <b@sender.example>: sender domain does not exist",
    "551 5.7.27 MAIL FROM domain sender.example does not resolve",
  ])("never the recipient, where our own domain is what they do not find: %s", (words) => {
    expect(fault(words)).not.toBe("recipient");
    expect(judge(null, words, "report")).not.toBe("recipient");
  });

  it.each([
    "retry timeout exceeded",
    "550 retry timeout exceeded",
    "all hosts for 'kai.example' have been failing for a long time (and retry time not reached)",
    "554 5.0.0 delivery time expired",
  ])("nobody's, where a queue gave up: %s", (words) => expect(judge("5.0.0", words, "report")).toBe("later"));

  it("the mailbox, if it is the first answer to one that never sent, or comes at MAIL", () => {
    expect(fault("550 No such user here", "RCPT", false)).toBe("sender");
    expect(fault("550 5.1.1 no", "MAIL")).toBe("sender");
  });

  it("nobody: full mailboxes pass; and one email where its content is refused", () => {
    expect(fault("552 5.2.2 Mailbox full")).toBe("later");
    expect(fault("451 4.7.1 Greylisted, try again")).toBe("later");
    expect(fault("552 5.3.4 Message too big", "DATA")).toBe("email");
    expect(fault("554 Transaction failed", "DATA")).toBe("email");
  });
});

describe("a report that came later tells of an address for good", () => {
  it.each([
    [true, "5.1.1", "550 5.1.1 user unknown"],
    [true, "5.0.0", "550 5.1.1 user unknown"],
    [true, null, "550 unknown user"],
    [true, "5.4.4", "Host or domain name not found"],
    [true, "5.4.1", "550 5.4.1 Recipient address rejected: Access denied"],
    [false, "5.2.2", "552 5.2.2 mailbox full"],
    [false, "5.0.0", "552 user is over quota"],
    [false, "5.7.1", "550 5.7.1 blocked by policy"],
    [false, "4.4.7", "delivery time expired"],
    [false, "5.3.4", "message too big"],
  ])("%s: %s %s", (hard, status, words) => expect(judge(status, words, "report") === "recipient").toBe(hard));
});

describe("a judge of words and codes", () => {
  it.each<[string | null, string, "MAIL" | "RCPT" | "DATA" | "report", ReturnType<typeof judge>]>([
    // A code of the class 4 is never for good, whatever its words.
    [null, "450 4.1.1 user unknown", "RCPT", "later"],
    ["4.0.0", "550 user unknown", "report", "later"],
    ["4.0.0", "550 5.1.1 user unknown", "report", "recipient"],
    // Our own address, by code alone.
    [null, "550 5.1.7 bad", "RCPT", "sender"],
    [null, "550 5.1.8 bad", "DATA", "sender"],
    [null, "550 5.2.2 no", "RCPT", "later"],
    [null, "550 mailbox is full", "RCPT", "later"],
    // A bad destination, by the command that was answered.
    [null, "550 5.1.3 bad", "MAIL", "sender"],
    [null, "550 5.1.3 bad", "DATA", "email"],
    [null, "550 5.1.3 bad", "RCPT", "recipient"],
    [null, "550 5.1.6 moved", "report", "recipient"],
    [null, "550 no", "MAIL", "sender"],
    // Words against codes.
    [null, "550 5.7.1 no such user", "RCPT", "recipient"],
    [null, "550 5.7.1 user unknown, blocked by policy", "RCPT", "policy"],
    [null, "550 5.2.0 user unknown, see our policy", "RCPT", "recipient"],
    [null, "550 5.7.1 user unknown", "DATA", "policy"],
    [null, "550 5.4.1 no", "RCPT", "recipient"],
    [null, "550 5.4.4 no", "report", "recipient"],
    [null, "550 5.4.4 no", "DATA", "sender"],
    [null, "521 we take none", "RCPT", "recipient"],
    [null, "521 blocked", "RCPT", "policy"],
    [null, "1521 we take none", "report", "later"],
    // This email alone.
    [null, "552 5.2.3 too long", "RCPT", "email"],
    [null, "552 5.3.4 too big", "DATA", "email"],
    [null, "554 5.6.0 bad content", "DATA", "email"],
    [null, "554 5.4.6 loop", "RCPT", "email"],
    [null, "554 5.4.3 loop", "RCPT", "email"],
    [null, "554 5.6.0 spam", "report", "policy"],
    [null, "554 5.6.0 spam", "DATA", "email"],
    [null, "554 5.3.4 spam", "report", "email"],
    // The receiver's rules.
    [null, "550 5.7.26 no", "DATA", "policy"],
    [null, "550 5.3.0 listed by a list", "RCPT", "policy"],
    [null, "550 5.3.0 no", "report", "later"],
    [null, "550 5.3.0 no", "RCPT", "sender"],
    [null, "550 blocked", "DATA", "policy"],
    [null, "550 no", "DATA", "email"],
    [null, "550 no", "RCPT", "recipient"],
    // A report without a word.
    [null, "550", "report", "recipient"],
    [null, "no", "report", "later"],
    [null, "552", "report", "later"],
    [null, "x551x", "report", "recipient"],
    [null, "15510", "report", "later"],
    ["5.0.0", "no", "report", "recipient"],
    [null, "5.1.0 no", "report", "recipient"],
  ])("%s %s at %s: %s", (status, words, at, fault) => expect(judge(status, words, at)).toBe(fault));

  it.each<[string, ReturnType<typeof enhancedCode>]>([
    ["550 5.7.1 no", { class: 5, detail: "7.1" }],
    ["5.7.1", { class: 5, detail: "7.1" }],
    ["550-5.7.25 no", { class: 5, detail: "7.25" }],
    ["at 192.5.7.1", null],
    ["at 5.7.1.9", null],
    ["version 3.7.1", null],
    ["2.0.0 ok", { class: 2, detail: "0.0" }],
    ["4.123.456 x", { class: 4, detail: "123.456" }],
    ["5.7", null],
  ])("finds the enhanced code of “%s”", (words, code) => expect(enhancedCode(words)).toEqual(code));

  it("trusts words about a recipient only of a mailbox that has sent before, and a code always", () => {
    const of = (words: string, hasSent: boolean) => faultOf({ code: 550, words, command: "RCPT", hasSent });
    expect([of("550 no such user", true), of("550 no such user", false)]).toEqual(["recipient", "sender"]);
    expect([of("550 5.1.1 no such user", true), of("550 5.1.1 no such user", false)]).toEqual([
      "recipient",
      "recipient",
    ]);
    expect(of("550 blocked", false)).toBe("policy");
    expect(faultOf({ code: 499, words: "550 5.1.1 no such user", command: "RCPT", hasSent: true })).toBe(
      "later",
    );
  });
});
