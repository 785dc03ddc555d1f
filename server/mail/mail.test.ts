import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Touch } from "../db/ledger.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { checkConnection } from "../sending/mailboxes/check-connection.ts";
import { openMailbox } from "../sending/mailboxes/open-mailbox.ts";
import { saveMailbox } from "../sending/mailboxes/save-mailbox.ts";
import { addMailbox, createWorld, PASSWORD, type World } from "../tests/world.ts";
import { composeEmail } from "./compose.ts";
import { keepFile } from "./files.ts";
import { parseMessage } from "./parse.ts";

let world: World;
let mailboxId: number;
beforeAll(async () => {
  world = await createWorld();
  mailboxId = await addMailbox(world, "marta@quillwater.example");
});
afterAll(() => world.close());

const touch: Touch = {
  id: 7,
  kind: "email",
  journeyId: 1,
  stepId: "two",
  version: 1,
  prospectId: 3,
  mailboxId: 1,
  recipient: "ilse@kai.example",
  state: "claimed",
  messageId: "<second@quillwater.example>",
  inReplyTo: "<first@quillwater.example>",
  references: "<first@quillwater.example>",
  subject: "Re: Klima für „Leihgaben“",
  body: "Dear Ilse, see https://quillwater.example/sheet",
  claimedAt: Date.parse("2026-06-09T09:36:00Z"),
  claimedWall: 0,
  sentAt: null,
  markup: null,
  variantId: "a",
  format: "formatted",
  cc: "",
  bcc: "",
  attachments: "[]",
  approvedBy: null,
  undecidedAt: null,
  serverAnswer: null,
  dueAt: null,
  unlessReply: 0,
};

async function written(change: Partial<Touch> = {}, tracks = true): Promise<string> {
  const mailbox = mailboxById(world.app.db, mailboxId);
  if (!mailbox) throw new Error("no mailbox");
  const options = {
    toName: "Ilse Brandt",
    tracksOpens: tracks,
    tracksClicks: tracks,
    optOutHeader: "follow_ups",
  } as const;
  return (await composeEmail(world.app, { ...touch, ...change }, mailbox, options)).raw.toString();
}

describe("a letter with files", () => {
  const png = Buffer.from(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
    "base64",
  );
  const keep = (name: string, bytes: Buffer, as: "picture" | "attachment") =>
    keepFile(world.app, world.userId, { name, bytes, as });

  it("carries its pictures inside and its attachments behind, and words in their place in the plain text", async () => {
    const picture = await keep("sheet.png", png, "picture");
    const sheet = await keep('the "sheet".pdf', Buffer.from("%PDF-1.7"), "attachment");
    if (!picture.ok || !sheet.ok) throw new Error("not kept");
    const raw = await written({
      body: `See ![the July sheet](file:${picture.value.id})`,
      attachments: `[${sheet.value.id}]`,
    });
    expect(raw).toContain(`cid:picture-${picture.value.id}@saudade`);
    expect(raw).toMatch(/Content-Type: image\/png[\s\S]*Content-Disposition: inline/);
    expect(raw).toContain('filename="the sheet.pdf"');
  });

  it("has no picture from anywhere else", async () => {
    const raw = await written({ body: "**See** ![x](https://spy.example/p.gif) ![y](file:99999999999)" });
    expect(raw).not.toContain('spy.example/p.gif"');
    expect(raw).not.toMatch(/<img[^>]*file:/);
  });

  it.each([
    ["an empty file", Buffer.alloc(0), "attachment", "not empty"],
    [
      "an attachment that servers turn away",
      Buffer.alloc(8_000_000),
      "attachment",
      "an attachment may have 7",
    ],
  ] as const)("refuses %s with a reason", async (_, bytes, as, words) => {
    const kept = await keep("x", bytes, as);
    expect(kept.ok ? "" : kept.errors.file).toContain(words);
  });
});

