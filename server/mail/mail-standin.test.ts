import { ImapFlow } from "imapflow";
import nodemailer from "nodemailer";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { freePort } from "../tests/free-port.ts";
import { createWorld, PASSWORD, type World } from "../tests/world.ts";

const MAILBOX = "marta@quillwater.example";
let world: World;
let imapPort: number;
beforeAll(async () => {
  world = await createWorld();
  imapPort = await freePort();
  await world.tell("/mailboxes", { address: MAILBOX, password: PASSWORD, imapPort });
});
afterAll(() => world.close());

const send = (change: object = {}, pass = PASSWORD) =>
  nodemailer
    .createTransport({
      host: "127.0.0.1",
      port: world.smtpPort,
      ignoreTLS: true,
      auth: { user: MAILBOX, pass },
    })
    .sendMail({ from: MAILBOX, to: "ilse@kai.example", subject: "Loans", text: "Grüße", ...change });

/** Signs in as a mail program would, and looks into a folder. */
async function look<T>(folder: string, act: (client: ImapFlow) => Promise<T>): Promise<T> {
  const client = new ImapFlow({
    host: "127.0.0.1",
    port: imapPort,
    secure: false,
    auth: { user: MAILBOX, pass: PASSWORD },
    logger: false,
  });
  await client.connect();
  const lock = await client.getMailboxLock(folder);
  try {
    return await act(client);
  } finally {
    lock.release();
    await client.logout();
  }
}
const subjects = (folder: string) =>
  look(folder, async (client) => {
    const found: string[] = [];
    for await (const message of client.fetch("1:*", { envelope: true, uid: true }))
      found.push(`${message.uid} ${message.envelope?.subject}`);
    return found;
  });

describe("the mail stand-in", () => {
  it("keeps a copy of what is submitted in Sent, found by its Message-ID", async () => {
    await send({ messageId: "<copy@quillwater.example>" });
    const found = await look("Sent", (client) =>
      client.search({ header: { "message-id": "<copy@quillwater.example>" } }),
    );
    expect(found).toHaveLength(1);
    expect((await world.deliveries()).at(-1)).toMatchObject({
      recipient: "ilse@kai.example",
      messageId: "<copy@quillwater.example>",
    });
  });

  it("delivers between its own mailboxes", async () => {
    await send({ to: MAILBOX, subject: "A test to myself" });
    expect((await subjects("INBOX")).join()).toContain("A test to myself");
  });

  it("refuses a wrong password over SMTP and over IMAP", async () => {
    await expect(send({}, "wrong")).rejects.toMatchObject({ code: "EAUTH" });
    const client = new ImapFlow({
      host: "127.0.0.1",
      port: imapPort,
      secure: false,
      auth: { user: MAILBOX, pass: "wrong" },
      logger: false,
    });
    client.on("error", () => {});
    await expect(client.connect()).rejects.toMatchObject({ authenticationFailed: true });
  });

  it("misbehaves as often as it is told, and then no more", async () => {
    const before = (await world.deliveries()).length;
    await world.tell("/misbehave", { kind: "refuse_later", times: 1 });
    await expect(send()).rejects.toMatchObject({ responseCode: 451 });
    await world.tell("/misbehave", { kind: "refuse", times: 1 });
    await expect(send()).rejects.toMatchObject({ responseCode: 554 });
    await world.tell("/misbehave", { kind: "drop_before", times: 1 });
    await expect(send()).rejects.toThrow(/closed/);
    expect(await world.deliveries()).toHaveLength(before);
    await world.tell("/misbehave", { kind: "drop_after", times: 1 });
    await expect(send()).rejects.toThrow(/closed/);
    expect(await world.deliveries()).toHaveLength(before + 1);
    await send();
    expect(await world.deliveries()).toHaveLength(before + 2);
  });

  it("has the same messages under the same numbers after a restart", async () => {
    const before = [await subjects("INBOX"), await subjects("Sent")];
    await world.restartStandin();
    expect([await subjects("INBOX"), await subjects("Sent")]).toEqual(before);
  });

  it("says what is wrong with an order that it cannot read", async () => {
    await expect(world.tell("/misbehave", { kind: "sulk", times: 1 })).rejects.toThrow("kind");
    await expect(world.tell("/nowhere")).rejects.toThrow();
  });
});
