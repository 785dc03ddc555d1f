/** Postfix and Dovecot, as a rep's host runs them: what is read, sent, copied, refused and checked. */
import { ImapFlow } from "imapflow";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { allMailboxes, type Mailbox } from "../../db/mailboxes.ts";
import { Engine } from "../../engine/tick.ts";
import { checkConnection } from "../../sending/mailboxes/check-connection.ts";
import { setMailboxState } from "../../sending/mailboxes/save-mailbox.ts";
import { startSequence } from "../../sequences/start-sequence.ts";
import { serveTokens, type Tokens } from "../token-standin.ts";
import { rows, type World } from "../world.ts";
import { type Lab, labMailbox, labSequence, labWorld, PORTS, settingsOf, startLab } from "./lab.ts";

let lab: Lab;
let world: World;
let engine: Engine;
beforeAll(() => {
  lab = startLab();
});
afterAll(() => lab.stop());
beforeEach(async () => {
  world = await labWorld({ SAUDADE_SETTLE: "2" });
  engine = new Engine(world.app);
});
afterEach(async () => {
  await engine.close();
  await world.close();
});

/** Ticks until something is so. */
async function until(words: string, isSo: () => boolean, seconds = 60): Promise<void> {
  for (
    const end = Date.now() + seconds * 1000;
    Date.now() < end;
    await new Promise((next) => setTimeout(next, 150))
  ) {
    await engine.tick();
    if (isSo()) return;
  }
  throw new Error(
    `It did not come to this: ${words}. ${JSON.stringify(rows(world, "SELECT trouble, smtp_trouble FROM mailboxes"))}`,
  );
}
const journeys = () =>
  rows<{ state: string; stopReason: string | null; waitReason: string | null }>(
    world,
    "SELECT state, stop_reason AS stopReason, wait_reason AS waitReason FROM journeys ORDER BY id",
  );
const sent = () =>
  rows<{ messageId: string }>(
    world,
    "SELECT message_id AS messageId FROM touches WHERE state = 'sent' ORDER BY id",
  );
const reply = (from: string, id: string, headers: string[] = []) =>
  [
    `From: ${from}`,
    "To: ana@sender.example",
    "Subject: Re: Loans",
    `In-Reply-To: ${id}`,
    `Message-ID: <${Math.random()}@x.example>`,
    ...headers,
    "",
    "Yes, please tell me more.",
  ].join("\r\n");

function start(name: string, people: string[], steps = 2, change: object = {}): number {
  const id = labMailbox(world, lab, name, change);
  const started = startSequence(world.app, world.userId, labSequence(world, id, people, steps));
  if (!started.ok) throw new Error(JSON.stringify(started.errors));
  return id;
}

