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
      failures: [
        {
          hard: true,
          policy: false,
          address: "ilse@kai.example",
          status: "5.1.1",
          words: "550 5.1.1 no such user here",
        },
      ],
    });
  });

  it("is a delay while it may still arrive, and a receipt when it did", () => {
    expect(sort({}, "Delayed", report("delayed", "4.4.1")).kind).toBe("delay");
    expect(sort({}, "Delivered", report("delivered", "2.0.0")).kind).toBe("receipt");
    expect(sort({ "content-type": "multipart/report; report-type=disposition-notification" }).kind).toBe(
      "receipt",
    );
  });

  it("names each of several recipients, the original address of a forward first, and only those that failed", () => {
    const recipient = (lines: string[]) => lines.join("\n");
    const status = [
      "Reporting-MTA: dns; mx.kai.example",
      recipient([
        "Original-Recipient: rfc822;ilse@kai.example",
        "Final-Recipient: rfc822; old@home.example",
        "Action: failed",
        "Status: 5.1.1",
      ]),
      recipient(["Final-Recipient: rfc822; otto@kai.example", "Action: failed", "Status: 5.2.2"]),
      recipient(["Final-Recipient: rfc822; ana@kai.example", "Action: delivered", "Status: 2.0.0"]),
    ].join("\n\n");
    const sorted = sort({}, "Undelivered", status);
    if (sorted.kind !== "bounce") throw new Error(sorted.kind);
    expect(sorted.failures.map(({ address, hard }) => [address, hard])).toEqual([
      ["ilse@kai.example", true],
      ["otto@kai.example", false],
    ]);
  });

  it("is a complaint by its report (RFC 5965), with the address it is about", () => {
    const feedback =
      "Feedback-Type: abuse\nUser-Agent: Loop/1.0\nVersion: 1\nOriginal-Rcpt-To: <ilse@kai.example>\n";
    expect(
      sortIncoming({
        headers: new Map(),
        fromAddress: "fbl@p.example",
        subject: "FW: Loans",
        text: "",
        deliveryStatus: null,
        feedback,
      }),
    ).toMatchObject({ kind: "complaint", address: "ilse@kai.example" });
  });
});

describe("a person's words", () => {
  const written = (text: string, subject = "Re: Loans", fromAddress = "ilse@kai.example") =>
    sortIncoming({ headers: new Map(), fromAddress, subject, text, deliveryStatus: null }).kind;

  it.each([
    "I am out of the office until 15 June.",
    "Thanks for your note. I'm on annual leave and will be back on Monday.",
    "Back on Monday.",
    "Away this week, returning on 22 June. For urgent matters please call me on +351 21 000 000.",
    "Ich bin bis Freitag nicht im Büro.",
    "Bin im Urlaub, ab 3. Juli wieder erreichbar.",
    "Je suis en congés, de retour le 20 juin.",
    "Estoy de vacaciones, vuelvo el lunes.",
    "Estou de férias, regresso a 20 de junho.",
    "Sono in ferie, rientro il 20 giugno.",
    "Ik ben op vakantie, weer bereikbaar op 20 juni.",
  ])("say that they are away: %s", (text) => expect(written(text)).toBe("automatic"));

  it.each([
    "Ilse Brandt has left the company. Please write to otto@kai.example.",
    "Unfortunately Ilse no longer works here.",
    "I have retired; my last day was 30 April.",
    "Frau Brandt ist nicht mehr bei uns tätig.",
    "Mme Brandt a quitté le musée.",
  ])("say that somebody has left: %s", (text) => expect(written(text)).toBe("left"));

  it.each([
    ["We were away last week; could you send me the data sheet?"],
    ["I'm back on Monday, let's talk then. Could you send prices?"],
    ["Not interested, thanks."],
    ["Please remove me from your list."],
    ["Yes, that would be interesting. When are you free?"],
    ["I was on leave until yesterday, sorry. Let us speak on Thursday."],
  ])("are to be read: %s", (text) => expect(written(text)).toBe("person"));

  it("are a person's under “Re: Automatic reply”, and from a postmaster who writes by hand", () => {
    expect(written("When will you be back?", "Re: Automatic reply: Loans")).toBe("person");
    expect(
      written("I look after the mail here. We would like a quote.", "Re: Loans", "postmaster@kai.example"),
    ).toBe("person");
  });
});

describe("a report that is written for people only", () => {
  const first = (text: string, headers: Record<string, string> = {}) => {
    const sorted = plain(text, headers);
    return sorted.kind === "bounce" ? sorted.failures[0] : sorted.kind;
  };

  it("is a hard bounce by its code, in brackets or at the line's start", () => {
    expect(
      first(
        "Hi. This is the mail program at mx.kai.example.\nI wasn't able to deliver your message.\n\n<Ilse@kai.example>:\nSorry, no mailbox here by that name. (#5.1.1)\n",
      ),
    ).toEqual({
      hard: true,
      policy: false,
      address: "ilse@kai.example",
      status: "5.1.1",
      words: "Sorry, no mailbox here by that name. (#5.1.1)",
    });
    expect(
      first(
        "A message that you sent could not be delivered:\n\n  ilse@kai.example\n    host mx.kai.example said:\n    550 unknown user\n",
        {
          "x-failed-recipients": "ilse@kai.example",
        },
      ),
    ).toEqual({
      hard: true,
      policy: false,
      address: "ilse@kai.example",
      status: null,
      words: "550 unknown user",
    });
  });

  it("is soft where the mailbox is full or a policy refuses, and a delay while the server goes on trying", () => {
    expect(first("<ilse@kai.example>: 552 5.2.2 mailbox full")).toMatchObject({ hard: false });
    expect(first("<ilse@kai.example>: 550 5.7.1 rejected by policy")).toMatchObject({ hard: false });
    expect(first("<ilse@kai.example>: 452 4.2.2 mailbox full. I will keep trying.")).toBe("delay");
  });

  it("proves nothing without a code, nor by the codes that a person writes about", () => {
    for (const words of [
      "Your message was quarantined on 5 June 2026.",
      "We keep 1550 objects, in rooms 3.5.1 to 3.5.4.",
    ])
      expect(first(words)).toMatchObject({ hard: false });
    expect(plain("We have 550 objects in store.", {}, "ilse@kai.example").kind).toBe("person");
  });

  it("is believed even if it calls itself an automatic answer", () => {
    expect(plain("550 5.1.1 gone", { "auto-submitted": "auto-replied" }).kind).toBe("bounce");
  });
});
