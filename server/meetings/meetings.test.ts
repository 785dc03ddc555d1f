import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { setDemoClock } from "../clock.ts";
import { enterTouch, releaseClaim, settleSent, type Touch, touchById } from "../db/ledger.ts";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { eraseProspect } from "../prospects/privacy/erase-prospect.ts";
import { signLink } from "../secrets.ts";
import {
  addJourney,
  addPeople,
  addSequence,
  createWorld,
  rows,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { confirmBooking, KEPT_FOR, toConfirm } from "./ask-booking.ts";
import { bookMeeting } from "./book-meeting.ts";
import { bookingPage } from "./booking-page.ts";
import { calendarFile } from "./calendar-file.ts";

let world: World;
let slug: string;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana"]);
  slug = rows<{ slug: string }>(world, "SELECT booking_slug AS slug FROM users")[0]?.slug ?? "";
});
afterEach(() => world.close());
const visitor = {
  name: "Ana",
  email: "ana@ana-museum.example",
  zone: "America/Lima",
  phone: "+351 210 000 000",
};

/** A host's mailbox, by which confirmations go. */
const withMailbox = () =>
  world.app.db.exec(
    `INSERT INTO mailboxes (user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security,
       username, password_sealed, daily_limit, gap_least, gap_most, created_at)
     VALUES (1, 'marta@quillwater.example', 'Marta', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 30, 9, 14, 0)`,
  );
const mails = () =>
  rows<{ recipient: string; body: string }>(world, "SELECT recipient, body FROM service_mails ORDER BY id");
const linkOf = (body = "") => body.match(/\/confirm\/(\S+)/)?.[1] ?? "";

describe("a stranger's booking", () => {
  const stranger = { ...visitor, name: "BUY NOW http://spam.example", email: "who@ever.example" };
  const book = (start: number | undefined, email = stranger.email, caller = "192.0.2.1") =>
    bookMeeting(world.app, slug, null, { ...stranger, email, start }, caller);
  const times = () => bookingPage(world.app, slug, null).times;

  it("sends the typed address one mail with a link, none of the visitor's words in it, and books nothing yet", () => {
    withMailbox();
    const start = times()[20] ?? 0;
    expect(book(start)).toMatchObject({ ok: true, value: { meeting: null, keptUntil: expect.any(Number) } });
    expect(rows(world, "SELECT 1 FROM meetings")).toEqual([]);
    expect(mails().map(({ recipient }) => recipient)).toEqual(["who@ever.example"]);
    expect(mails()[0]?.body).not.toMatch(/BUY NOW|spam/);
    // Kept for a quarter of an hour, then free again.
    expect(times()).not.toContain(start);
    setDemoClock(world.app.db, TUESDAY + KEPT_FOR + 1, false);
    expect(times()).toContain(start);
  });

  it("is booked by the link, once; a look books nothing, and a changed link opens nothing", () => {
    withMailbox();
    const [start = 0] = times();
    book(start);
    const link = linkOf(mails()[0]?.body);
    expect(toConfirm(world.app, link)).toMatchObject({ startsAt: start, booked: null });
    expect(rows(world, "SELECT 1 FROM meetings")).toEqual([]);
    const booked = confirmBooking(world.app, link);
    expect(confirmBooking(world.app, link)).toEqual(booked);
    expect(rows(world, "SELECT starts_at AS start, email, prospect_id AS prospect FROM meetings")).toEqual([
      { start, email: "who@ever.example", prospect: null },
    ]);
    expect(() => confirmBooking(world.app, `${link}x`)).toThrow("not complete");
    // Late, where somebody else has the time by now.
    book(times()[0]);
    const late = linkOf(mails().at(-1)?.body);
    setDemoClock(world.app.db, TUESDAY + KEPT_FOR + 1, false);
    book(times()[0], "else@where.example");
    expect(confirmBooking(world.app, late).ok).toBe(false);
  });

  it("is limited by address, caller and page: nobody is sent more than a few mails, however often it is pressed", () => {
    withMailbox();
    const free = times();
    for (let nth = 0; nth < 39; nth++) book(free[nth], "victim@home.example", `192.0.2.${nth}`);
    expect(mails()).toHaveLength(3);
    for (let nth = 0; nth < 39; nth++) book(free[40 + nth], `victim${nth}@home.example`, "192.0.2.200");
    expect(mails()).toHaveLength(9);
    expect(book(free[90], "late@home.example", "192.0.2.200")).toMatchObject({
      errors: { form: expect.stringContaining("in an hour") },
    });
  });

  it("has no times where no mailbox sends the link; whoever has theirs from an email books", () => {
    const token = signLink("booking", "1", world.app.key);
    const [start] = bookingPage(world.app, slug, token).times;
    expect(times()).toEqual([]);
    expect(book(start)).toMatchObject({ ok: false, errors: { start: expect.any(String) } });
    expect(bookMeeting(world.app, slug, token, { ...visitor, start })).toMatchObject({ ok: true });
  });

  it("to an address that wants no mail sends none, and says the same", () => {
    withMailbox();
    world.app.db.exec(
      "INSERT INTO block_list (kind, value, reason, at) VALUES ('address', 'who@ever.example', 'opted_out', 0)",
    );
    expect(book(times()[0])).toMatchObject({ ok: true });
    expect(mails()).toEqual([]);
  });
});

