import { describe, expect, it } from "vitest";
import { faultOf, judge } from "./refusal.ts";

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
