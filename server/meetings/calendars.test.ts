/** Meetings against busy calendars, over a team, by two at once, and the mail that goes with them. */
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { createUser } from "../accounts/create-user.ts";
import { Engine } from "../engine/tick.ts";
import { ownNotices, saveNoticeSettings } from "../notices/own-notices.ts";
import { mailNotices, writeNotices } from "../notices/write-notices.ts";
import { leadsInside } from "../outside/inside.ts";
import { signLink } from "../secrets.ts";
import {
  addMailbox,
  addPeople,
  createWorld,
  rows,
  type Standin,
  startStandin,
  type World,
} from "../tests/world.ts";
import { bookMeeting, cancelMeeting, moveMeeting, noteMeeting } from "./book-meeting.ts";
import { bookingPage } from "./booking-page.ts";
import { bookingPages, saveBookingPage } from "./booking-pages.ts";
import { calendarFeed, feedLink } from "./calendar-file.ts";
import { addCalendar, calendarsOf, readDueCalendars, stopReadingCalendars } from "./calendars.ts";
import { fetchCalendar } from "./fetch-calendar.ts";
import { offerTimes } from "./offer-times.ts";

let standin: Standin;
let world: World;
let feed: Server;
let feedUrl: string;
/** What the feed answers with. */
let answer: { status: number; body: string; headers?: Record<string, string> };

beforeAll(async () => {
  standin = await startStandin();
  feed = createServer((_, response) => {
    response.writeHead(answer.status, answer.headers);
    if (answer.status !== 0) response.end(answer.body);
  });
  await new Promise<void>((resolve) => feed.listen(0, "127.0.0.1", resolve));
  feedUrl = `http://127.0.0.1:${(feed.address() as AddressInfo).port}/me.ics`;
});
afterAll(async () => {
  await stopReadingCalendars();
  await standin.stop();
  feed.close();
});
beforeEach(async () => {
  world = await createWorld({ standin, env: { SAUDADE_INSIDE_CALENDARS: "1" } });
  addPeople(world, ["ana", "bia"]);
});
afterEach(() => world.close());

const user = () => ({ ...world.user, bookingSlug: slug() });
const slug = () =>
  rows<{ slug: string }>(world, "SELECT booking_slug AS slug FROM users ORDER BY id")[0]?.slug ?? "";
const visitor = {
  name: "Ana",
  email: "ana@ana-museum.example",
  phone: "+351 210 000 000",
  zone: "Europe/Lisbon",
};
const stamp = (at: number) => new Date(at).toISOString().replace(/[-:]|\.\d{3}/g, "");
const ics = (...events: [from: number, to: number, more?: string][]) =>
  `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n${events
    .map(
      ([from, to, more = ""], nth) =>
        `BEGIN:VEVENT\r\nUID:${nth}\r\nDTSTART:${stamp(from)}\r\nDTEND:${stamp(to)}\r\n${more}END:VEVENT\r\n`,
    )
    .join("")}END:VCALENDAR\r\n`;
const times = () => bookingPage(world.app, slug(), null, { isWritten: true }).times;
const book = (start: number, token: string | null = null) =>
  bookMeeting(world.app, slug(), token, { ...visitor, start });