describe("a booking", () => {
  it("takes a free half-hour once, knows the prospect by the link, and answers with an iCalendar file", () => {
    const token = signLink("booking", "1", world.app.key);
    const page = bookingPage(world.app, slug, token);
    expect(page.visitor).toMatchObject({ name: "ana", email: "ana@ana-museum.example" });
    const start = page.times[5] as number;
    const booked = bookMeeting(world.app, slug, token, {
      ...visitor,
      email: "elsewhere@home.example",
      start,
    });
    if (!booked.ok) throw new Error(JSON.stringify(booked.errors));
    expect(rows(world, "SELECT prospect_id, visitor_zone FROM meetings")).toEqual([
      { prospect_id: 1, visitor_zone: "America/Lima" },
    ]);
    expect(rows(world, "SELECT stage FROM prospects")).toEqual([{ stage: "meeting_booked" }]);
    expect(bookMeeting(world.app, slug, token, { ...visitor, start })).toMatchObject({
      errors: { start: expect.stringContaining("Choose another") },
    });
    const file = calendarFile(world.app, booked.value.meeting ?? "");
    expect(file).toContain(`DTSTART:${new Date(start).toISOString().replace(/[-:]|\.000/g, "")}`);
    expect(file.split(/\r\n/).length).toBeGreaterThan(10);
  });

  it.each([
    ["the email whose sending is open where no other went to them, which then has arrived", false],
    ["the one that they have, and not to one on its way", true],
  ])("is put down to %s", (_, hasEarlier) => {
    const { db } = world.app;
    withMailbox();
    const claim = () => {
      const id = enterTouch(db, {
        ...{ kind: "answer", journeyId: null, stepId: null, version: null, prospectId: 1, mailboxId: 1 },
        ...{
          recipient: visitor.email,
          state: "claimed",
          messageId: `<${Math.random()}@q.example>`,
          inReplyTo: null,
        },
        ...{ references: "", subject: "", body: "", markup: null, claimedAt: 1, claimedWall: 1 },
      });
      return touchById(db, id as number) as Touch;
    };
    const earlier = claim();
    if (hasEarlier) settleSent(db, earlier, 1, "250 ok");
    const onItsWay = hasEarlier ? claim() : earlier;
    const token = signLink("booking", "1", world.app.key);
    const [start] = bookingPage(world.app, slug, token).times;
    expect(bookMeeting(world.app, slug, token, { ...visitor, start }).ok).toBe(true);
    releaseClaim(db, onItsWay);
    expect(rows(world, "SELECT touch_id AS id FROM events WHERE kind = 'booked'")).toEqual([
      { id: earlier.id },
    ]);
    expect(touchById(db, onItsWay.id)?.state).toBe(hasEarlier ? "queued" : "claimed");
  });

  it("by the link of an entry that was merged stops the one that remains; an erased person's link knows nobody", () => {
    addPeople(world, ["bia", "caio"]);
    addJourney(world, addSequence(world, 1, []), 2);
    mergeProspects(world.app, { keepId: 2, goneId: 1 }, world.userId);
    const [ofAna, ofCaio] = [1, 3].map((id) => signLink("booking", String(id), world.app.key)) as [
      string,
      string,
    ];
    const start = bookingPage(world.app, slug, ofAna).times[0];
    expect(bookMeeting(world.app, slug, ofAna, { ...visitor, start }).ok).toBe(true);
    expect(rows(world, "SELECT prospect_id, state, stop_reason FROM journeys")).toEqual([
      { prospect_id: 2, state: "stopped", stop_reason: "booked" },
    ]);
    eraseProspect(world.app, null, { id: 3, name: "caio" });
    expect(bookingPage(world.app, slug, ofCaio).visitor).toBeNull();
  });

  it("is refused for a time outside working time, or an incomplete form", () => {
    const at = bookingPage(world.app, slug, null).times[0] as number;
    expect(bookMeeting(world.app, slug, null, { ...visitor, start: at + 60_000 }).ok).toBe(false);
    expect(bookMeeting(world.app, slug, null, { start: at, name: "", email: "x" })).toMatchObject({
      errors: { name: expect.any(String), email: expect.any(String) },
    });
  });
});
