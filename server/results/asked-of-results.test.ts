/** What is done with results: targets and their outlook, looks that are kept, profiles that are made, drifts that are told, the week by mail. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { profileSchema } from "../../core/prospects/profile.ts";
import type { User } from "../accounts/session.ts";
import type { AppTx } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { apply } from "../consequences/apply.ts";
import { weekNotices } from "../notices/week-notices.ts";
import { mailNotices } from "../notices/write-notices.ts";
import { saveProfile } from "../prospects/searches/profiles.ts";
import { stopForecasting } from "../sending/forecast.ts";
import {
  addJourney,
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  inCopyOf,
  openCopy,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { noteDriftSeen, unseenDrifts } from "../today/drifts.ts";
import { todoList } from "../today/todo-list.ts";
import { besideChoices, besideOf } from "./beside.ts";
import { dropLook, keepLook, keptLooks } from "./kept-looks.ts";
import { loadLines } from "./loads.ts";
import { lookQuery } from "./look.ts";
import { resultsOfList } from "./of-list.ts";
import { profileFromGroup } from "./profile-from-group.ts";
import { senders } from "./senders.ts";
import { setTarget, weekAhead, weekTargets } from "./targets.ts";
import { stopFinding } from "./worth-acting-on.ts";

const ZONE = "Europe/Lisbon";
const PEOPLE = 240;
const MARTA = { id: 1, zone: ZONE, role: "rep" } as User;
const RUI = `INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
  VALUES (2, 'r@q.example', 'Rui', 'x', 'UTC', 'rui', 'rep', 0)`;
let image: Buffer;
let sequenceId: number;

/** Ten weeks of email, twenty-four a week; in each, people in Portugal book far more often than those in Germany. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { app } = world;
  app.db.exec("UPDATE users SET role = 'rep'");
  addUnasked(world);
  const listId = addPeople(
    world,
    Array.from({ length: PEOPLE }, (_, nth) => `p${nth}`),
  );
  app.db.exec("UPDATE prospects SET country = iif(id % 2, 'PT', 'DE')");
  sequenceId = addSequence(world, listId, [1]);
  for (let person = 1; person <= PEOPLE; person++) write(world, person);
  image = app.db.serialize();
  await world.close();
});
afterAll(async () => {
  await stopForecasting();
  await stopFinding();
});

function write(world: World, person: number): void {
  const { app } = world;
  addJourney(world, sequenceId, person);
  const at = TUESDAY - (PEOPLE - person) * 7 * HOUR - DAY;
  app.db.exec(`UPDATE journeys SET started_at = ${at}, mailbox_id = 1 WHERE prospect_id = ${person}`);
  app.db.exec(`INSERT INTO touches (kind, journey_id, step_id, version, variant_id, prospect_id, mailbox_id, state, at, due_at, sent_at, message_id)
    VALUES ('email', ${person}, 'one', 1, 'a', ${person}, 1, 'sent', ${at}, ${at}, ${at}, '<${person}@q.example>')`);
  if (person % 2 === 1 ? person % 10 === 1 : person % 120 === 2)
    apply(
      app.db,
      { kind: "booked", at: at + 2 * DAY },
      { at: at + HOUR, prospectId: person, journeyId: person },
    );
}

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);

describe("targets", () => {
  it("are one's own to set, the team's and others' a manager's", () =>
    inCopy((app) => {
      app.db.exec(RUI);
      expect(setTarget(app, 1, { userId: "1", callsAWeek: "4" }).ok).toBe(true);
      for (const userId of ["", "2"]) expect(setTarget(app, 1, { userId, callsAWeek: "9" }).ok).toBe(false);
      expect(setTarget(app, 1, { userId: "1", callsAWeek: "0" })).toMatchObject({
        errors: { callsAWeek: "At least one; leave it empty for none." },
      });
      app.db.exec("UPDATE users SET role = 'manager' WHERE id = 2");
      expect(setTarget(app, 2, { userId: "", callsAWeek: "9" }).ok).toBe(true);
      expect(setTarget(app, 2, { userId: "1", callsAWeek: "" }).ok).toBe(true);
      expect(app.db.prepare("SELECT user_id, calls_a_week FROM targets").all()).toEqual([
        { user_id: null, calls_a_week: 9 },
      ]);
    }));

  it("stand beside what is booked and what is still to be expected", async () => {
    const app = openCopy(image);
    try {
      setTarget(app, 1, { userId: "1", callsAWeek: "4" });
      const { from, to, lines } = weekTargets(app, 1, ZONE);
      expect([from, to]).toEqual(["2026-06-08", "2026-06-14"]);
      const [team, marta] = lines;
      const booked = app.db
        .prepare(
          "SELECT count(*) AS n FROM journey_outcomes WHERE booked_at >= unixepoch('2026-06-07 23:00') * 1000",
        )
        .get() as { n: number };
      expect(marta).toMatchObject({ name: "Marta Quintela", callsAWeek: 4, booked: booked.n });
      // What its people want together.
      expect(team).toMatchObject({ userId: null, callsAWeek: 4, booked: booked.n });
      const ahead = await weekAhead(app, lines, ZONE);
      expect(Object.keys(ahead).sort()).toEqual(["1", "null"]);
      expect(ahead["1"]?.high).toBeGreaterThanOrEqual(ahead["1"]?.low ?? 0);
      expect(ahead["1"]).toEqual(ahead.null);
    } finally {
      app.close();
    }
  });
});

describe("looks", () => {
  it("are kept with what a look understands, replaced by name, and nobody else's", () =>
    inCopy((app) => {
      app.db.exec(RUI);
      const keep = (name: string, query: string, by = 1) =>
        keepLook(app, by, { name, path: "/results/1", query });
      expect(keep("Spring", "country=PT&since=2026-04-01&evil=1&show=who&until=x").ok).toBe(true);
      expect(keptLooks(app, 1).map(({ address }) => address)).toEqual([
        "/results/1?since=2026-04-01&country=PT&show=who",
      ]);
      keep("Spring", "country=DE");
      expect(keptLooks(app, 1).map(({ name, address }) => [name, address])).toEqual([
        ["Spring", "/results/1?country=DE"],
      ]);
      expect(keptLooks(app, 2)).toEqual([]);
      dropLook(app, 2, keptLooks(app, 1)[0]?.id ?? 0);
      expect(keptLooks(app, 1)).toHaveLength(1);
      expect(keepLook(app, 1, { name: "Out", path: "//elsewhere.example", query: "" }).ok).toBe(false);
      expect(keep(" ", "")).toMatchObject({ errors: { name: "Give the look a name." } });
    }));

  it("stand beside each other with filters of their own", () =>
    inCopy((app) => {
      keepLook(app, 1, { name: "Germany", path: `/results/${sequenceId}`, query: "country=DE" });
      const look = lookQuery.parse({ country: "PT", green: "booked" });
      const [value = ""] =
        besideChoices(app, 1, sequenceId, look, ZONE).find(([, words]) => words === "Germany") ?? [];
      const beside = besideOf(app, 1, sequenceId, look, value, ZONE);
      expect(beside?.results.figures).toMatchObject({ started: 120, booked: 2 });
      expect(besideOf(app, 2, sequenceId, look, value, ZONE)).toBeNull();
    }));
});

describe("a group that differs", () => {
  it("becomes a new version of the profile that found them, which stays as it is", () =>
    inCopy((app) => {
      const definition = { ...profileSchema.parse({}), countries: ["PT", "DE"] };
      saveProfile(app, 1, { id: null, name: "Museums", description: "Museums that lend", definition });
      app.db.exec("UPDATE lists SET profile_id = 1");
      const look = lookQuery.parse({ green: "booked" });
      const make = (value: string) =>
        profileFromGroup(app, 1, sequenceId, { attribute: "country", value }, look, ZONE);
      expect(make("PT").ok).toBe(true);
      expect(
        app.db.prepare("SELECT name, definition ->> '$.countries' AS countries FROM profiles").all(),
      ).toEqual([
        { name: "Museums", countries: '["PT","DE"]' },
        { name: "Museums, Portugal", countries: '["PT"]' },
      ]);
      expect(make("FR")).toMatchObject({ ok: false });
    }));
});

describe("senders", () => {
  it("stand by mailbox, domain and provider", () =>
    inCopy((app) => {
      app.db.exec("UPDATE mailboxes SET provider = 'Quiet Post'");
      const names = (["mailbox", "domain", "provider"] as const).map((by) =>
        senders(app, ZONE, by).map(({ name, made }) => [name, made]),
      );
      const all = names[0]?.[0]?.[1];
      expect(all).toBeGreaterThan(100);
      expect(names).toEqual([
        [["marta@quillwater.example", all]],
        [["quillwater.example", all]],
        [["Quiet Post", all]],
      ]);
    }));

  it("of which one drifts, it is told on Today until its owner has looked", () =>
    inCopy((app) => {
      expect(unseenDrifts(app, MARTA)).toEqual([]);
      // From five weeks ago on, one in three comes back.
      app.db.exec(`INSERT INTO events (at, kind, prospect_id, journey_id, touch_id, mailbox_id)
        SELECT sent_at + 1000, 'bounced', prospect_id, journey_id, id, 1 FROM touches
        WHERE sent_at > ${TUESDAY - 35 * DAY} AND id % 3 = 0`);
      // What was counted for a day is kept with the file.
      const told = inCopyOf(app.db.serialize(), (later) => {
        const items = todoList(later, MARTA).items.filter(({ kind }) => kind === "drift");
        const [drift] = items;
        if (drift?.kind !== "drift") throw new Error("no drift is told");
        expect(noteDriftSeen(later, { ...MARTA, id: 7 }, drift).ok).toBe(false);
        expect(noteDriftSeen(later, MARTA, drift).ok).toBe(true);
        expect(todoList(later, MARTA).items.filter(({ kind }) => kind === "drift")).toEqual([]);
        return drift;
      });
      expect(told).toMatchObject({ mailboxId: 1, of: "bounced" });
    }));
});

describe("on Monday morning", () => {
  it("the week before is told once, with its change and what is worth acting on, and goes by mail after the quiet hours", async () => {
    const app = openCopy(image);
    try {
      const at = (time: string) => setDemoClock(app.db, Date.parse(time), false);
      at("2026-06-14T23:30:00+01:00");
      expect(await weekNotices(app)).toBe(0);
      at("2026-06-15T05:10:00+01:00");
      expect([await weekNotices(app), await weekNotices(app)]).toEqual([1, 0]);
      const [notice] = app.db.prepare("SELECT * FROM notices WHERE kind = 'week'").all() as {
        text: string;
        body: string;
        path: string;
        mail_at: number;
      }[];
      expect(notice?.path).toBe("/results/report?day=2026-06-08");
      expect(notice?.text).toMatch(/^Last week \d+ wants? to talk, \d+ booked a call\.$/);
      expect(notice?.body).toMatch(
        /Mon 8 June to Sun 14 June[\s\S]*Written to for the first time: \d+ \((?:as before|[+−]\d+)\)/,
      );
      expect(notice?.body).toContain("Worth acting on:\n- Loans: ");
      expect(new Date(notice?.mail_at ?? 0).toISOString()).toBe("2026-06-15T06:30:00.000Z");
      at("2026-06-15T08:00:00+01:00");
      expect(mailNotices(app)).toBe(1);
      const mail = app.db.prepare("SELECT subject, body FROM service_mails").get() as {
        subject: string;
        body: string;
      };
      expect(mail.subject).toBe(notice?.text);
      expect(mail.body).toContain("https://outreach.quillwater.example/results/report?day=2026-06-08");
    } finally {
      app.close();
    }
  });
});

const ANY = lookQuery.parse({});

it("loads are counted by whom they are taken for, with their reasons, and a list by its people", () =>
  inCopy((app) => {
    app.db.exec(`INSERT INTO loads (touch_id, kind, at, agent, network, is_head, is_own, trust, because) SELECT t.id, 'opened', 1, 'x', 'n', 0, 0,
      iif(t.id % 3, 'proxy', 'person'), iif(t.id % 3, (t.id % 7) || ' seconds after it was delivered', 'nothing speaks against a person')
      FROM touches t WHERE t.prospect_id <= 30`);
    expect(loadLines(app, 1, sequenceId, ANY, ZONE)).toEqual([
      {
        trust: "proxy",
        opened: 20,
        clicked: 0,
        emails: 20,
        because: ["some seconds after it was delivered"],
      },
      { trust: "person", opened: 10, clicked: 0, emails: 10, because: ["nothing speaks against a person"] },
    ]);
    // As any look, they are narrowed.
    expect(loadLines(app, 1, sequenceId, lookQuery.parse({ country: "ZZ" }), ZONE)).toEqual([]);
    expect(resultsOfList(app, 1, 1)).toMatchObject({ started: PEOPLE, reached: PEOPLE, booked: 26 });
    app.db.exec(`${RUI}; UPDATE sequences SET is_personal = 1`);
    expect(loadLines(app, 2, sequenceId, ANY, ZONE)).toEqual([]);
    expect(resultsOfList(app, 2, 1).started).toBe(0);
  }));