describe("a busy calendar", () => {
  it("takes its times off the page, also the recurring ones, and keeps them while it cannot be read", async () => {
    const free = times();
    const [first = 0, , third = 0] = free;
    answer = {
      status: 200,
      body: ics([first, first + HOUR / 2], [third, third + HOUR / 2, "RRULE:FREQ=DAILY;COUNT=3\r\n"]),
    };
    expect((await addCalendar(world.app, 1, { name: "Work", url: feedUrl })).ok).toBe(true);
    expect(times()).not.toContain(first);
    expect(times()).not.toContain(third);
    expect(times()).not.toContain(third + DAY);
    expect(times()).toContain(free[1]);
    answer = { status: 500, body: "" };
    world.app.db.exec("UPDATE calendars SET next_wall = 0");
    await readDueCalendars(world.app);
    expect(calendarsOf(world.app, 1)[0]?.trouble).toContain("500");
    expect(times()).not.toContain(first);
    expect(book(first)).toMatchObject({ errors: { start: expect.stringContaining("Choose another") } });
  });

  it("says at once what is wrong with an address: no calendar, a page that wants a sign-in, one that leads inside", async () => {
    const add = (url: string) => addCalendar(world.app, 1, { name: "Work", url });
    answer = { status: 200, body: "<html>" };
    expect(await add(feedUrl)).toMatchObject({ errors: { url: expect.stringContaining("no calendar") } });
    answer = { status: 401, body: "" };
    expect(await add(feedUrl)).toMatchObject({ errors: { url: expect.stringContaining("sign in") } });
    expect(await add("ftp://x.example")).toMatchObject({ errors: { url: expect.any(String) } });
    expect(calendarsOf(world.app, 1)).toEqual([]);
  });

  it("leads nowhere inside, not by its name, a redirect or an address in other clothes; a slow one is given up", async () => {
    for (const address of [
      "127.0.0.1",
      "10.1.2.3",
      "192.168.0.1",
      "169.254.169.254",
      "::1",
      "fd00::1",
      "::ffff:127.0.0.1",
      "0.0.0.0",
    ])
      expect(leadsInside(address), address).toBe(true);
    for (const address of ["93.184.216.34", "2606:2800:220:1::1"])
      expect(leadsInside(address), address).toBe(false);
    const closed = { config: { demo: false, inside: [] } };
    for (const url of [feedUrl, "http://localhost/x.ics", "http://[::1]/x.ics", "http://2130706433/x.ics"])
      expect(await fetchCalendar(url, closed), url).toEqual({
        trouble: expect.stringMatching(/leads inside|cannot be reached/),
      });
    answer = { status: 302, body: "", headers: { location: feedUrl } };
    expect(await fetchCalendar(feedUrl, { config: { demo: false, inside: ["127.0.0.1"] } })).toEqual({
      trouble: expect.stringContaining("on and on"),
    });
    answer = { status: 302, body: "", headers: { location: "file:///etc/passwd" } };
    expect(await fetchCalendar(feedUrl, { config: { demo: false, inside: ["127.0.0.1"] } })).toEqual({
      trouble: expect.stringContaining("http"),
    });
    const silent = createServer(() => {});
    await new Promise<void>((resolve) => silent.listen(0, "127.0.0.1", resolve));
    const url = `http://127.0.0.1:${(silent.address() as AddressInfo).port}/`;
    expect(await fetchCalendar(url, { config: { demo: false, inside: ["*"] }, patience: 200 })).toEqual({
      trouble: expect.stringContaining("in time"),
    });
    silent.closeAllConnections();
    silent.close();
  });

  it("a move by the visitor is looked at against it, and the call's own time counts as free", async () => {
    const free = times();
    const booked = book(free[4] as number, signLink("booking", "1", world.app.key));
    if (!booked.ok) throw new Error("not booked");
    answer = { status: 200, body: ics([free[6] as number, (free[6] as number) + HOUR / 2]) };
    await addCalendar(world.app, 1, { name: "Work", url: feedUrl });
    expect(moveMeeting(world.app, booked.value.meeting ?? "", { start: free[6] }).ok).toBe(false);
    expect(moveMeeting(world.app, booked.value.meeting ?? "", { start: free[8] }).ok).toBe(true);
    expect(times()).toContain(free[4]);
    expect(times()).not.toContain(free[8]);
  });
});

