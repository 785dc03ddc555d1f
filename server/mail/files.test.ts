import { strToU8, zipSync } from "fflate";
import sharp from "sharp";
import { afterEach, beforeEach, expect, it } from "vitest";
import { sql } from "../db/open.ts";
import { addPeople, addSequence, createWorld, email, TUESDAY, type World } from "../tests/world.ts";
import { fileById, keepFile, sweepFiles } from "./files.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const keep = async (name: string, bytes: Buffer, as: "picture" | "attachment") =>
  keepFile(world.app, world.userId, { name, bytes, as });
const kept = async (name: string, bytes: Buffer, as: "picture" | "attachment" = "attachment") => {
  const outcome = await keep(name, bytes, as);
  if (!outcome.ok) throw new Error(outcome.errors.file);
  return {
    ...outcome.value,
    ...(fileById(world.app.db, outcome.value.id) as { type: string; bytes: Buffer }),
  };
};
const said = async (name: string, bytes: Buffer, as: "picture" | "attachment" = "attachment") => {
  const outcome = await keep(name, bytes, as);
  return outcome.ok ? (outcome.value.note ?? "") : (outcome.errors.file ?? "");
};
const canvas = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: "#a3b18a" } });

it("a picture is made again: no wider than mails are, turned upright, without where and when it was taken", async () => {
  const taken = await canvas(4000, 1000)
    .withExif({ IFD0: { Artist: "Ana Lima" }, IFD3: { GPSLatitude: "38/1" } })
    .withMetadata({ orientation: 6 })
    .jpeg()
    .toBuffer();
  const { bytes, type, note } = await kept("hall.jpg", taken, "picture");
  const { width, height, exif, format } = await sharp(bytes).metadata();
  expect({ width, height, exif, format, type }).toEqual({
    width: 1000,
    height: 4000,
    exif: undefined,
    format: "jpeg",
    type: "image/jpeg",
  });
  expect(note).toBeNull();
  expect((await kept("wide.png", await canvas(3000, 30).png().toBuffer(), "picture")).note).toContain(
    "from 3000 to 1600",
  );
});

it("a moving GIF goes on moving", async () => {
  const frames = [await canvas(20, 10).png().toBuffer(), await canvas(20, 10).negate().png().toBuffer()];
  const gif = await sharp(frames, { join: { animated: true } })
    .gif({ delay: [100, 100] })
    .toBuffer();
  const { bytes } = await kept("turn.gif", gif, "picture");
  expect((await sharp(bytes, { animated: true }).metadata()).pages).toBe(2);
});

it("what a picture hides behind its last byte is gone", async () => {
  const png = await canvas(8, 8).png().toBuffer();
  const { bytes } = await kept(
    "x.png",
    Buffer.concat([png, Buffer.from("<script>alert(1)</script>")]),
    "picture",
  );
  expect(bytes.includes("script")).toBe(false);
});

it.each([
  [
    "a page",
    "x.png",
    async () => Buffer.from("<svg xmlns='http://www.w3.org/2000/svg'/>"),
    "PNG, JPEG and GIF",
  ],
  ["a cut one", "x.png", async () => (await canvas(900, 900).png().toBuffer()).subarray(0, 300), "damaged"],
  [
    "a small file that unfolds to 81 million points",
    "x.png",
    async () => canvas(9000, 9000).png({ compressionLevel: 9 }).toBuffer(),
    "",
  ],
  ["one of 11 MB", "x.png", async () => Buffer.alloc(11 * 1024 * 1024), "10 MB can be taken in"],
])("as a picture, %s is refused with a reason", async (_, name, bytes, words) => {
  const outcome = await keep(name, await bytes(), "picture");
  expect(outcome.ok).toBe(false);
  expect(outcome.ok ? "" : outcome.errors.file).toMatch(words === "" ? /million|damaged/ : words);
});

