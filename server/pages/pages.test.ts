import { existsSync, readdirSync, readFileSync, rmSync, statSync, utimesSync } from "node:fs";
import { join } from "node:path";
import { Readable } from "node:stream";
import { simpleParser } from "mailparser";
import sharp from "sharp";
import { afterAll, afterEach, beforeEach, expect, it } from "vitest";
import { FRAMES, MOST_BYTES, SIZE } from "../../core/pages/moving-picture.ts";
import { definitionSchema, usualDefinition } from "../../core/pages/template.ts";
import { SETTLES } from "../../core/replies/loads.ts";
import { holds } from "../../core/sequence/holds.ts";
import { setDemoClock } from "../clock.ts";
import { projectRoot } from "../config.ts";
import type { Touch } from "../db/ledger.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { ensurePage, handOutPage, pageOf } from "../db/pages.ts";
import { unwatched } from "../jobs/report.ts";
import { composeEmail } from "../mail/compose.ts";
import { mediaPath } from "../mail/media.ts";
import { pageFields, pageLink, readPageLink, withoutActing } from "../mail/page-links.ts";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { sendFrom } from "../sending/send.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { factsOf } from "../sequences/walk.ts";
import { openDoors } from "../tests/doors.ts";
import {
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  email,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import {
  addPart,
  beginFilm,
  changeFilm,
  filmById,
  filmOfPerson,
  finishFilm,
  removeFilm,
  stopReadingFilms,
} from "./films.ts";
import { askForPictures, makePicture, makePictures, stopDrawing, sweepMedia } from "./make-pictures.ts";
import { linksIntoFile, linksOfList } from "./page-links-file.ts";
import { openPage, personalPage } from "./personal-page.ts";
import { createTemplate, removeTemplate, saveTemplate, templateById } from "./templates.ts";
import { judgeVisits, noteSeen, noteVisit } from "./visits.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana", "bia"]);
});
afterEach(() => world.close());
afterAll(async () => {
  await stopReadingFilms();
  await stopDrawing();
});

const film = readFileSync(join(projectRoot, "demo/film/film.webm"));
const frames = readFileSync(join(projectRoot, "demo/film/film-frames.jpg"));
const poster = readFileSync(join(projectRoot, "demo/film/film-poster.jpg"));
const by = () => world.userId;
const good = <T>(outcome: { ok: true; value: T } | { ok: false; errors: Record<string, string> }): T => {
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
  return outcome.value;
};
const wrong = (outcome: { ok: boolean; errors?: Record<string, string> }) =>
  Object.values(outcome.errors ?? {}).join(" ");
const idOf = (name: string) =>
  sql(world.app.db, "SELECT id FROM prospects WHERE email LIKE @like").get<{ id: number }>({
    like: `${name}@%`,
  })?.id ?? 0;
async function addFilm(bytes: Buffer = film, more: object = {}) {
  const { id } = good(beginFilm(world.app, by(), { name: "A film", bytes: bytes.length, ...more }));
  good(await addPart(world.app, by(), id, 0, Readable.from([bytes])));
  return finishFilm(world.app, by(), id, {}, { poster, frames });
}
async function addPage(change: object = {}) {
  const id = good(createTemplate(world.app, by(), { name: "A page" }));
  const filmId = good(await addFilm()).id;
  good(
    saveTemplate(world.app, by(), id, {
      name: "A page",
      definition: { ...usualDefinition("en"), filmId, ...change },
    }),
  );
  return { id, filmId };
}
const opened = (templateId: number, name = "ana", purpose?: "look") =>
  openPage(world.app, pageLink(world.app, templateId, idOf(name), purpose).split("/for/")[1] ?? "");
const seen = (page: ReturnType<typeof opened>) =>
  personalPage(world.app, page, { wanted: null, plainGreeting: () => "For you" });
const person = {
  agent: "Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0",
  ip: "203.0.113.7",
  isHead: false,
  isOwn: false,
};
const eventsOf = (name: string) =>
  sql(world.app.db, "SELECT kind, detail FROM events WHERE prospect_id = @id ORDER BY id")
    .all<{ kind: string; detail: string | null }>({ id: idOf(name) })
    .map(({ kind, detail }) => [kind, detail].filter(Boolean).join(" "));