describe("a host with Postfix and Dovecot", () => {
  it("has every reply seen that comes while the connection is open, the second and third too", async () => {
    start("ana", ["p1", "p2", "p3"]);
    await until("three sent", () => sent().length === 3);
    for (let nth = 0; nth < 3; nth++) {
      await lab.deliver(
        reply(`p${nth + 1}@museum.example`, sent()[nth]?.messageId ?? ""),
        "ana@sender.example",
      );
      await until(
        `reply ${nth + 1}`,
        () => journeys().filter(({ stopReason }) => stopReason === "replied").length === nth + 1,
      );
    }
  });

  it("has a reply seen that lies in Junk", async () => {
    start("ben", ["p4"]);
    await until("sent", () => sent().length === 1);
    const { folders } = engine.doors.of(rowOfMailbox());
    expect((await folders.folders()).junk).toBe("Junk");
    await moveIn(reply("p4@museum.example", sent()[0]?.messageId ?? ""), "Junk");
    await until("stopped", () => journeys()[0]?.stopReason === "replied");
  });

  it("has a reply seen in a Junk folder that its first letter makes, while the connection is open", async () => {
    start("cleo", ["p12"], 1);
    await until("sent", () => sent().length === 1);
    const { folders } = engine.doors.of(rowOfMailbox());
    expect((await folders.folders()).all).not.toContain("Junk");
    // Folders are looked for again after ten minutes, or at once when a connection begins anew.
    await moveIn(reply("p12@museum.example", sent()[0]?.messageId ?? ""), "Junk", "cleo");
    folders.kill();
    folders.lookAgain();
    await until("seen", () => rows(world, "SELECT 1 FROM replies").length === 1);
  });

  it("goes on sending where no copy can be stored, says so once, and stores it later", async () => {
    const id = start("ben", ["p13", "p14"], 1);
    const { folders } = engine.doors.of(rowOfMailbox());
    const keepCopy = folders.keepCopy.bind(folders);
    folders.keepCopy = () =>
      Promise.reject(Object.assign(new Error("NO"), { responseText: "[NOPERM] Permission denied" }));
    await until("sent", () => sent().length === 2);
    await until(
      "said",
      () => rows(world, "SELECT 1 FROM mailboxes WHERE copy_trouble IS NOT NULL").length === 1,
    );
    const [standing] = rows(world, "SELECT state, trouble, smtp_trouble AS smtp FROM mailboxes");
    expect(standing).toEqual({ state: "active", trouble: null, smtp: null });
    folders.keepCopy = keepCopy;
    world.app.db.exec(`UPDATE mailboxes SET copy_retry_wall = 0 WHERE id = ${id}`);
    await until("stored", () => rows(world, "SELECT 1 FROM touches WHERE copy_due = 1").length === 0);
    expect(rows(world, "SELECT copy_trouble AS trouble FROM mailboxes")).toEqual([{ trouble: null }]);
  });

  it("gets its own copies where it keeps none, once, and a folder for them", async () => {
    const before = lab.messages("ben@sender.example", "Sent").length;
    start("ben", ["p5", "p6"], 1);
    // As long as it is open whether the server copies, nothing is put there twice.
    await until(
      "copied",
      () => rows(world, "SELECT 1 FROM touches WHERE copy_due = 1").length === 0 && sent().length === 2,
    );
    const copies = lab.messages("ben@sender.example", "Sent").slice(before);
    for (const { messageId } of sent())
      expect(copies.filter((text) => text.includes(messageId))).toHaveLength(1);
    expect(rows(world, "SELECT copies FROM mailboxes")).toEqual([{ copies: "app" }]);
  });

  it("is left to its own copies where it keeps them", async () => {
    start("ana", ["p7"], 1);
    await until(
      "known",
      () => rows(world, "SELECT copies FROM mailboxes WHERE copies = 'server'").length === 1,
    );
    expect(
      lab.messages("ana@sender.example", "Sent").filter((text) => text.includes(sent()[0]?.messageId ?? "-")),
    ).toHaveLength(1);
  });

  it("is the one that is stopped when it refuses a sender; nobody's address is touched, and it goes on after", async () => {
    const id = start("cleo", ["p8", "p9"], 1, {
      address: "ana@sender.example",
      username: "cleo@sender.example",
    });
    await until("stopped", () => journeys().every(({ waitReason }) => waitReason === "mailbox_stopped"));
    expect(rows<{ words: string }>(world, "SELECT smtp_trouble AS words FROM mailboxes")[0]?.words).toContain(
      "not owned by user",
    );
    expect(rows(world, "SELECT 1 FROM block_list")).toEqual([]);
    world.app.db.exec("UPDATE mailboxes SET address = 'cleo@sender.example'");
    setMailboxState(world.app, world.user, id, "active");
    engine.forgetPlan(); // it sees what other processes write, not what this one does
    await until("sent", () => sent().length === 2);
  });

  it("has bounces matched by their envelope, a full mailbox taken as passing, an absence as no reply", async () => {
    start("ana", ["nobody", "full", "away"]);
    await until("sent", () => sent().length === 3);
    await until("three reports", () => rows(world, "SELECT 1 FROM replies").length === 3);
    expect(
      rows(
        world,
        "SELECT p.first_name AS name, r.kind, j.state FROM replies r JOIN prospects p ON p.id = r.prospect_id JOIN journeys j ON j.prospect_id = p.id ORDER BY name",
      ),
    ).toEqual([
      { name: "away", kind: "automatic", state: "active" },
      { name: "full", kind: "bounce", state: "active" },
      { name: "nobody", kind: "bounce", state: "stopped" },
    ]);
    expect(rows(world, "SELECT value FROM block_list")).toEqual([{ value: "nobody@museum.example" }]);
  });

  it("tells within seconds of a new message while nobody asks", async () => {
    start("ana", ["p10"], 1);
    await until("sent", () => sent().length === 1);
    let toldAt = 0;
    const listening = new Engine(world.app, { onNews: () => (toldAt ||= Date.now()) });
    await listening.tick();
    await new Promise((next) => setTimeout(next, 1_000)); // until it idles
    toldAt = 0;
    const began = Date.now();
    await lab.deliver(reply("p10@museum.example", sent()[0]?.messageId ?? ""), "ana@sender.example");
    await expect.poll(() => toldAt, { timeout: 60_000 }).toBeGreaterThan(0);
    expect(toldAt - began).toBeLessThan(30_000);
    await listening.close();
  });
});