describe("an email", () => {
  it("is correct RFC 5322 mail, in its thread, with one-click opt-out (RFC 8058)", async () => {
    const raw = await written();
    const header = (name: string) =>
      raw.match(new RegExp(`^${name}: ((?:.|\\r\\n[ \\t])*)`, "m"))?.[1]?.replace(/\r\n[ \t]/g, " ");
    expect(header("Message-ID")).toBe("<second@quillwater.example>");
    expect(header("In-Reply-To")).toBe("<first@quillwater.example>");
    expect(header("References")).toBe("<first@quillwater.example>");
    expect(header("Date")).toBe("Tue, 09 Jun 2026 09:36:00 +0000");
    expect(header("From")).toBe("Marta Quintela <marta@quillwater.example>");
    expect(header("Subject")).toMatch(/^=\?UTF-8\?Q\?Re=3A_Klima/);
    expect(header("List-Unsubscribe")).toMatch(
      /^<https:\/\/outreach\.quillwater\.example\/opt-out\/\S+>,\s<mailto:marta@quillwater\.example\?subject=unsubscribe%20\S+>$/,
    );
    expect(header("List-Unsubscribe-Post")).toBe("List-Unsubscribe=One-Click");
    expect(raw.split("\r\n").every((line) => line.length <= 998)).toBe(true);
  });

  it("has HTML beside the text only if it is formatted or followed, and an answer is never followed", async () => {
    expect(await written()).toContain("text/html");
    expect(await written({}, false)).not.toContain("text/html");
    expect(await written({ body: "**bold**" }, false)).toContain("<strong>bold</strong>");
    const answer = await written({ kind: "answer", journeyId: null });
    expect(answer).not.toContain("text/html");
    expect(answer).not.toContain("List-Unsubscribe");
    // Or mail servers would take it for a mailing list's and send no automatic answer (RFC 5230 4.6).
    expect(await written({ inReplyTo: null })).not.toContain("List-Unsubscribe");
  });

  it("shows merged values as they are, whatever they mean as Markdown", async () => {
    const raw = await written({ body: "At C*A*R, **now**", markup: "At C\\*A\\*R, **now**" }, false);
    expect(raw).toContain("At C*A*R, <strong>now</strong>");
  });
});