const zip = (...names: string[]) =>
  Buffer.from(zipSync(Object.fromEntries(names.map((name) => [name, strToU8("x")]))));
const exe = Buffer.concat([Buffer.from("MZ"), Buffer.alloc(200)]);

it.each([
  ["a program by its name", "setup.exe", Buffer.from("x"), "is a program"],
  ["a program that calls itself a document", "offer.pdf", exe, "is a program"],
  ["a program whose name runs backwards", "photo\u202egnp.exe", Buffer.from("x"), "is a program"],
  ["a script", "offer.txt", Buffer.from("#!/bin/sh\nrm -rf /"), "is a program"],
  ["an archive with a program", "papers.zip", zip("a.txt", "docs/run.vbs"), "holds a program, docs/run.vbs"],
])("%s is refused, as the recipient's host would", async (_, name, bytes, words) => {
  expect(await said(name, bytes)).toContain(words);
  expect(sql(world.app.db, "SELECT 1 FROM files").all<unknown>([])).toEqual([]);
});

it.each([
  ["a plain archive", "papers.zip", zip("a.txt"), "hold archives back"],
  ["a page", "offer.html", Buffer.from("<p>Hello</p>"), "a trap"],
  ["a sheet with macros", "plan.xlsm", zip("xl/vbaProject.bin"), "macros"],
  ["a document", "offer.pdf", Buffer.from("%PDF-1.7\n"), ""],
  ["a list", "rooms.csv", Buffer.from("a,b\n1,2\n"), ""],
])("%s goes with a word about what hosts do, or without", async (_, name, bytes, words) => {
  const note = await said(name, bytes);
  expect(words === "" ? note === "" : note.includes(words)).toBe(true);
});

it("has the type of its content, and is called after it", async () => {
  expect(await kept("scan.jpg", Buffer.from("%PDF-1.7\n"))).toMatchObject({
    name: "scan.pdf",
    type: "application/pdf",
  });
  expect(await kept("rooms.csv", Buffer.from("a,b\n"))).toMatchObject({
    name: "rooms.csv",
    type: "text/csv",
  });
});

it("a team's files have a limit, which says what to do", async () => {
  const add = (words: string) =>
    keepFile(world.app, world.userId, { name: "a.txt", bytes: Buffer.from(words), as: "attachment" }, 20);
  expect((await add("ten bytes.")).ok).toBe(true);
  const tooMuch = await add("eleven byte");
  expect(tooMuch.ok ? "" : tooMuch.errors.file).toContain("which is the most");
  expect((await add("ten bytes.")).ok).toBe(true);
});

it("what no sequence, text or email names is swept after two weeks, and nothing else", async () => {
  const ids: number[] = [];
  for (let nth = 0; nth < 6; nth++) ids.push((await kept(`${nth}.txt`, Buffer.from("x"))).id);
  const [used, pictured, sent, written, unused] = ids;
  const list = addPeople(world, ["ana"]);
  addSequence(world, list, [], {
    path: [{ ...email("one", 0, { subject: "S", body: `![x](file:${pictured})` }), attachments: [used] }],
  });
  world.app.db.exec(`
    INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security, username,
      password_sealed, daily_limit, gap_least, gap_most, created_at) VALUES (1, 1, 'm@own.example', 'M', 'h', 1, 'none', 'h', 1, 'none', 'm', '', 5, 1, 2, 1);
    INSERT INTO touches (kind, prospect_id, mailbox_id, state, message_id, attachments) VALUES ('answer', 1, 1, 'sent', '<a@own.example>', '[${sent}]');
    INSERT INTO pieces (name, body, at) VALUES ('p', '![y](file:${written})', 1);
    UPDATE files SET at = ${TUESDAY - 15 * 86_400_000} WHERE id <= ${unused};
  `);
  expect(sweepFiles(world.app)).toBe(1);
  expect(ids.filter((id) => fileById(world.app.db, id))).toEqual(ids.filter((id) => id !== unused));
});