const advance = (ms: number) => setDemoClock(world.app.db, world.app.clock.now() + ms, false);
const settle = () => {
  advance(SETTLES + 1);
  judgeVisits(world.app);
};

it("takes a film in parts, and goes on where a connection broke off", async () => {
  const { id, have } = good(beginFilm(world.app, by(), { name: "film.webm", bytes: film.length }));
  expect(have).toBe(0);
  const cut = new Readable({
    read() {
      this.push(film.subarray(0, 100_000));
      this.destroy(new Error("gone"));
    },
  });
  const first = good(await addPart(world.app, by(), id, 0, cut));
  // The same file again, in another tab or on another day.
  const again = good(beginFilm(world.app, by(), { name: "film.webm", bytes: film.length }));
  expect(again).toEqual({ id, have: first.have });
  expect(wrong(await finishFilm(world.app, by(), id, {}, { poster, frames }))).toContain("have not arrived");
  // A part that begins elsewhere is not written; it is said where it goes on.
  expect(good(await addPart(world.app, by(), id, 7, Readable.from([Buffer.from("x")])))).toEqual({
    id,
    have: first.have,
  });
  good(await addPart(world.app, by(), id, first.have, Readable.from([film.subarray(first.have)])));
  const whole = good(await finishFilm(world.app, by(), id, {}, { poster, frames }));
  expect(whole).toMatchObject({ type: "video/webm", startsMs: 0 });
  expect(whole.durationMs).toBeGreaterThan(13_000);
  expect(readFileSync(mediaPath(world.app, whole.file)).equals(film)).toBe(true);
  expect(statSync(mediaPath(world.app, whole.file)).mode & 0o777).toBe(0o600);
});

it.each([
  ["a picture", poster],
  ["words", Buffer.from("This is no film at all, whatever its name says. ".repeat(50))],
  ["a film that was cut off in its head", film.subarray(0, 40)],
  ["zeros", Buffer.alloc(50_000)],
])("says of %s that it is no film, and keeps nothing", async (_, bytes) => {
  expect(wrong(await addFilm(Buffer.from(bytes)))).toMatch(/no film that browsers play/);
  expect(readdirSync(world.app.config.media)).toEqual([]);
});

it("takes what a browser records as it goes, whose pieces do not say how long they are", async () => {
  // As MediaRecorder writes it: the length of a cluster is unknown (RFC 8794 6.2).
  const unknown = Buffer.from(film);
  const size = unknown.indexOf(Buffer.from([0x1f, 0x43, 0xb6, 0x75])) + 4;
  const width = Math.clz32(unknown[size] as number) - 23;
  unknown.fill(0xff, size, size + width);
  unknown[size] = 0xff >> (width - 1);
  const { id } = good(beginFilm(world.app, by(), { name: "Recorded", bytes: unknown.length }));
  good(await addPart(world.app, by(), id, 0, Readable.from([unknown])));
  // How long it is says the browser that plays it.
  const made = good(await finishFilm(world.app, by(), id, { durationMs: 4_200 }, { poster, frames }));
  expect(made).toMatchObject({ type: "video/webm", durationMs: expect.any(Number) });
  expect(made.durationMs).toBeGreaterThan(4_000);
});

it("refuses what is too large before a byte of it is sent", () => {
  expect(wrong(beginFilm(world.app, by(), { name: "a.mp4", bytes: 201 * 1024 * 1024 }))).toContain(
    "200 MB are the most",
  );
  expect(wrong(beginFilm(world.app, by(), { name: "a.mp4", bytes: 0 }))).toContain("empty");
});