describe("several pages, and a team that takes turns", () => {
  it("the calls go round to whoever has the fewest, and the page is open while anybody is free", async () => {
    await createUser(world.app, {
      name: "Rui Abrantes",
      email: "rui@quillwater.example",
      password: "salt-and-paper",
      zone: "Europe/Lisbon",
    });
    const saved = saveBookingPage(world.app, user(), null, {
      name: "Team",
      slug: "team-call",
      hostIds: [1, 2],
      questions: [{ text: "How many rooms?", required: true }],
    });
    expect(saved.ok).toBe(true);
    expect(bookingPages(world.app, user())).toHaveLength(2);
    const page = () => bookingPage(world.app, "team-call", null, { isWritten: true });
    const [one = 0, two = 0] = page().times;
    const at = (start: number, more: Record<string, unknown> = {}) =>
      bookMeeting(world.app, "team-call", signLink("booking", "1", world.app.key), {
        ...visitor,
        start,
        question0: "Three",
        ...more,
      });
    expect(at(one, { question0: "" })).toMatchObject({ errors: { question0: expect.any(String) } });
    expect([at(one).ok, at(one).ok, at(one).ok]).toEqual([true, true, false]);
    expect(page().times).not.toContain(one);
    expect(at(two).ok).toBe(true);
    expect(rows(world, "SELECT user_id AS id, count(*) AS n FROM meetings GROUP BY user_id")).toEqual([
      { id: 1, n: 2 },
      { id: 2, n: 1 },
    ]);
    expect(rows<{ answers: string }>(world, "SELECT answers FROM meetings")[0]?.answers).toContain("Three");
    expect(
      saveBookingPage(world.app, user(), null, { name: "Again", slug: "team-call", hostIds: [1] }),
    ).toMatchObject({
      errors: { slug: expect.stringContaining("taken") },
    });
  });

  it("an answer offers three times on different days, at civil hours of theirs, and the link that knows them", () => {
    world.app.db.exec("UPDATE prospects SET time_zone = 'America/New_York' WHERE id = 1");
    const { link, times: text } = offerTimes(world.app, user(), 1);
    expect(text.match(/^– /gm)).toHaveLength(3);
    expect(new Set(text.match(/– \w+day \d+/g)).size).toBe(3);
    for (const [, hour] of text.matchAll(/, (\d\d):\d\d$/gm)) expect(Number(hour)).toBeGreaterThanOrEqual(8);
    expect(text).toContain("New York time");
    expect(link).toContain(`/book/${slug()}?p=`);
  });

  it("the times that a letter asks for come first, where they are and in its language", () => {
    world.app.db.exec("UPDATE prospects SET time_zone = 'Europe/Berlin', country = 'DE' WHERE id = 1");
    const at = world.app.clock.now();
    const said = offerTimes(world.app, user(), 1, {
      at,
      text: "Guten Tag, Donnerstagnachmittag passt mir gut.",
    });
    const [first = ""] = said.times.match(/^– .*$/m) ?? [];
    expect(first).toMatch(/^– Donnerstag, \d+\. \p{L}+, 1[2-7]:\d\d Uhr$/u);
    expect(said.times).toContain("Passt Ihnen einer dieser Termine (Zeit in Berlin)?");
    expect(said.inEnglish).toMatch(/– Thursday \d+ \p{L}+, 1[2-7]:/u);
    const night = offerTimes(world.app, user(), 1, { at, text: "Can we talk on Thursday at 23:00?" });
    expect(night.times).toMatch(/^At the time that you name I am taken/);
  });
});

