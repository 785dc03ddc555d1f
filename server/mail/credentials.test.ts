/** A provider without passwords, by stand-ins: one gives tokens for refresh tokens, the other lets nobody in without. */
import type { AddressInfo } from "node:net";
import { SMTPServer } from "smtp-server";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { mailboxById } from "../db/mailboxes.ts";
import { unseal } from "../secrets.ts";
import { checkConnection } from "../sending/mailboxes/check-connection.ts";
import { saveMailbox } from "../sending/mailboxes/save-mailbox.ts";
import { serveTokens as startTokens } from "../tests/token-standin.ts";
import { addMailbox, createWorld, type Standin, startStandin, type World } from "../tests/world.ts";
import { credentialsOf, keepRefreshToken } from "./credentials.ts";
import { openSender } from "./smtp.ts";

const ADDRESS = "marta@quillwater.example";
let standin: Standin;
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());
const closing: (() => Promise<unknown> | unknown)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

async function serveTokens(life?: number) {
  const tokens = await startTokens({ life });
  closing.push(tokens.stop);
  return tokens;
}

/** An outgoing server that knows no passwords; `tokens` are those that were shown to it. */
async function serveMail(good: string): Promise<{ port: number; tokens: string[]; accepted: string[] }> {
  const tokens: string[] = [];
  const accepted: string[] = [];
  const server = new SMTPServer({
    authMethods: ["XOAUTH2"],
    allowInsecureAuth: true,
    disabledCommands: ["STARTTLS"],
    onAuth({ username, accessToken }, _session, done) {
      tokens.push(accessToken ?? "");
      if (username === ADDRESS && accessToken === good) done(null, { user: username });
      else done(null, { data: { status: "401", schemes: "bearer", scope: "mail" } });
    },
    onData(stream, _session, done) {
      let text = "";
      stream.on("data", (chunk) => (text += chunk));
      stream.on("end", () => {
        accepted.push(text);
        done();
      });
    },
  });
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", ready));
  closing.push(() => new Promise<void>((closed) => server.close(() => closed())));
  return { port: (server.server.address() as AddressInfo).port, tokens, accepted };
}

async function tokenMailbox(tokenUrl: string, smtpPort: number): Promise<{ world: World; id: number }> {
  const world = await createWorld({ standin });
  closing.push(() => world.close());
  const id = await addMailbox(world, ADDRESS, {
    auth: "token",
    password: "refresh-0",
    tokenUrl,
    clientId: "saudade-at-quillwater",
    clientSecret: "tide",
    smtpPort,
  });
  return { world, id };
}

function mailboxOf({ app }: World, id: number) {
  const mailbox = mailboxById(app.db, id);
  if (!mailbox) throw new Error("The mailbox is gone.");
  return mailbox;
}

async function send(world: World, id: number) {
  const mailbox = mailboxOf(world, id);
  const sender = openSender(mailbox, credentialsOf(world.app, mailbox));
  closing.push(() => sender.close());
  const ready = await sender.open();
  if ("result" in ready) return ready;
  const envelope = { from: ADDRESS, to: ["ilse@kai.example"] };
  return sender.send({ touchId: 7, envelope, raw: Buffer.from("Subject: Loans\r\n\r\nHello\r\n") }, ready);
}

describe("a mailbox that signs in with a token", () => {
  it("sends with the access it is given for its refresh token", async () => {
    const { url, asked } = await serveTokens();
    const mail = await serveMail("access-1");
    const { world, id } = await tokenMailbox(url, mail.port);
    expect(await send(world, id)).toMatchObject({ result: "sent" });
    expect(mail).toMatchObject({ tokens: ["access-1"], accepted: [expect.stringContaining("Hello")] });
    expect(Object.fromEntries(asked[0] ?? [])).toEqual({
      grant_type: "refresh_token",
      refresh_token: "refresh-0",
      client_id: "saudade-at-quillwater",
      client_secret: "tide",
    });
  });

  it("keeps the refresh token that came with the access, sealed, for the next start", async () => {
    const { url } = await serveTokens();
    const { world, id } = await tokenMailbox(url, 9);
    await credentialsOf(world.app, mailboxOf(world, id))();
    const { passwordSealed } = mailboxOf(world, id);
    expect(passwordSealed).not.toContain("refresh");
    expect(unseal(passwordSealed, world.app.key)).toBe("refresh-1");
    expect(await credentialsOf(world.app, mailboxOf(world, id))()).toMatchObject({ accessToken: "access-2" });
  });

  it("is checked and then saved, though the check uses the refresh token up", async () => {
    const { url } = await serveTokens();
    const mail = await serveMail("access-3");
    const { world, id } = await tokenMailbox(url, mail.port);
    const form = { ...mailboxOf(world, id), id: undefined, address: "m@quillwater.example", moreFolders: "" };
    const typed = { ...form, password: "refresh-0", clientSecret: "tide" };
    await checkConnection(world.app, world.user, typed);
    const saved = saveMailbox(world.app, world.user, typed);
    if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
    // Checked again as it is stored, while an engine holds it.
    const signIn = credentialsOf(world.app, mailboxOf(world, saved.value));
    await checkConnection(world.app, world.user, {
      ...typed,
      id: saved.value,
      password: "",
      clientSecret: "",
    });
    expect(await signIn()).toMatchObject({ accessToken: "access-3" });
  });

  it("asks once for many connections, and again when the access runs out", async () => {
    const lasting = await serveTokens();
    const first = await tokenMailbox(lasting.url, 9);
    const signIn = credentialsOf(first.world.app, mailboxOf(first.world, first.id));
    await Promise.all([signIn(), signIn(), signIn()]);
    expect(lasting.asked).toHaveLength(1);
    const brief = await serveTokens(1);
    const second = await tokenMailbox(brief.url, 9);
    const again = credentialsOf(second.world.app, mailboxOf(second.world, second.id));
    expect([await again(), await again()]).toMatchObject([
      { accessToken: "access-1" },
      { accessToken: "access-2" },
    ]);
  });

  it("says by the agreed reasons, and in no words of the provider's, when it gives no access, or the server takes none", async () => {
    const { url, asked } = await serveTokens();
    const mail = await serveMail("another");
    const { world, id } = await tokenMailbox(url, mail.port);
    expect(await send(world, id)).toMatchObject({ result: "unreachable" });
    expect(mail.accepted).toEqual([]);
    keepRefreshToken(world.app, id, "refresh-0");
    await expect(credentialsOf(world.app, mailboxOf(world, id))()).rejects.toThrow("invalid_grant");
    expect(asked).toHaveLength(2);
  });
});