it("cuts a film without changing it, and names the line of captions that cannot be read", async () => {
  const { id } = good(await addFilm());
  const change = (more: object) =>
    changeFilm(world.app, by(), id, { name: "Cut", startsMs: 1_000, endsMs: 9_000, ...more });
  good(await change({ captions: "0:02 Hello" }));
  expect(filmById(world.app.db, id)).toMatchObject({
    startsMs: 1_000,
    endsMs: 9_000,
    captions: "0:02 Hello",
  });
  expect(wrong(await change({ captions: "Hello" }))).toContain("Line 1");
  expect(wrong(await change({ endsMs: 1_500 }))).toContain("Nothing of it would be left");
});

it("is seen through its own link only", async () => {
  const { id } = await addPage();
  const link = pageLink(world.app, id, idOf("ana"));
  const token = link.split("/for/")[1] ?? "";
  expect(seen(openPage(world.app, token)).visitor.email).toContain("ana@");
  const bent = `${token.slice(0, -1)}${token.endsWith("A") ? "B" : "A"}`;
  for (const other of [
    bent,
    "",
    "1.2",
    `${Buffer.from(`${id} ${idOf("bia")}`).toString("base64url")}.${token.split(".")[1]}`,
  ])
    expect(() => openPage(world.app, other)).toThrow("does not exist");
  // Of a person who was erased, and of a page that was taken away, nothing opens.
  eraseForGood(world.app, idOf("ana"));
  expect(() => openPage(world.app, token)).toThrow("does not exist");
  const theirs = pageLink(world.app, id, idOf("bia")).split("/for/")[1] ?? "";
  good(removeTemplate(world.app, by(), id));
  expect(() => openPage(world.app, theirs)).toThrow("does not exist");
});

it("never shows what the assistant wrote and nobody has read", async () => {
  sql(world.app.db, "INSERT INTO custom_fields (name) VALUES ('opening')").run([]);
  const page = await addPage({ blocks: [{ id: "w", kind: "words", text: { en: "{{ opening }}" } }] });
  const set = (unread: object) =>
    sql(world.app.db, "UPDATE prospects SET custom = @custom, unread = @unread WHERE id = @id").run({
      ...{
        id: idOf("ana"),
        custom: JSON.stringify({ opening: "You won a prize." }),
        unread: JSON.stringify(unread),
      },
    });
  set({ opening: "You won a prize." });
  expect(seen(opened(page.id)).blocks).toEqual([]);
  set({});
  expect(seen(opened(page.id)).blocks).toMatchObject([{ html: expect.stringContaining("You won a prize.") }]);
});

it("notes a visit once it is known for a person's, and none of a program, a colleague or whoever got a copy", async () => {
  const { id } = await addPage();
  for (const asker of [
    { ...person, agent: "LinkScanner/1.0 bot" },
    { ...person, agent: "" },
    { ...person, isHead: true },
    { ...person, isOwn: true },
  ])
    noteVisit(world.app, opened(id), asker);
  noteVisit(world.app, opened(id, "ana", "look"), person);
  settle();
  expect(eventsOf("ana")).toEqual([]);
  advance(3_600_000);
  noteVisit(world.app, opened(id), { ...person, ip: "198.51.100.4" });
  expect(eventsOf("ana")).toEqual([]);
  settle();
  expect(eventsOf("ana")).toEqual(["page_visited"]);
  // Again within the hour says nothing new.
  noteVisit(world.app, opened(id), { ...person, ip: "198.51.100.4" });
  settle();
  expect(eventsOf("ana")).toEqual(["page_visited"]);
});

it("tells each quarter of a film once, and its beginning again when somebody comes back", async () => {
  const { id } = await addPage();
  const tell = (share: number, asker = person) =>
    noteSeen(world.app, opened(id), asker, { what: "watched", share });
  expect(tell(0)).toBe(true);
  tell(50);
  tell(50);
  tell(25);
  expect(eventsOf("ana")).toEqual(["film_watched 0", "film_watched 25", "film_watched 50"]);
  expect(pageOf(world.app.db, id, idOf("ana"))?.watched).toBe(50);
  tell(100, { ...person, isOwn: true });
  tell(100, { ...person, agent: "HeadlessChecker" });
  tell(0);
  expect(eventsOf("ana")).toHaveLength(3);
  advance(2 * 3_600_000);
  tell(0);
  expect(eventsOf("ana").slice(3)).toEqual(["film_watched 0"]);
  for (const odd of [
    { what: "watched", share: 30 },
    { what: "watched", share: "50" },
    {},
    null,
    { what: "paid" },
  ])
    expect(noteSeen(world.app, opened(id), person, odd)).toBe(false);
});

