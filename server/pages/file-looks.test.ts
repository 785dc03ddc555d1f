import { simpleParser } from "mailparser";
import { afterEach, beforeEach, expect, it } from "vitest";
import { byPage, readingOf } from "../../core/pages/reading.ts";
import { definitionSchema, usualDefinition } from "../../core/pages/template.ts";
import { attachedTo } from "../../core/sequence/path.ts";
import { setDemoClock } from "../clock.ts";
import { sql } from "../db/open.ts";
import { fileLink, filesWithoutActing, handOutFiles, linesOfFiles } from "../mail/file-links.ts";
import { fileById, keepFile, sweepFiles } from "../mail/files.ts";
import { pageLink } from "../mail/page-links.ts";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { answerReply } from "../replies/answer-reply.ts";
import { overviewTable } from "../results/as-table.ts";
import { fileDetail, fileLines } from "../results/files.ts";
import { lookQuery } from "../results/look.ts";
import { sendFrom } from "../sending/send.ts";
import { sendTest } from "../sequences/before-start.ts";
import { sequenceOf } from "../sequences/open-sequence.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { openDoors } from "../tests/doors.ts";
import { addPeople, addSequence, addUnasked, createWorld, email, MARTA, type World } from "../tests/world.ts";
import {
  fileOfPage,
  isOpenTo,
  isOver,
  lockFile,
  noteReading,
  noteSaved,
  openFile,
  unlock,
} from "./file-looks.ts";
import { filesOfPerson } from "./files-of-person.ts";
import { openPage } from "./personal-page.ts";
import { createTemplate, saveTemplate } from "./templates.ts";

const DAY = 86_400_000;
let world: World;
let fileId: number;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana", "bia", "caio"]);
  fileId = await addFile("Sheet [of loans].pdf");
});
afterEach(() => world.close());

const by = () => world.userId;
const good = <T>(outcome: { ok: true; value: T } | { ok: false; errors: Record<string, string> }): T => {
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
  return outcome.value;
};
const wrong = (outcome: { ok: boolean; errors?: Record<string, string> }) =>
  Object.values(outcome.errors ?? {}).join(" ");
const addFile = async (name: string) =>
  good(
    await keepFile(world.app, by(), {
      name,
      bytes: Buffer.from("%PDF-1.4\nA sheet\n%%EOF"),
      as: "attachment",
    }),
  ).id;
const idOf = (name: string) =>
  sql(world.app.db, "SELECT id FROM prospects WHERE email LIKE @like").get<{ id: number }>({
    like: `${name}@%`,
  })?.id ?? 0;
const tokenIn = (text: string) => /\/look\/([\w.-]+)/.exec(text)?.[1] ?? "";
const opened = (name = "ana", purpose?: "look", id = fileId) =>
  openFile(world.app, tokenIn(fileLink(world.app, id, idOf(name), purpose)));
const person = {
  agent: "Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0",
  ip: "203.0.113.7",
  isHead: false,
  isOwn: false,
};
const tell = (seconds: Record<string, number>, name = "ana", asker = person) =>
  noteReading(world.app, opened(name), asker, { pages: 4, seconds });
const eventsOf = (name: string) =>
  sql(
    world.app.db,
    "SELECT kind, detail FROM events WHERE prospect_id = @id AND kind LIKE 'file_%' ORDER BY id",
  )
    .all<{ kind: string; detail: string | null }>({ id: idOf(name) })
    .map(({ kind, detail }) => `${kind} ${detail}`);
const advance = (ms: number) => setDemoClock(world.app.db, world.app.clock.now() + ms, false);
const look = lookQuery.parse({});
const COLLEAGUE = 77;
const addColleague = () =>
  world.app.db.exec(
    `INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at) VALUES (${COLLEAGUE}, 'r@own.example', 'Rui', '', 'UTC', 'rui', 'rep', 0)`,
  );