describe("the mail of a meeting", () => {
  it("invites, tells of a move and a cancellation by one entry that replaces itself, and hears the answer", async () => {
    const engine = new Engine(world.app);
    await addMailbox(world, "marta@quillwater.example");
    const token = signLink("booking", "1", world.app.key);
    const free = times();
    const booked = book(free[3] as number, token);
    if (!booked.ok) throw new Error("not booked");
    const meeting = booked.value.meeting ?? "";
    await engine.tick();
    const mails = () =>
      rows<{ kind: string; method: string; calendar: string; state: string; due: number }>(
        world,
        "SELECT kind, method, calendar, state, due_at AS due FROM service_mails ORDER BY id",
      );
    expect(mails()[0]).toMatchObject({ kind: "invitation", method: "REQUEST", state: "sent" });
    expect(mails()[0]?.calendar).toMatch(new RegExp(`UID:${meeting}@saudade[\\s\\S]*SEQUENCE:0`));
    expect(
      (await world.deliveries()).map(({ recipient, subject }) => `${recipient} ${subject.slice(0, 8)}`),
    ).toEqual(["ana@ana-museum.example Our call"]);
    await world.tell("/deliver", {
      mailbox: "marta@quillwater.example",
      raw: `From: Ana <ana@ana-museum.example>\r\nTo: marta@quillwater.example\r\nMessage-ID: <yes@ana>\r\nSubject: Accepted\r\nContent-Type: text/calendar; method=REPLY; charset=utf-8\r\n\r\nBEGIN:VCALENDAR\r\nMETHOD:REPLY\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:${meeting}@saudade\r\nDTSTART:${stamp(free[3] as number)}\r\nATTENDEE;PARTSTAT=ACCEPTED:mailto:ana@ana-museum.example\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`,
    });
    await engine.tick();
    expect(rows(world, "SELECT attendance FROM meetings")).toEqual([{ attendance: "accepted" }]);
    expect(rows(world, "SELECT 1 FROM replies")).toEqual([]);
    moveMeeting(world.app, meeting, { start: free[9] });
    expect(rows(world, "SELECT attendance FROM meetings")).toEqual([{ attendance: "open" }]);
    cancelMeeting(world.app, meeting);
    await engine.tick();
    expect(
      mails()
        .filter(({ kind }) => kind === "invitation")
        .map(({ method, state }) => `${method} ${state}`),
    ).toEqual([
      "REQUEST sent",
      // The move was overtaken before it went.
      "REQUEST dropped",
      "CANCEL sent",
    ]);
    expect(mails().every(({ kind, state }) => kind !== "meeting_reminder" || state === "dropped")).toBe(true);
    await engine.close();
  });

  it("the rep's own feed has the calls; whether one took place is noted once, and asks for what comes next", () => {
    const token = signLink("booking", "1", world.app.key);
    const booked = book(times()[3] as number, token);
    if (!booked.ok) throw new Error("not booked");
    const file = calendarFeed(
      world.app,
      feedLink(world.app, 1)
        .split("/")
        .at(-1)
        ?.replace(/\.ics$/, "") ?? "",
    );
    expect(file).toContain(`UID:${booked.value.meeting}@saudade`);
    expect(() => calendarFeed(world.app, "forged.token")).toThrow();
    expect(
      noteMeeting(world.app, 1, { token: booked.value.meeting, how: "held", note: "Wants ten." }).ok,
    ).toBe(true);
    expect(noteMeeting(world.app, 1, { token: booked.value.meeting, how: "missed" }).ok).toBe(false);
    expect(rows(world, "SELECT kind FROM reminders")).toEqual([{ kind: "thanks" }]);
    expect(rows(world, "SELECT text FROM notes")).toEqual([{ text: "Wants ten." }]);
  });

  it("a booking is told to its owner once: in the app, and by one mail outside the quiet hours", async () => {
    await addMailbox(world, "marta@quillwater.example");
    world.app.db.exec("UPDATE prospects SET owner_id = 1");
    book(times()[3] as number, signLink("booking", "1", world.app.key));
    expect(writeNotices(world.app)).toBeGreaterThan(0);
    writeNotices(world.app);
    expect(ownNotices(world.app, 1).filter(({ kind }) => kind === "booking")).toMatchObject([
      { text: "ana, ana museum booked a call.", seen: false },
    ]);
    expect(mailNotices(world.app)).toBe(1);
    expect(mailNotices(world.app)).toBe(0);
    expect(rows(world, "SELECT recipient, subject FROM service_mails WHERE kind = 'notice'")).toEqual([
      { recipient: "marta@quillwater.example", subject: "ana, ana museum booked a call." },
    ]);
    expect(
      saveNoticeSettings(world.app, 1, { ways: { booking: { app: false, browser: false, mail: "no" } } }).ok,
    ).toBe(true);
    book(times()[9] as number, signLink("booking", "2", world.app.key));
    writeNotices(world.app);
    expect(ownNotices(world.app, 1).filter(({ kind }) => kind === "booking")).toHaveLength(1);
  });
});