it("draws a moving picture of its size, with another for another name, and keeps it while nothing changes", async () => {
  const { id, filmId } = await addPage();
  const made = await makePicture(world.app, id, idOf("ana"));
  const bytes = readFileSync(mediaPath(world.app, made?.picture ?? ""));
  expect(bytes.length).toBeLessThan(MOST_BYTES);
  expect(await sharp(bytes, { animated: true }).metadata()).toMatchObject({
    format: "gif",
    width: SIZE.width,
    pageHeight: SIZE.height,
    pages: FRAMES,
    loop: 0,
  });
  expect((await makePicture(world.app, id, idOf("ana")))?.picture).toBe(made?.picture);
  const other = await makePicture(world.app, id, idOf("bia"));
  expect(readFileSync(mediaPath(world.app, other?.picture ?? "")).equals(bytes)).toBe(false);
  // Another film: drawn anew when it is asked for, and what was sent stays until then.
  good(
    await changeFilm(
      world.app,
      by(),
      filmId,
      { name: "x", startsMs: 1_000, endsMs: 9_000 },
      { poster: null, frames: poster },
    ),
  );
  expect(pageOf(world.app.db, id, idOf("ana"))).toMatchObject({ picture: made?.picture, isDrawn: 0 });
  const anew = await makePicture(world.app, id, idOf("ana"));
  expect(anew?.picture).not.toBe(made?.picture);
  expect(existsSync(mediaPath(world.app, made?.picture ?? ""))).toBe(false);
});

it("makes pictures ahead for nobody whose texts show none", () => {
  expect(askForPictures(world.app)).toBe(false);
});

it("ends after its days, counted from when they got it, and no visit puts that off", async () => {
  const { id } = await addPage({ days: 30 });
  await makePicture(world.app, id, idOf("ana"));
  // Looked at beforehand by whoever made it, it has no end yet.
  expect(opened(id).endsAt).toBeNull();
  const got = world.app.clock.now();
  handOutPage(world.app.db, id, idOf("ana"), got);
  expect(opened(id).endsAt).toBe(got + 30 * 86_400_000);
  advance(20 * 86_400_000);
  noteVisit(world.app, opened(id), person);
  noteSeen(world.app, opened(id), person, { what: "watched", share: 0 });
  expect(opened(id).endsAt).toBe(got + 30 * 86_400_000);
  // By a link that somebody copied it ends, too.
  noteVisit(world.app, opened(id, "bia"), person);
  expect(opened(id, "bia").endsAt).toBe(world.app.clock.now() + 30 * 86_400_000);
});

it("gives up a film that never came whole, and draws anew a picture whose file is gone", async () => {
  const { id } = await addPage();
  const { picture } = (await makePicture(world.app, id, idOf("ana"))) ?? {};
  rmSync(mediaPath(world.app, picture ?? ""));
  good(beginFilm(world.app, by(), { name: "half.mp4", bytes: 900 }));
  const left = () =>
    sql(world.app.db, "SELECT count(*) AS n FROM films WHERE type = ''").get<{ n: number }>([])?.n;
  sweepMedia(world.app);
  expect(left()).toBe(1);
  expect(pageOf(world.app.db, id, idOf("ana"))).toMatchObject({ picture: null, isDrawn: 0 });
  expect((await makePicture(world.app, id, idOf("ana")))?.picture).toMatch(/\.gif$/);
  advance(8 * 86_400_000);
  sweepMedia(world.app);
  expect(left()).toBe(0);
});