/** A sequence whose only email goes with the file to the three, sent to Ana. */
async function sent(change: object = { linksFiles: true }) {
  const path = [
    {
      ...email("one", 0, { subject: "Loans", body: "Dear {{ first_name }}" }),
      attachments: [fileId],
      ...change,
    },
  ];
  const listId = sql(world.app.db, "SELECT id FROM lists").get<{ id: number }>([])?.id ?? 0;
  const settings = {
    ...{ tracksOpens: false, tracksClicks: true, holidays: false, holdsCompany: false, awayDays: 0 },
    cc: "boss@own.example",
  };
  const sequenceId = addSequence(world, listId, [addUnasked(world)], { path, settings });
  good(startSequence(world.app, by(), sequenceId));
  const journeyId =
    sql(world.app.db, "SELECT id FROM journeys WHERE prospect_id = @id").get<{ id: number }>({
      id: idOf("ana"),
    })?.id ?? 0;
  const box = openDoors();
  const now = world.app.clock.now() + 30 * 60_000;
  await sendFrom(
    world.app,
    box.doors,
    1,
    [{ journeyId, stepId: "one", senderId: 1, at: now, followUp: false }],
    now,
  );
  return { sequenceId, mails: box.sent };
}
const touchOf = (name: string) =>
  sql(world.app.db, "SELECT id, body, attachments FROM touches WHERE prospect_id = @id").get<{
    id: number;
    body: string;
    attachments: string;
  }>({ id: idOf(name) });

it("goes as a link below the text, with nothing attached, and whoever gets a copy acts for nobody", async () => {
  const { mails } = await sent();
  // The second is what goes to whoever gets a copy.
  expect(mails).toHaveLength(2);
  const mail = await simpleParser(mails[0]?.raw ?? "");
  expect(mail.attachments).toEqual([]);
  // Its name is text, whatever it looks like.
  expect(String(mail.html)).toContain("Sheet [of loans].pdf</a>");
  expect(mail.text).toMatch(/Dear ana\s+Sheet \[of loans\]\.pdf \[https:\/\/[^\]]+\]/);
  const touch = touchOf("ana");
  expect(touch?.attachments).toBe("[]");
  expect(openFile(world.app, tokenIn(touch?.body ?? ""))).toMatchObject({
    isLook: false,
    name: "Sheet [of loans].pdf",
  });
  expect(filesOfPerson(world.app, idOf("ana"))).toMatchObject([{ id: fileId, openedAt: null }]);
  expect(filesOfPerson(world.app, idOf("bia"))).toEqual([]);
  const copy = await simpleParser(mails.find(({ copies }) => copies)?.copies?.raw ?? "");
  expect(openFile(world.app, tokenIn(String(copy.html)))).toMatchObject({ isLook: true });
});

it("goes attached where nobody chose otherwise, as before", async () => {
  const { mails } = await sent({});
  const mail = await simpleParser(mails[0]?.raw ?? "");
  expect(mail.attachments.map(({ filename }) => filename)).toEqual(["Sheet [of loans].pdf"]);
  expect(mail.text).not.toContain("/look/");
  expect(attachedTo({ attachments: [1] })).toEqual([1]);
  expect(filesOfPerson(world.app, idOf("ana"))).toEqual([]);
});

it("waits with a clear word where its file is gone, and a test notes nothing", async () => {
  const { sequenceId } = await sent();
  const sequence = sequenceOf(world.app, by(), sequenceId);
  if (!sequence) throw new Error("no sequence");
  good(sendTest(world.app, MARTA, sequence, "one", idOf("bia")));
  const test = sql(world.app.db, "SELECT body, attachments FROM touches WHERE kind = 'test'").get<{
    body: string;
    attachments: string;
  }>([]);
  expect(test?.attachments).toBe("[]");
  expect(openFile(world.app, tokenIn(test?.body ?? ""))).toMatchObject({ isLook: true });
  expect(linesOfFiles(world.app, [99], idOf("ana"))).toBeNull();
  sql(world.app.db, "DELETE FROM files WHERE id = @fileId").run({ fileId });
  expect(wrong(sendTest(world.app, MARTA, sequence, "one", idOf("bia")))).toContain("no longer here");
});

