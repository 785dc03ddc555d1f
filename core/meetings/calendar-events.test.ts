import { describe, expect, it } from "vitest";
import { busyTimes, invitationAnswer } from "./calendar-events.ts";

const JUNE = { from: Date.parse("2026-06-01T00:00Z"), to: Date.parse("2026-07-01T00:00Z") };
const calendar = (...lines: string[]) =>
  ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:test", ...lines, "END:VCALENDAR"].join("\r\n");
const event = (...lines: string[]) => ["BEGIN:VEVENT", "UID:1", ...lines, "END:VEVENT"];
const read = (text: string) => {
  const { busy, ...rest } = busyTimes(text, JUNE, "Europe/Lisbon");
  return {
    ...rest,
    busy: busy.map(({ startsAt, endsAt }) => [
      new Date(startsAt).toISOString(),
      (endsAt - startsAt) / 60_000,
    ]),
  };
};

describe("busy times", () => {
  it("are those of single events, in UTC, in a zone, floating, and of whole days", () => {
    expect(read(calendar(...event("DTSTART:20260609T100000Z", "DTEND:20260609T110000Z"))).busy).toEqual([
      ["2026-06-09T10:00:00.000Z", 60],
    ]);
    const zoned = event("DTSTART;TZID=America/New_York:20260609T090000", "DURATION:PT45M");
    expect(read(calendar(...zoned)).busy).toEqual([["2026-06-09T13:00:00.000Z", 45]]);
    expect(read(calendar(...event("DTSTART:20260609T090000", "DTEND:20260609T093000"))).busy).toEqual([
      ["2026-06-09T08:00:00.000Z", 30],
    ]);
    expect(read(calendar(...event("DTSTART;VALUE=DATE:20260610"))).busy).toEqual([
      ["2026-06-09T23:00:00.000Z", 24 * 60],
    ]);
  });

  it("recur, but for what was left out and moved, and keep their local hour when the clocks change", () => {
    const weekly = calendar(
      ...event(
        "DTSTART;TZID=America/New_York:20260302T090000",
        "DTEND;TZID=America/New_York:20260302T100000",
        "RRULE:FREQ=WEEKLY;BYDAY=MO",
        "EXDATE;TZID=America/New_York:20260608T090000",
      ),
      ...event(
        "RECURRENCE-ID;TZID=America/New_York:20260615T090000",
        "DTSTART;TZID=America/New_York:20260616T150000",
        "DTEND;TZID=America/New_York:20260616T160000",
      ),
    );
    expect(
      read(weekly)
        .busy.map(([at]) => at)
        .toSorted(),
    ).toEqual([
      "2026-06-01T13:00:00.000Z",
      "2026-06-16T19:00:00.000Z",
      "2026-06-22T13:00:00.000Z",
      "2026-06-29T13:00:00.000Z",
    ]);
  });

  it("leave out what is free or cancelled", () => {
    for (const line of ["TRANSP:TRANSPARENT", "STATUS:CANCELLED"])
      expect(
        read(calendar(...event("DTSTART:20260609T100000Z", "DTEND:20260609T110000Z", line))).busy,
      ).toEqual([]);
  });

  it("are read as far as they can be: broken zones, broken events, rules without an end", () => {
    const good = ["DTSTART:20260609T100000Z", "DTEND:20260609T110000Z"];
    const nowhere = event(
      "DTSTART;TZID=Nowhere/Land:20260609T090000",
      "DTEND;TZID=Nowhere/Land:20260609T100000",
    );
    expect(read(calendar(...nowhere)).busy).toEqual([["2026-06-09T08:00:00.000Z", 60]]);
    expect(read(calendar(...event("DTSTART:garbage"), ...event(...good)))).toMatchObject({
      unreadable: 1,
      busy: [[expect.any(String), 60]],
    });
    expect(
      read(
        `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nthis is no line\r\nEND:VEVENT\r\n${event(...good).join("\r\n")}`,
      ),
    ).toMatchObject({
      unreadable: 1,
      busy: [[expect.any(String), 60]],
    });
    const bySecond = event("DTSTART:20200101T000000Z", "DTEND:20200101T000001Z", "RRULE:FREQ=SECONDLY");
    expect(read(calendar(...bySecond))).toMatchObject({ unreadable: 1, busy: [] });
    const since1990 = event("DTSTART:19900101T090000Z", "DURATION:PT1H", "RRULE:FREQ=DAILY");
    expect(read(calendar(...since1990)).busy).toHaveLength(30);
    expect(read("<html>no calendar</html>")).toEqual({ busy: [], events: 0, unreadable: 0 });
  });
});

it("an invitee's answer says what it says, and nothing else is one", () => {
  const reply = calendar(
    "METHOD:REPLY",
    ...[
      "BEGIN:VEVENT",
      "UID:abc@saudade",
      "DTSTART:20260609T100000Z",
      "ATTENDEE;PARTSTAT=DECLINED:mailto:Ana@kai.example",
      "END:VEVENT",
    ],
  );
  expect(invitationAnswer(reply)).toEqual({
    uid: "abc@saudade",
    attendee: "ana@kai.example",
    says: "declined",
  });
  expect(invitationAnswer(reply.replace("REPLY", "REQUEST"))).toBeNull();
  expect(invitationAnswer("")).toBeNull();
});