it("takes everything of a person along when they are erased, and sweeps the files that nothing names", async () => {
  const { id } = await addPage();
  good(await addFilm(film, { prospectId: idOf("ana") }));
  const own = filmOfPerson(world.app.db, idOf("ana"));
  expect(own).toBeDefined();
  expect(seen(opened(id)).film?.isOwn).toBe(true);
  expect(seen(opened(id, "bia")).film?.isOwn).toBe(false);
  await makePicture(world.app, id, idOf("ana"));
  noteVisit(world.app, opened(id), person);
  expect(readdirSync(world.app.config.media)).toHaveLength(3);
  eraseForGood(world.app, idOf("ana"));
  for (const table of ["pages", "page_loads"])
    expect(sql(world.app.db, `SELECT 1 FROM ${table}`).all([])).toEqual([]);
  expect(filmById(world.app.db, own?.id ?? 0)).toBeUndefined();
  // A file that was written a moment ago may belong to what is being made.
  expect(sweepMedia(world.app)).toBe(0);
  const later = Date.now() / 1000 - 7_200;
  for (const name of readdirSync(world.app.config.media))
    utimesSync(mediaPath(world.app, name), later, later);
  expect(sweepMedia(world.app)).toBe(2);
  expect(readdirSync(world.app.config.media)).toHaveLength(1);
});

it("follows a person who becomes one with another, by the links of both", async () => {
  const { id } = await addPage();
  ensurePage(world.app.db, id, idOf("bia"), world.app.clock.now());
  const [ana, bia] = [idOf("ana"), idOf("bia")];
  const link = pageLink(world.app, id, bia).split("/for/")[1] ?? "";
  good(mergeProspects(world.app, { keepId: ana, goneId: bia }, by()));
  expect(openPage(world.app, link).prospect.id).toBe(ana);
  expect(pageOf(world.app.db, id, ana)).toBeDefined();
});

it("writes the links of a list as a file, and puts them into one that is given", async () => {
  const { id } = await addPage();
  const listId = sql(world.app.db, "SELECT id FROM lists").get<{ id: number }>([])?.id ?? 0;
  const file = good(linksOfList(world.app, by(), id, listId));
  const [, line = ""] = file.split("\r\n");
  expect(file.split("\r\n")[0]).toBe("\ufeffName,Email,Page link,Picture link");
  const token = /\/for\/([\w.-]+),/.exec(line)?.[1] ?? "";
  expect(readPageLink(world.app, token)).toMatchObject({ templateId: id, isLook: false });
  const given = Buffer.from(
    `Wohin;E-Mail;Notiz\r\nBremen;${"ANA"}@museum.example;=1+1\r\nOslo;nobody@else.example;x`,
  );
  const email =
    sql(world.app.db, "SELECT email FROM prospects WHERE id = @id").get<{ email: string }>({
      id: idOf("ana"),
    })?.email ?? "";
  const back = good(
    linksIntoFile(
      world.app,
      by(),
      id,
      Buffer.from(given.toString().replace("ANA@museum.example", email.toUpperCase())),
    ),
  );
  expect(back).toMatchObject({ people: 1, unknown: 1 });
  expect(back.file.split("\r\n")[0]).toBe("\ufeffWohin,E-Mail,Notiz,Page link,Picture link");
  // What a spreadsheet would take for a formula is marked as text.
  expect(back.file).toContain("'=1+1");
  expect(wrong(linksIntoFile(world.app, by(), id, Buffer.from("a,b\n1,2\n")))).toContain("No column");
  expect(wrong(linksIntoFile(world.app, by(), id, Buffer.from("email\nx@nobody.example\n")))).toContain(
    "Nobody of this file",
  );
});

it("acts for nobody in what others get a copy of", async () => {
  const { id } = await addPage();
  const link = pageLink(world.app, id, idOf("ana"));
  const token = link.split("/for/")[1] ?? "";
  const text = `See ${link} and [![x](page:${token})](${link})`;
  const copy = withoutActing(world.app, text);
  expect(copy).not.toContain(token);
  for (const [, found = ""] of copy.matchAll(/(?:\/for\/|page:)([\w.-]+)/g))
    expect(readPageLink(world.app, found)).toMatchObject({ isLook: true });
});