it("sums the seconds of each page, and tells once that it was looked at", async () => {
  await sent();
  advance(DAY);
  expect(tell({ 1: 3 })).toBe(true);
  tell({ 1: 7, 2: 40 });
  tell({ 3: 1 });
  expect(eventsOf("ana")).toEqual(["file_opened Sheet [of loans].pdf"]);
  const [file] = filesOfPerson(world.app, idOf("ana"));
  // A page that was passed within a second was not looked at.
  expect(file?.reading).toEqual({ pages: 4, seen: 2, seconds: 51, longest: 2, isToTheEnd: false });
  advance(2 * 3_600_000);
  tell({ 4: 5 });
  expect(eventsOf("ana")).toHaveLength(2);
  expect(filesOfPerson(world.app, idOf("ana"))[0]?.reading).toMatchObject({ seen: 3, isToTheEnd: true });
  // Each event belongs to the email that brought the link.
  expect(
    sql(world.app.db, "SELECT touch_id AS touchId FROM events WHERE kind = 'file_opened'").all([]),
  ).toEqual([{ touchId: touchOf("ana")?.id }, { touchId: touchOf("ana")?.id }]);
});

it("counts no program, nobody who is signed in, no copy, and nobody who follows every link at once", async () => {
  await sent();
  // Nobody has it open so soon after its server took it.
  tell({ 1: 3 });
  advance(DAY);
  for (const asker of [
    { ...person, agent: "LinkScanner/1.0 bot" },
    { ...person, agent: "" },
    { ...person, isOwn: true },
  ]) {
    expect(tell({ 1: 3 }, "ana", asker)).toBe(true);
    noteSaved(world.app, opened("ana"), asker);
  }
  noteSaved(world.app, opened("ana"), { ...person, isHead: true });
  noteReading(world.app, opened("ana", "look"), person, { pages: 4, seconds: { 1: 3 } });
  noteSaved(world.app, opened("ana", "look"), person);
  const touchId = touchOf("ana")?.id ?? 0;
  const now = world.app.clock.now();
  for (const url of ["https://own.example/a", "https://own.example/b"])
    sql(
      world.app.db,
      "INSERT INTO loads (touch_id, kind, at, agent, network, url, is_head, is_own) VALUES (@touchId, 'clicked', @now, 'Mozilla/5.0', '203.0.113', @url, 0, 0)",
    ).run({ touchId, now, url });
  tell({ 1: 3 });
  noteSaved(world.app, opened("ana"), person);
  expect(eventsOf("ana")).toEqual([]);
  expect(filesOfPerson(world.app, idOf("ana"))).toMatchObject([{ openedAt: null, savedAt: null }]);
  // From elsewhere, and later, somebody reads it.
  advance(3_600_000);
  tell({ 1: 3 }, "ana", { ...person, ip: "198.51.100.9" });
  expect(eventsOf("ana")).toHaveLength(1);
});

it.each([
  ["nothing", null],
  ["no pages", { seconds: { 1: 2 } }],
  ["seconds that are none", { pages: 4, seconds: { 1: "2" } }],
  ["a page that is none", { pages: 4, seconds: { __proto__x: 2 } }],
  ["more than can have passed", { pages: 4, seconds: { 1: 100_000 } }],
  [
    "too many pages at once",
    { pages: 9_999, seconds: Object.fromEntries(Array.from({ length: 200 }, (_, n) => [n + 1, 2])) },
  ],
  ["words of a page for prospects", { what: "watched", share: 50 }],
])("takes no %s", (_, input) => {
  expect(noteReading(world.app, opened(), person, input)).toBe(false);
  expect(filesOfPerson(world.app, idOf("ana"))).toEqual([]);
});

it("counts no page that the file does not have, and none longer than anybody reads", () => {
  for (let nth = 0; nth < 80; nth++) tell({ 1: 60, 9: 60 });
  expect(filesOfPerson(world.app, idOf("ana"))[0]?.reading).toMatchObject({ seen: 1, seconds: 3_600 });
});

