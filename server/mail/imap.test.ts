import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { mailboxById } from "../db/mailboxes.ts";
import { addMailbox, createWorld, PASSWORD, TUESDAY, type World } from "../tests/world.ts";
import { MailFolders } from "./imap.ts";

const ADDRESS = "marta@quillwater.example";
let world: World;
let folders: MailFolders;
let news = 0;
beforeAll(async () => {
  world = await createWorld();
  const id = await addMailbox(world, ADDRESS);
  const mailbox = mailboxById(world.app.db, id);
  if (!mailbox) throw new Error("no mailbox");
  folders = new MailFolders(
    mailbox,
    () => Promise.resolve({ user: ADDRESS, pass: PASSWORD }),
    () => {
      news++;
    },
  );
});
afterAll(async () => {
  await folders.close();
  await world.close();
});

const arrives = (subject: string) =>
  world.tell("/deliver", {
    mailbox: ADDRESS,
    raw: `From: Ilse <ilse@kai.example>\r\nMessage-ID: <${subject}@kai.example>\r\nIn-Reply-To: <one@q.example>\r\nSubject: ${subject}\r\n\r\nText\r\n`,
  });
const subjects = async (uids: number[]) =>
  (await folders.heads("INBOX", uids)).toSorted((a, b) => a.uid - b.uid).map(({ subject }) => subject);

describe("an inbox", () => {
  it("takes nothing of what was there before, then only what is new, each once, headers before bodies", async () => {
    await arrives("old");
    const first = await folders.since("INBOX", null, TUESDAY);
    expect(first.uids).toEqual([]);
    expect((await folders.since("INBOX", first.end, TUESDAY)).uids).toEqual([]);
    await arrives("one");
    await arrives("two");
    const second = await folders.since("INBOX", first.end, TUESDAY);
    expect(second.end.lastUid).toBe(first.end.lastUid + 2);
    const heads = await folders.heads("INBOX", second.uids);
    expect(heads[0]).toMatchObject({ fromAddress: "ilse@kai.example", answers: ["<one@q.example>"] });
    expect(await subjects(second.uids)).toEqual(["one", "two"]);
    const sources = await folders.sources("INBOX", heads, TUESDAY);
    expect(sources.map(({ source }) => source.toString().includes("Text"))).toEqual([true, true]);
    expect((await folders.since("INBOX", second.end, TUESDAY)).uids).toEqual([]);
  });

  it("is read again, the last fortnight of it, when the server has numbered it anew", async () => {
    const { end } = await folders.since("INBOX", null, TUESDAY);
    const other = { uidValidity: end.uidValidity + 1, lastUid: 999 };
    const again = await folders.since("INBOX", other, TUESDAY);
    expect(await subjects(again.uids)).toEqual(["old", "one", "two"]);
    expect(again.end).toEqual(end);
    expect((await folders.since("INBOX", other, TUESDAY + 40 * 86_400_000)).uids).toEqual([]);
  });

  it("tells of a new message by itself while nobody asks (IDLE)", async () => {
    await folders.since("INBOX", null, TUESDAY);
    const before = news;
    await arrives("unasked");
    await expect.poll(() => news, { timeout: 60_000 }).toBeGreaterThan(before);
  });

  it("knows what stands in the Sent folder, keeps a copy there, and connects anew after it was closed", async () => {
    const id = "<copy@quillwater.example>";
    expect(await folders.sentAmong([id])).toEqual(new Set());
    await folders.keepCopy(Buffer.from(`Message-ID: ${id}\r\nSubject: x\r\n\r\nText\r\n`), TUESDAY);
    await folders.close();
    expect(await folders.sentAmong([id, "<other@q.example>"])).toEqual(new Set([id]));
  });
});