it("holds an email until its picture is drawn, and none that shows nothing", async () => {
  const { id } = await addPage();
  const path = [
    email("one", 0, { subject: "A film", body: "Dear {{ first_name }}\n\n{{ page_picture }}" }),
    email("two", 2, { body: "In words: {{ page_link }}" }),
  ];
  const listId = sql(world.app.db, "SELECT id FROM lists").get<{ id: number }>([])?.id ?? 0;
  const settings = {
    pageId: id,
    tracksOpens: false,
    tracksClicks: false,
    holidays: false,
    holdsCompany: false,
    awayDays: 0,
  };
  const sequenceId = addSequence(world, listId, [addUnasked(world)], { path, settings });
  good(startSequence(world.app, by(), sequenceId));
  const now = TUESDAY + 30 * 60_000;
  const journey = () =>
    sql(world.app.db, "SELECT id, wait_reason AS reason FROM journeys WHERE prospect_id = @id").get<{
      id: number;
      reason: string | null;
    }>({
      id: idOf("ana"),
    });
  const send = async () => {
    const box = openDoors();
    const planned = { journeyId: journey()?.id ?? 0, stepId: "one", senderId: 1, at: now, followUp: false };
    await sendFrom(world.app, box.doors, 1, [planned], now);
    return box.sent;
  };
  expect(await send()).toEqual([]);
  expect(journey()?.reason).toBe("picture_unmade");
  // The worker sees that somebody waits for one; once it is there, they wait for nothing.
  expect(askForPictures(world.app)).toBe(true);
  expect(askForPictures(world.app)).toBe(false);
  await makePictures(world.app, { templateId: null }, unwatched);
  expect(journey()?.reason).toBeNull();
  sql(world.app.db, "UPDATE jobs SET state = 'done'").run([]);
  expect(askForPictures(world.app)).toBe(false);
  const [sent] = await send();
  expect(sent?.raw.toString().replace(/=\r\n/g, "")).toContain("/picture.gif");
  expect(opened(id).endsAt).toBe(now + 90 * 86_400_000);
  // They watch half of it: what a fork asks for is known of this way.
  noteSeen(world.app, opened(id), person, { what: "watched", share: 50 });
  const facts = factsOf(world.app.db, { ...standing, id: journey()?.id ?? 0, prospectId: idOf("ana") });
  expect(holds({ about: "watched", share: 50 }, facts, Number.MAX_SAFE_INTEGER)).toBe(true);
  expect(holds({ about: "watched", share: 75 }, facts, Number.MAX_SAFE_INTEGER)).toBe(false);
  expect(holds({ about: "visited" }, facts, Number.MAX_SAFE_INTEGER)).toBe(true);
});
const standing = {
  prospectZone: null,
  prospectCountry: "",
  email: "ana@ana-museum.example",
  hasProfile: 0 as const,
};

it("travels inside an email where the page says so, and is loaded from our address else", async () => {
  const { id } = await addPage({ picture: "inside" });
  const token = pageLink(world.app, id, idOf("ana")).split("/for/")[1] ?? "";
  const { page_picture: markup } = pageFields(world.app, id, {
    id: idOf("ana"),
    firstName: "A_n*a",
    sender: "Marta",
  });
  const touch = {
    ...{
      id: 1,
      kind: "email",
      journeyId: null,
      prospectId: idOf("ana"),
      recipient: "ana@ana-museum.example",
    },
    ...{ subject: "A film", body: "See", markup: `See\n\n${markup}`, format: "formatted", attachments: "[]" },
    ...{
      cc: "boss@else.example",
      bcc: "",
      messageId: "<a@own.example>",
      inReplyTo: null,
      references: "",
      claimedAt: 1,
    },
  } as unknown as Touch;
  const mailbox = { address: "marta@own.example", senderName: "Marta", replyTo: "", userId: 1 } as Mailbox;
  const options = { toName: "", tracksOpens: false, tracksClicks: false, optOutHeader: "always" as const };
  const compose = async () => {
    const { raw, copies } = await composeEmail(world.app, touch, mailbox, options);
    return { mail: await simpleParser(raw), copy: await simpleParser(copies?.raw ?? "") };
  };
  // Not drawn yet: what is sent all the same shows it from our address as soon as it is there.
  expect((await compose()).mail.attachments).toEqual([]);
  const { picture } = (await makePicture(world.app, id, idOf("ana"))) ?? {};
  const { mail, copy } = await compose();
  expect(
    mail.attachments.map(({ contentType, contentDisposition, related }) => [
      contentType,
      contentDisposition,
      related,
    ]),
  ).toEqual([["image/gif", "inline", true]]);
  expect(mail.attachments[0]?.content.equals(readFileSync(mediaPath(world.app, picture ?? "")))).toBe(true);
  expect(String(mail.html)).toContain(`<a href="${pageLink(world.app, id, idOf("ana"))}"`);
  // Where no picture is shown its words are, and the link.
  expect(mail.text).toContain("For A_n*a: a short film by Marta");
  expect(mail.text).toContain(`/for/${token}`);
  expect(`${copy.html}${copy.text}`).not.toContain(token);
  good(
    saveTemplate(world.app, by(), id, {
      name: "x",
      definition: { ...usualDefinition("en"), picture: "address" },
    }),
  );
  const { mail: light } = await compose();
  expect(light.attachments).toEqual([]);
  expect(String(light.html)).toContain(`<img src="${world.app.config.url}/for/${token}/picture.gif"`);
});

