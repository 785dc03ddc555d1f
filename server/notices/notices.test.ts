/** Who is told what of that which happened, once, and by which way. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import type { EventKind } from "../../core/events.ts";
import { NOTICE_KINDS, noticeSettingsSchema } from "../../core/notices/notices.ts";
import type { App, AppTx } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { recordEvent } from "../db/events.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, inCopyOf, TUESDAY } from "../tests/world.ts";
import { noteSeen, ownNotices, saveNoticeSettings } from "./own-notices.ts";
import { mailNotices, nextNoticeMailAt, writeNotices } from "./write-notices.ts";

let image: Buffer;

/** Ana, whom Marta writes to, and who wants to hear of everything. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { app, userId } = world;
  startSequence(app, userId, addSequence(world, addPeople(world, ["ana"]), [addUnasked(world)]));
  const all = { app: true, browser: true, mail: "once" };
  saveNoticeSettings(app, userId, {
    ways: Object.fromEntries(NOTICE_KINDS.map((kind) => [kind, all])),
    quietFrom: "00:00",
    quietUntil: "00:00",
  });
  writeNotices(app);
  app.db.exec("DELETE FROM notices");
  image = app.db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
const happened = (
  app: App,
  kind: EventKind,
  more: { detail?: string; replyId?: number; prospectId?: number } = {},
) => recordEvent(app.db, { at: TUESDAY, kind, prospectId: 1, journeyId: 1, mailboxId: 1, ...more });
const texts = (app: App) => ownNotices(app, 1).map(({ kind, text }) => `${kind}: ${text}`);

describe("of what people do", () => {
  const TOLD: [kind: EventKind, detail: string | undefined, told: string[]][] = [
    ["replied", undefined, ["reply: ana, ana museum wrote back."]],
    ["booked", "7", ["booking: ana, ana museum booked a call."]],
    ["booking_moved", "7", ["booking: ana, ana museum moved the call."]],
    ["booking_cancelled", "7", ["booking: ana, ana museum cancelled the call."]],
    ["clicked", "https://q.example", ["click: ana, ana museum clicked a link."]],
    ["stage_set", "meeting_booked", ["stage: ana, ana museum is now: meeting booked."]],
    ["labelled", "Interested", ["interested: ana, ana museum is interested."]],
    ["labelled", "Not now", []],
    ["opened", undefined, []],
    ["bounced", "full", []],
  ];
  for (const [kind, detail, told] of TOLD)
    it(`${kind}${detail ? ` (${detail})` : ""}: ${told[0] ?? "nothing"}`, () => {
      inCopy((app) => {
        happened(app, kind, detail === undefined ? {} : { detail });
        expect(writeNotices(app)).toBe(told.length);
        expect(texts(app)).toEqual(told);
        expect(writeNotices(app)).toBe(0);
      });
    });

  it("a letter that surely says yes is told as that, too, and once, also when the rep says so afterwards", () => {
    inCopy((app) => {
      app.db.exec(`INSERT INTO replies (id, mailbox_id, message_id, prospect_id, kind, certainty, from_address, from_name, subject, text, at, reading)
        VALUES (5, 1, '<r@x>', 1, 'person', 'sure', 'a@b.example', 'Ana', 'Re', 'Yes', 1, '{"sure":1,"label":"interested"}')`);
      happened(app, "replied", { replyId: 5 });
      happened(app, "labelled", { replyId: 5, detail: "Interested" });
      writeNotices(app);
      expect(texts(app).toSorted()).toEqual([
        "interested: ana, ana museum seems interested.",
        "reply: ana, ana museum wrote back.",
      ]);
    });
  });

  it("nothing of somebody who was erased, or of nobody", () => {
    inCopy((app) => {
      app.db.exec("UPDATE prospects SET erased_at = 1, first_name = '', email = NULL");
      happened(app, "replied");
      recordEvent(app.db, { at: TUESDAY, kind: "booked", mailboxId: 1 });
      expect(writeNotices(app)).toBe(0);
    });
  });

  it("the person's owner is told before the mailbox's; somebody who left the team is not", () => {
    inCopy((app) => {
      app.db.exec(`INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at)
        VALUES (2, 'rui@q.example', 'Rui', 'x', 'UTC', 'rui', 0); UPDATE prospects SET owner_id = 2`);
      happened(app, "replied");
      writeNotices(app);
      expect([ownNotices(app, 1), ownNotices(app, 2).length]).toEqual([[], 1]);
      app.db.exec("UPDATE users SET removed_at = 1 WHERE id = 2");
      happened(app, "replied");
      expect(writeNotices(app)).toBe(0);
    });
  });
});

describe("of what is due, or in trouble", () => {
  it("own touches and reminders, counted once a day", () => {
    inCopy((app) => {
      app.db.exec(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, user_id, state, due_at)
          VALUES ('call', 1, 'ring', 1, 1, 'open', ${TUESDAY - HOUR}), ('call', 1, 'old', 1, 1, 'open', ${TUESDAY - 2 * DAY});
        INSERT INTO reminders (user_id, prospect_id, kind, text, due_at, at) VALUES (1, 1, 'reminder', 'See', ${TUESDAY}, 0)`);
      writeNotices(app);
      expect(texts(app)).toEqual(["task: 2 touches of your own are due."]);
      expect(writeNotices(app)).toBe(0);
      setDemoClock(app.db, TUESDAY + 23 * HOUR, false);
      writeNotices(app);
      expect(texts(app)[0]).toBe("task: One touch of your own is due.");
    });
  });

  it("a mailbox that rests or cannot be reached, and a sequence that is through", () => {
    inCopy((app) => {
      app.db.exec("UPDATE mailboxes SET state = 'resting', rest_until = 9");
      writeNotices(app);
      app.db.exec("UPDATE mailboxes SET state = 'active', trouble = 'The password is wrong.'");
      writeNotices(app);
      app.db.exec(
        "UPDATE mailboxes SET trouble = NULL; UPDATE journeys SET state = 'finished', ended_at = 1",
      );
      writeNotices(app);
      expect(writeNotices(app)).toBe(0);
      expect(texts(app)).toEqual([
        "finished: “Loans” is through for everybody on it.",
        "mailbox: marta@quillwater.example: The password is wrong.",
        "mailbox: marta@quillwater.example rests.",
      ]);
    });
  });
});

describe("the way", () => {
  it("one letter for all that is due by mail, with the way to each, and never a second", () => {
    inCopy((app) => {
      happened(app, "booked");
      happened(app, "clicked", { detail: "x" });
      writeNotices(app);
      expect(mailNotices(app)).toBe(1);
      expect(mailNotices(app)).toBe(0);
      const [mail] = app.db.prepare("SELECT recipient, subject, body FROM service_mails").all();
      expect(mail).toEqual({
        recipient: "marta@quillwater.example",
        subject: "2 things happened",
        body: "ana, ana museum booked a call.\nhttps://outreach.quillwater.example/prospects/1\n\nana, ana museum clicked a link.\nhttps://outreach.quillwater.example/prospects/1",
      });
    });
  });

  it("from no mailbox that is paused, rests or has a trouble: then it waits", () => {
    for (const trouble of [
      "state = 'paused'",
      "state = 'resting'",
      "smtp_trouble = 'no answer'",
      "removed_at = 1",
    ])
      inCopy((app) => {
        happened(app, "booked");
        writeNotices(app);
        app.db.exec(`UPDATE mailboxes SET ${trouble}`);
        expect([trouble, mailNotices(app)]).toEqual([trouble, 0]);
        app.db.exec("UPDATE mailboxes SET state = 'active', smtp_trouble = NULL, removed_at = NULL");
        expect(mailNotices(app)).toBe(1);
      });
  });

  it("a summary goes at its hour, and what nobody asked for goes nowhere", () => {
    inCopy((app) => {
      const ways = noticeSettingsSchema.parse({}).ways;
      const no = { app: false, browser: false, mail: "no" };
      saveNoticeSettings(app, 1, {
        ways: { ...ways, booking: { ...no, mail: "summary" }, click: no },
        summaryAt: "17:00",
      });
      happened(app, "booked");
      happened(app, "clicked", { detail: "x" });
      expect(writeNotices(app)).toBe(1);
      expect(ownNotices(app, 1)).toEqual([]);
      expect(mailNotices(app)).toBe(0);
      expect(nextNoticeMailAt(app.db, TUESDAY)).toBe(Date.parse("2026-06-09T17:00:00+01:00"));
    });
  });

  it("whoever looked has seen them all", () => {
    inCopy((app) => {
      happened(app, "booked");
      writeNotices(app);
      expect(ownNotices(app, 1).map(({ seen, inBrowser }) => [seen, inBrowser])).toEqual([[false, true]]);
      noteSeen(app, 1);
      expect(ownNotices(app, 1).map(({ seen }) => seen)).toEqual([true]);
    });
  });
});