it("tells once an hour that it was saved", async () => {
  await sent();
  advance(DAY);
  noteSaved(world.app, opened("ana"), person);
  noteSaved(world.app, opened("ana"), person);
  expect(eventsOf("ana")).toEqual(["file_saved Sheet [of loans].pdf"]);
  expect(filesOfPerson(world.app, idOf("ana"))[0]?.savedAt).toBe(world.app.clock.now());
});

it("opens to whoever says the password, and to nobody who was told another's", async () => {
  good(await lockFile(world.app, by(), fileId, { password: "humid lantern", isLocked: true, days: null }));
  expect(isOpenTo(world.app, opened(), null)).toBe(false);
  expect(wrong(await unlock(world.app, opened(), "humid lanterns"))).toContain("not the password");
  const key = good(await unlock(world.app, opened(), "humid lantern"));
  expect(isOpenTo(world.app, opened(), key)).toBe(true);
  // It is for one file, one person, one password, and for some hours.
  expect(isOpenTo(world.app, opened("bia"), key)).toBe(false);
  const other = await addFile("other.pdf");
  good(await lockFile(world.app, by(), other, { password: "humid lantern", isLocked: true, days: null }));
  expect(isOpenTo(world.app, opened("ana", undefined, other), key)).toBe(false);
  for (const bent of ["", "x", `${key}x`, key.replace(/^./, "A"), "MSAx.AAAA"])
    expect(isOpenTo(world.app, opened(), bent)).toBe(false);
  // What it was is not kept, and stays where only the days change.
  good(await lockFile(world.app, by(), fileId, { password: "", isLocked: true, days: 30 }));
  expect(isOpenTo(world.app, opened(), key)).toBe(true);
  good(await lockFile(world.app, by(), fileId, { password: "another", isLocked: true, days: 30 }));
  expect(isOpenTo(world.app, opened(), key)).toBe(false);
  const again = good(await unlock(world.app, opened(), "another"));
  advance(13 * 3_600_000);
  expect(isOpenTo(world.app, opened(), again)).toBe(false);
  good(await lockFile(world.app, by(), fileId, { isLocked: false, days: null }));
  expect(isOpenTo(world.app, opened(), null)).toBe(true);
});

it("is shut for an hour after ten wrong passwords, however many are tried at once", async () => {
  good(await lockFile(world.app, by(), fileId, { password: "humid lantern", isLocked: true, days: null }));
  const tried = await Promise.all(
    Array.from({ length: 14 }, (_, nth) => unlock(world.app, opened(), `wrong ${nth}`)),
  );
  expect(tried.filter((outcome) => wrong(outcome).includes("too often"))).toHaveLength(4);
  expect(wrong(await unlock(world.app, opened(), "humid lantern"))).toContain("too often");
  // Another person's link is not shut by it.
  good(await unlock(world.app, opened("bia"), "humid lantern"));
  advance(3_600_000 + 1);
  good(await unlock(world.app, opened(), "humid lantern"));
});

it("is locked by its owner and by managers, with what can be a lock", async () => {
  const lock = { password: "x", isLocked: true, days: null };
  addColleague();
  expect(wrong(await lockFile(world.app, COLLEAGUE, fileId, lock))).not.toBe("");
  expect(wrong(await lockFile(world.app, by(), 99, lock))).toContain("no longer here");
  expect(wrong(await lockFile(world.app, by(), fileId, { ...lock, password: "  " }))).toContain(
    "Type the password",
  );
  expect(wrong(await lockFile(world.app, by(), fileId, { ...lock, days: 0 }))).toContain("At least one day");
  expect(wrong(await lockFile(world.app, by(), fileId, { ...lock, password: "x".repeat(5_000) }))).not.toBe(
    "",
  );
  expect(wrong(await lockFile(world.app, by(), fileId, null))).not.toBe("");
  expect(opened().lock).toBe("");
});