it("says what a page may not be: too many words, words that are no fields, colours that nobody reads", async () => {
  const { id } = await addPage();
  const save = (change: object) =>
    saveTemplate(world.app, by(), id, {
      name: "A page",
      definition: { ...usualDefinition("en"), ...change },
    });
  const huge = "x".repeat(5_000_000);
  expect(wrong(save({ blocks: [{ id: "w", kind: "words", text: { en: huge } }] }))).toContain(
    "200 are the most",
  );
  expect(wrong(save({ blocks: [{ id: "w", kind: "words", text: { en: "{{ frist_name }}" } }] }))).toContain(
    "Did you mean “first_name”",
  );
  expect(wrong(save({ colours: { accent: "#ffff00", paper: "#ffffff" } }))).toContain("hard to read");
  expect(wrong(saveTemplate(world.app, by(), id, { name: "", definition: usualDefinition("en") }))).toContain(
    "name",
  );
  expect(wrong(saveTemplate(world.app, by(), id, { name: "x", definition: "{" }))).toContain(
    "cannot be read",
  );
  // What was opened before somebody else saved it does not go over that.
  const was = templateById(world.app.db, id)?.revision;
  const anew = good(
    saveTemplate(world.app, by(), id, { name: "Mine", definition: usualDefinition("en"), revision: was }),
  );
  expect(
    wrong(
      saveTemplate(world.app, by(), id, { name: "Theirs", definition: usualDefinition("en"), revision: was }),
    ),
  ).toContain("saved meanwhile");
  good(
    saveTemplate(world.app, by(), id, { name: "A page", definition: usualDefinition("en"), revision: anew }),
  );
  // Nothing of it was kept.
  expect(templateById(world.app.db, id)?.definition.blocks).toHaveLength(
    definitionSchema.parse(usualDefinition("en")).blocks.length,
  );
});

it("goes on without a film that was removed", async () => {
  const { id, filmId } = await addPage();
  good(removeFilm(world.app, by(), filmId));
  const page = seen(opened(id));
  expect(page.film).toBeNull();
  expect(page.lacks.map(({ what }) => what)).toContain("the film");
  expect(readdirSync(world.app.config.media)).toEqual([]);
});

it("draws for all who have a page, and goes on behind the last when it was cut off", async () => {
  const { id } = await addPage();
  for (const name of ["ana", "bia"]) ensurePage(world.app.db, id, idOf(name), world.app.clock.now());
  let asked = 0;
  await makePictures(world.app, { templateId: id }, () => asked++ > 0);
  const drawn = () =>
    sql(world.app.db, "SELECT count(*) AS n FROM pages WHERE picture IS NOT NULL").get<{ n: number }>([])?.n;
  expect(drawn()).toBe(1);
  await makePictures(world.app, { templateId: id }, unwatched);
  expect(drawn()).toBe(2);
});
