import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { mailboxById } from "../db/mailboxes.ts";
import { addMailbox, createWorld, PASSWORD, TUESDAY, type World } from "../tests/world.ts";
import { Inbox } from "./imap.ts";

const ADDRESS = "marta@quillwater.example";
let world: World;
let inbox: Inbox;
beforeAll(async () => {
  world = await createWorld();
  const id = await addMailbox(world, ADDRESS);
  const mailbox = mailboxById(world.app.db, id);
  if (!mailbox) throw new Error("no mailbox");
  inbox = new Inbox(mailbox, PASSWORD);
});
afterAll(async () => {
  await inbox.close();
  await world.close();
});

const arrives = (subject: string) =>
  world.tell("/deliver", {
    mailbox: ADDRESS,
    raw: `From: ilse@kai.example\r\nMessage-ID: <${subject}@kai.example>\r\nSubject: ${subject}\r\n\r\nText\r\n`,
  });
const subjects = (messages: { source: Buffer }[]) =>
  messages.map(({ source }) => source.toString().match(/Subject: (.*)\r/)?.[1]);

describe("an inbox", () => {
  it("takes nothing of what was there before the mailbox was added, then only what is new, each once", async () => {
    await arrives("old");
    const first = await inbox.readNew({ uidValidity: null, lastUid: 0 }, TUESDAY);
    expect(first.messages).toEqual([]);
    expect(await inbox.readNew(first.mark, TUESDAY)).toEqual({ messages: [], mark: first.mark });
    await arrives("one");
    await arrives("two");
    const second = await inbox.readNew(first.mark, TUESDAY);
    expect(subjects(second.messages)).toEqual(["one", "two"]);
    expect(second.mark.lastUid).toBe(first.mark.lastUid + 2);
    expect((await inbox.readNew(second.mark, TUESDAY)).messages).toEqual([]);
  });

  it("is read again, the last fortnight of it, when the server has numbered it anew", async () => {
    const { mark } = await inbox.readNew({ uidValidity: null, lastUid: 0 }, TUESDAY);
    const again = await inbox.readNew({ uidValidity: (mark.uidValidity ?? 0) + 1, lastUid: 999 }, TUESDAY);
    expect(subjects(again.messages)).toEqual(["old", "one", "two"]);
    expect(again.mark).toEqual(mark);
    const later = await inbox.readNew({ uidValidity: 1, lastUid: 0 }, TUESDAY + 40 * 86_400_000);
    expect(later.messages).toEqual([]);
  });

  it("knows whether an email stands in the Sent folder, and connects anew after it was closed", async () => {
    expect(await inbox.hasSent("<nothing@quillwater.example>")).toBe(false);
    await inbox.close();
    expect(await inbox.hasSent("<nothing@quillwater.example>")).toBe(false);
  });
});