it("ends so many days after they got it, also where that was said later, and a new email gives it anew", async () => {
  await sent();
  expect(opened().endsAt).toBeNull();
  good(await lockFile(world.app, by(), fileId, { isLocked: false, days: 10 }));
  expect(isOver(world.app, opened())).toBe(false);
  advance(11 * DAY);
  expect(isOver(world.app, opened())).toBe(true);
  // Who never got it: their rep looks at what will be.
  expect(isOver(world.app, opened("bia"))).toBe(false);
  // Whose link nobody knows of, as after a backup was put back: it counts from their first look.
  tell({ 1: 3 }, "caio");
  expect(opened("caio").endsAt).toBe(world.app.clock.now() + 10 * DAY);
  const { id = 0, body = "" } = touchOf("ana") ?? {};
  handOutFiles(world.app, { id, prospectId: idOf("ana"), body }, world.app.clock.now());
  expect(isOver(world.app, opened())).toBe(false);
});

it("ends with the page that shows it, and not once it came by email", async () => {
  const templateId = good(createTemplate(world.app, by(), { name: "A page" }));
  const definition = definitionSchema.parse({
    ...usualDefinition("en"),
    days: 20,
    blocks: [{ id: "f", kind: "files", files: [fileId] }],
  });
  good(saveTemplate(world.app, by(), templateId, { name: "A page", definition }));
  const page = openPage(world.app, new URL(pageLink(world.app, templateId, idOf("ana"))).pathname.slice(5));
  expect(openFile(world.app, tokenIn(fileOfPage(world.app, { ...page, isLook: true }, fileId))).isLook).toBe(
    true,
  );
  expect(filesOfPerson(world.app, idOf("ana"))).toEqual([]);
  expect(tokenIn(fileOfPage(world.app, page, fileId))).toBe(
    tokenIn(fileLink(world.app, fileId, idOf("ana"))),
  );
  advance(10 * DAY);
  fileOfPage(world.app, page, fileId);
  advance(11 * DAY);
  // To have looked again has not put it off.
  expect(isOver(world.app, opened())).toBe(true);
  await sent();
  expect(opened().endsAt).toBeNull();
  // What a page shows is not swept, though no sequence names it.
  const shown = await addFile("shown.pdf");
  good(
    saveTemplate(world.app, by(), templateId, {
      name: "A page",
      definition: { ...definition, blocks: [{ id: "f", kind: "files", files: [shown] }] },
    }),
  );
  const looked = await addFile("looked.pdf");
  advance(DAY);
  noteReading(world.app, opened("ana", undefined, looked), person, { pages: 1, seconds: { 1: 2 } });
  const unused = await addFile("unused.pdf");
  advance(30 * DAY);
  expect(sweepFiles(world.app)).toBe(1);
  expect([shown, looked, unused].map((id) => fileById(world.app.db, id) !== undefined)).toEqual([
    true,
    true,
    false,
  ]);
});

it("is found by nobody without its link: bent, for another purpose, of a file or a person that is gone", async () => {
  const token = tokenIn(fileLink(world.app, fileId, idOf("ana")));
  const page = new URL(pageLink(world.app, fileId, idOf("ana"))).pathname.slice(5);
  for (const bent of [
    "",
    ".",
    token.slice(1),
    `${token}x`,
    token.split(".")[0] ?? "",
    `${token}.x`,
    page,
    "x".repeat(400),
  ])
    expect(() => openFile(world.app, bent)).toThrow();
  expect(filesWithoutActing(world.app, `a /look/${page} b`)).toBe(`a /look/${page} b`);
  tell({ 1: 3 });
  eraseForGood(world.app, idOf("ana"));
  expect(() => openFile(world.app, token)).toThrow();
  expect(sql(world.app.db, "SELECT * FROM file_looks").all([])).toEqual([]);
  const others = tokenIn(fileLink(world.app, fileId, idOf("bia")));
  sql(world.app.db, "DELETE FROM files WHERE id = @fileId").run({ fileId });
  expect(() => openFile(world.app, others)).toThrow();
});

it("stays theirs where two entries become one", async () => {
  const token = tokenIn(fileLink(world.app, fileId, idOf("bia")));
  tell({ 1: 3 }, "bia");
  const ids = { keepId: idOf("ana"), goneId: idOf("bia") };
  good(mergeProspects(world.app, ids, by()));
  expect(openFile(world.app, token).prospect.id).toBe(ids.keepId);
  expect(filesOfPerson(world.app, ids.keepId)).toMatchObject([{ reading: { seconds: 3 } }]);
});