describe("a message that arrived", () => {
  it("is read into what they wrote and what they quote, with whom it answers, nearest first", async () => {
    const raw = [
      "From: =?UTF-8?Q?In=C3=AAs?= <Ines@Kai.example>",
      "Subject: Re: x",
      "Message-ID: <a@kai.example>",
      "In-Reply-To: <two@q.example>",
      "References: <one@q.example> <two@q.example>",
      "",
      "Yes, please.",
      "",
      "On Tue, 9 Jun 2026, Marta wrote:",
      "> Dear Inês",
    ].join("\r\n");
    expect(await parseMessage(Buffer.from(raw), 5)).toMatchObject({
      fromAddress: "ines@kai.example",
      fromName: "Inês",
      answerTo: "ines@kai.example",
      text: "Yes, please.",
      answers: ["<two@q.example>", "<one@q.example>"],
      references: "<one@q.example> <two@q.example>",
      at: 5,
    });
  });

  const read = async (body: string, type = "text/plain") =>
    parseMessage(
      Buffer.from(`From: ines@kai.example\r\nContent-Type: ${type}; charset=utf-8\r\n\r\n${body}`),
      5,
    );

  it("has no words of its own if it only quotes, and keeps what answers inside a quotation with what it answers", async () => {
    expect(await read("> Dear Inês\r\n>\r\n> Would you?\r\n")).toMatchObject({
      text: "",
      quoted: "> Dear Inês\n>\n> Would you?",
    });
    expect(await read("Yes.\r\n\r\n> Would you?\r\n")).toMatchObject({
      text: "Yes.",
      quoted: "> Would you?",
    });
    const inside = await read("> How many rooms?\r\n\r\nTwelve.\r\n\r\n> And when?\r\n\r\nIn May.\r\n");
    expect(inside.text).toMatch(/^Twelve\.\s+In May\.$/);
    expect(inside.quoted).toMatch(/^> How many rooms\?[\s\S]*Twelve\.[\s\S]*> And when\?[\s\S]*In May\.$/);
  });

  it("in HTML of any size and depth is read for its words, without what is not seen", async () => {
    const filler = "<table><tr><td><span style='color:red'> </span></td></tr></table>".repeat(70_000);
    const page = (middle: string) =>
      `<html><head><title>t</title><style>p { color: red }</style></head><body><p>Bonjour,</p>${middle}<p>Envoyez-moi vos&nbsp;prix<br>s&#39;il vous pla&icirc;t.</p><blockquote>Dear <b>Inês</b><blockquote>older</blockquote></blockquote><script>alert(1)</script></body></html>`;
    for (const middle of ["", filler, "<div>".repeat(1_500)])
      expect(await read(page(middle), "text/html"), middle.slice(0, 20)).toMatchObject({
        text: expect.stringMatching(/^Bonjour,\s+Envoyez-moi vos\sprix\ns'il vous plaît\.$/),
        quoted: expect.stringMatching(/^>[\s\S]*Dear Inês[\s\S]*>\s?> older$/),
      });
    expect((await read("<div>".repeat(400_000), "text/html")).text).toBe("");
  });
});

describe("a report that an email did not arrive", () => {
  it("gives back the Message-ID of the email it is about, in its own part or in the text", async () => {
    const about = "Message-ID: <one@q.example>\r\nSubject: Loans\r\n";
    const parts = [
      "From: mailer-daemon@kai.example",
      'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
      "",
      "--b",
      "Content-Type: text/plain",
      "",
      "It could not be delivered.",
      "--b",
      "Content-Type: message/delivery-status",
      "",
      "Final-Recipient: rfc822; ilse@kai.example",
      "Action: failed",
      "--b",
      "Content-Type: message/rfc822",
      "",
      about,
      "--b--",
    ];
    expect(await parseMessage(Buffer.from(parts.join("\r\n")), 5)).toMatchObject({
      returnedId: "<one@q.example>",
      kind: { kind: "bounce" },
    });
    const plain = `From: mailer-daemon@kai.example\r\nSubject: failure notice\r\n\r\n<ilse@kai.example>:\r\n550 unknown\r\n\r\n--- A copy of the message ---\r\n\r\n${about}`;
    expect(await parseMessage(Buffer.from(plain), 5)).toMatchObject({
      returnedId: "<one@q.example>",
      kind: { kind: "bounce" },
    });
  });
});

describe("a connection check", () => {
  it("signs in to both servers, or says which of them fails and why; the page never sees the password", async () => {
    const mailbox = openMailbox(world.app, mailboxId);
    expect(JSON.stringify(mailbox)).not.toMatch(/sealed|secret|salt-and/i);
    const form = { ...mailbox, moreFolders: "", password: PASSWORD };
    const check = async (change: object) => {
      const outcome = await checkConnection(world.app, world.user, { ...form, ...change });
      if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
      return outcome.value;
    };
    const works = { smtp: null, imap: null, folders: { junk: null, sent: "Sent" } };
    expect(await check({})).toEqual(works);
    expect(await check({ password: "" })).toEqual(works);
    const wrong = await check({ password: "no" });
    expect(wrong?.smtp).toContain("refuses the user name or password");
    expect(wrong?.imap).toContain("refuses the user name or password");
    const nobody = await check({ smtpPort: 9, imapHost: "no.such.host.example", imapSecurity: "tls" });
    expect(nobody?.smtp).toContain("nothing listens on this port");
    expect(nobody?.imap).toContain("no server named no.such.host.example");
  });

  it("never shows the stored password to another server than the one it was typed for", async () => {
    const form = { ...openMailbox(world.app, mailboxId), moreFolders: "", password: "" };
    for (const change of [
      { smtpPort: 9 },
      { imapHost: "localhost" },
      { username: "somebody" },
      { imapUsername: "somebody" },
      { imapSecurity: "starttls" },
    ]) {
      expect(await checkConnection(world.app, world.user, { ...form, ...change })).toMatchObject({
        errors: { password: expect.stringContaining("again") },
      });
      expect(saveMailbox(world.app, world.user, { ...form, ...change })).toMatchObject({
        errors: { password: expect.stringContaining("again") },
      });
    }
    expect(saveMailbox(world.app, world.user, { ...form, dailyLimit: 12 }).ok).toBe(true);
    expect(
      saveMailbox(world.app, world.user, { ...form, smtpHost: "mail.example", password: "x" }),
    ).toMatchObject({ errors: { smtpSecurity: expect.stringContaining("only on this machine") } });
    world.app.db.exec(
      `INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
       VALUES (9, 'rui@quillwater.example', 'Rui', '', 'UTC', 'rui-9', 'rep', 0)`,
    );
    expect(saveMailbox(world.app, { ...world.user, id: 9 }, form)).toMatchObject({
      errors: { form: expect.stringContaining("Marta Quintela's") },
    });
  });
});