describe("a connection check", () => {
  const check = async (change: object) => {
    const began = Date.now();
    const outcome = await checkConnection(world.app, world.user, { ...settingsOf(lab, "ana"), ...change });
    if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
    expect(Date.now() - began).toBeLessThan(14_000);
    return outcome.value;
  };

  it("says yes only where an email would go", async () => {
    expect(await check({})).toEqual({ smtp: null, imap: null, folders: { junk: "Junk", sent: "Sent" } });
    expect((await check({ smtpPort: PORTS.tls, smtpSecurity: "tls" })).smtp).toBeNull();
    expect(
      await check({
        smtpPort: PORTS.plain,
        smtpSecurity: "none",
        imapPort: PORTS.imap,
        imapSecurity: "starttls",
      }),
    ).toMatchObject({ smtp: null, imap: null });
    expect(
      (
        await check({
          username: "cleo@sender.example",
          imapUsername: "ana@sender.example",
          password: "secret-cleo",
        })
      ).smtp,
    ).toContain("does not let ana@sender.example send");
  });

  it.each([
    ["a port without sign-in", { smtpPort: PORTS.museums }, "offers no sign-in on this port"],
    ["no encryption where it is wanted", { smtpSecurity: "none" }, "Choose STARTTLS"],
    ["TLS on a STARTTLS port", { smtpSecurity: "tls" }, "does not speak TLS from the start"],
    ["STARTTLS on a TLS port", { smtpPort: PORTS.tls }, "speaks TLS from the start"],
    ["STARTTLS where there is none", { smtpPort: PORTS.plain }, "does not offer STARTTLS"],
    ["a certificate of its own", { certificate: "" }, "no known authority signed"],
    ["a wrong password", { password: "wrong" }, "refuses the user name or password"],
  ])("says what is wrong with %s, at once", async (_, change, words) => {
    expect((await check(change)).smtp).toContain(words);
  });

  it("says the same of the incoming server", async () => {
    expect((await check({ imapSecurity: "starttls" })).imap).toContain("speaks TLS from the start");
    expect((await check({ imapPort: PORTS.imap })).imap).toContain("does not speak TLS from the start");
    expect((await check({ certificate: "" })).imap).toContain("no known authority signed");
    expect((await check({ imapUsername: "nobody" })).imap).toContain("refuses the user name or password");
  });
});

function rowOfMailbox() {
  return allMailboxes(world.app.db)[0] as Mailbox;
}

/** Puts a message into a folder, as a server's own filter does. */
async function moveIn(raw: string, folder: string, who = "ben"): Promise<void> {
  const client = new ImapFlow({
    host: "127.0.0.1",
    port: PORTS.imap,
    secure: false,
    doSTARTTLS: false,
    auth: { user: `${who}@sender.example`, pass: `secret-${who}` },
    logger: false,
  });
  await client.connect();
  if (!(await client.list()).some(({ path }) => path === folder)) await client.mailboxCreate(folder);
  await client.append(folder, raw);
  await client.logout();
}

describe("a host that wants a token instead of a password", () => {
  const user = "cleo@sender.example";
  let tokens: Tokens;
  beforeEach(async () => {
    tokens = await serveTokens({ port: PORTS.introspection, username: user });
  });
  afterEach(() => tokens.stop());
  const withToken = (change: object = {}) => ({
    auth: "token",
    password: "refresh-0",
    tokenUrl: tokens.url,
    clientId: "saudade-at-sender",
    clientSecret: "tide",
    ...change,
  });

  it.each([
    ["XOAUTH2", { smtpPort: PORTS.starttls, smtpSecurity: "starttls" }],
    ["OAUTHBEARER", { smtpPort: PORTS.tls, smtpSecurity: "tls" }],
  ])("is sent through and read from, the sending by %s", async (_, change) => {
    start("cleo", ["p7"], 2, withToken(change));
    await until("sent", () => sent().length === 1);
    await lab.deliver(reply("p7@museum.example", sent()[0]?.messageId ?? ""), user);
    await until("stopped", () => journeys()[0]?.stopReason === "replied");
    expect(tokens.asked.length).toBeLessThanOrEqual(2);
  });

  it("is checked before it is saved, and what is refused says why", async () => {
    const check = (change: object) =>
      checkConnection(world.app, world.user, { ...settingsOf(lab, "cleo"), ...withToken(change) });
    expect(await check({})).toMatchObject({ ok: true, value: { smtp: null, imap: null } });
    const words = expect.stringContaining("the refresh token has run out, or was taken back");
    expect(await check({ password: "refresh-9" })).toMatchObject({ value: { smtp: words, imap: words } });
  });
});