it("goes with an answer as a link, too", async () => {
  await sent();
  world.app.db.exec(
    `INSERT INTO replies (id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, answer_to, subject, text, at)
     SELECT 1, 1, '<r@ana>', prospect_id, id, 'person', 'sure', recipient, 'Ana', recipient, 'Re: Loans', 'Send it.', 1 FROM touches`,
  );
  const form = { replyId: "1", text: "Here it is.", key: "12345678-aaaa", attachments: [fileId] };
  expect(wrong(answerReply(world.app, MARTA, { ...form, attachments: [99], linksFiles: "1" }))).toContain(
    "no longer here",
  );
  good(answerReply(world.app, MARTA, { ...form, linksFiles: "1" }));
  const answer = sql(world.app.db, "SELECT body, attachments FROM touches WHERE kind = 'answer'").get<{
    body: string;
    attachments: string;
  }>([]);
  expect(answer?.attachments).toBe("[]");
  expect(openFile(world.app, tokenIn(answer?.body ?? "")).prospect.id).toBe(idOf("ana"));
});

it("is counted in Results by file, by page and by person, as a file, too; a personal sequence's for nobody else", async () => {
  const { sequenceId } = await sent();
  advance(DAY);
  tell({ 1: 10, 2: 40 });
  noteSaved(world.app, opened("ana"), person);
  expect(fileLines(world.app, by(), look, "UTC")).toEqual([
    {
      id: fileId,
      name: "Sheet [of loans].pdf",
      given: 1,
      opened: 1,
      saved: 1,
      toTheEnd: 0,
      pages: 4,
      seconds: 50,
    },
  ]);
  expect(fileDetail(world.app, by(), fileId, look, "UTC")).toMatchObject({
    byPage: [
      { page: 1, readers: 1, seconds: 10 },
      { page: 2, readers: 1, seconds: 40 },
      { page: 3, readers: 0, seconds: 0 },
      { page: 4, readers: 0, seconds: 0 },
    ],
    readers: [{ prospectId: idOf("ana"), reading: { seen: 2, longest: 2 } }],
    more: 0,
  });
  expect(fileLines(world.app, by(), lookQuery.parse({ list: "1" }), "UTC")).toHaveLength(1);
  expect(fileLines(world.app, by(), lookQuery.parse({ since: "2027-01-01" }), "UTC")).toEqual([]);
  expect(fileDetail(world.app, by(), 99, look, "UTC")).toBeNull();
  expect(await overviewTable(world.app, by(), { show: "files" }, "UTC")).toContain(
    "Sheet [of loans].pdf,1,1,0,1,4,50",
  );
  expect(await overviewTable(world.app, by(), { show: "files", file: String(fileId) }, "UTC")).toContain(
    ",2,4,50,2,",
  );
  sql(world.app.db, "UPDATE sequences SET is_personal = 1 WHERE id = @sequenceId").run({ sequenceId });
  addColleague();
  expect(fileLines(world.app, COLLEAGUE, look, "UTC")).toEqual([]);
  expect(fileDetail(world.app, COLLEAGUE, fileId, look, "UTC")).toBeNull();
});

it("comes to what somebody read", () => {
  expect(readingOf(0, {})).toEqual({ pages: 0, seen: 0, seconds: 0, longest: null, isToTheEnd: false });
  expect(readingOf(1, { 1: 9 })).toEqual({ pages: 1, seen: 1, seconds: 9, longest: null, isToTheEnd: true });
  // Of two that were before them as long, the first.
  expect(readingOf(12, { 7: 5, 3: 5, 12: 1 })).toMatchObject({ seen: 2, longest: 3, isToTheEnd: false });
  expect(byPage(2, [{ 1: 4 }, { 1: 10, 2: 1 }, { 1: 6, 2: 2 }, { 2: 8 }])).toEqual([
    { page: 1, readers: 3, seconds: 6 },
    { page: 2, readers: 2, seconds: 2 },
  ]);
});
