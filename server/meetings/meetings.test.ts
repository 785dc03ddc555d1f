import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { eraseProspect } from "../prospects/people/erase-prospect.ts";
import { signLink } from "../secrets.ts";
import { addJourney, addPeople, addSequence, createWorld, rows, type World } from "../tests/world.ts";
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
    const file = calendarFile(world.app, booked.value);
    expect(file).toContain(`DTSTART:${new Date(start).toISOString().replace(/[-:]|\.000/g, "")}`);
    expect(file.split(/\r\n/).length).toBeGreaterThan(10);
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
