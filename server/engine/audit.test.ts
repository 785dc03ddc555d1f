/** Weeks of sending under every rule at once, with faults in between, judged by what the mail servers received. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { isPublicHoliday } from "../../core/holidays.ts";
import { removeMailbox } from "../sending/mailboxes/save-mailbox.ts";
import { saveSendingSettings } from "../sending/rules.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { audit } from "../tests/auditor.ts";
import { Weeks } from "../tests/weeks.ts";
import {
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  rows,
  type Standin,
  startStandin,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { advance } from "./advance.ts";
import { Engine } from "./tick.ts";

const ZONES = [
  ["Europe/Lisbon", "PT"],
  ["America/New_York", "US"],
  ["Asia/Tokyo", "JP"],
] as const;
const PEOPLE = 36;
const STEPS = ["Loans at", "Loans at", "Shall I close this?"];
const RULES = {
  days: [1, 2, 3, 4, 5],
  opens: "08:30",
  closes: "17:00",
  newADay: 7,
  perHour: 5,
  domainADay: 2,
  daysBetween: 1,
};

let standin: Standin;
let world: World;
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());

it.each(["plain", "with faults"])(
  "weeks under every rule at once, %s, and nothing is wrong",
  async (kind) => {
    world = await createWorld({ standin, env: { SAUDADE_SETTLE: "0.3" } });
    const limits = { dailyLimit: 6, gapLeast: 5, gapMost: 9 };
    const boxes = [
      { ...limits, hourlyLimit: 2, ramp: null },
      { ...limits, hourlyLimit: null, ramp: { start: 1, step: 1 } },
      { ...limits, dailyLimit: 4, hourlyLimit: null, ramp: null },
    ];
    const addresses = boxes.map((_, nth) => `box${nth}@quillwater.example`);
    const ids: number[] = [];
    for (const [nth, { ramp, ...box }] of boxes.entries())
      ids.push(
        await addMailbox(world, addresses[nth] as string, {
          ...box,
          rampStart: ramp?.start,
          rampStep: ramp?.step ?? 2,
        }),
      );
    saveSendingSettings(world.app, null, {
      followUpPercent: 60,
      domainADay: RULES.domainADay,
      daysBetween: RULES.daysBetween,
    });
    const names = Array.from({ length: PEOPLE }, (_, nth) => `p${nth}`);
    const list = addPeople(world, names);
    for (const [nth, name] of names.entries()) {
      const [zone, country] = ZONES[nth % ZONES.length] as (typeof ZONES)[number];
      // Some work at the same house, so that the cap by domain binds.
      const host = nth < 9 ? "big-house.example" : `${name}-museum.example`;
      world.app.db.exec(
        `UPDATE prospects SET time_zone = '${zone}', country = '${country}', email = '${name}@${host}' WHERE first_name = '${name}'`,
      );
    }
    const sequence = addSequence(world, list, ids, {
      settings: {
        holidays: true,
        holdsCompany: false,
        newADay: RULES.newADay,
        perHour: RULES.perHour,
        awayDays: 0,
      },
    });
    expect(startSequence(world.app, world.userId, sequence).ok).toBe(true);
    const weeks = new Weeks(world, ids, kind);
    for (let now = TUESDAY; now < TUESDAY + 14 * DAY; ) {
      now += weeks.between(8 * HOUR, 24 * HOUR);
      await weeks.until(now);
      if (kind === "with faults") await weeks.somethingGoesWrong();
    }
    weeks.allMailboxesGo();
    await weeks.until(TUESDAY + 50 * DAY);

    const people = rows<{ email: string; zone: string; country: string; name: string }>(
      world,
      "SELECT email, time_zone AS zone, country, company AS name FROM prospects",
    );
    const stoppedAt = weeks.stoppedAt();
    const wrong = audit(
      // What the team is told by mail goes outside every limit.
      (await world.deliveries()).filter(({ recipient }) => recipient !== world.user.email),
      boxes.map((box, nth) => ({ ...box, address: addresses[nth] as string, zone: "Europe/Lisbon" })),
      people.map(({ email, zone, country, name }) => ({
        address: email,
        zone,
        holidays: Array.from({ length: 60 }, (_, day) =>
          new Date(TUESDAY + day * DAY).toISOString().slice(0, 10),
        ).filter((day) => isPublicHoliday(country, day)),
        stoppedAt: stoppedAt(email),
        steps: STEPS.map((subject) => (subject === "Loans at" ? `Loans at ${name}` : subject)),
      })),
      RULES,
    );
    await weeks.engine.close();
    await world.close();
    expect(wrong).toEqual([]);
  },
  240_000,
);

it("a mailbox removed with mail planned leaves nobody behind: who had no thread there goes on from another", async () => {
  world = await createWorld({ standin });
  const ids = [
    await addMailbox(world, "one@quillwater.example"),
    await addMailbox(world, "two@quillwater.example"),
  ];
  const sequence = addSequence(world, addPeople(world, ["ana", "bia", "caio", "dora"]), ids);
  startSequence(world.app, world.userId, sequence);
  const engine = new Engine(world.app);
  await engine.tick();
  expect(removeMailbox(world.app, world.user, ids[0] as number).ok).toBe(true);
  await advance(engine, { id: 0, kind: "until", until: TUESDAY + DAY }, () => true, false);
  const sent = await world.deliveries();
  expect(new Set(sent.map(({ recipient }) => recipient)).size).toBe(4);
  const waiting = rows<{ reason: string }>(
    world,
    `SELECT DISTINCT wait_reason AS reason FROM journeys WHERE mailbox_id = ${ids[0]} AND state = 'active'`,
  );
  // Whose thread it was waits for it, as the sequence says.
  for (const { reason } of waiting) expect(reason).toBe("no_mailbox");

  world.app.db.exec(
    `UPDATE sequences SET settings = json_set(settings, '$.threadElsewhere', 'new_thread'), revision = revision + 1`,
  );
  await advance(engine, { id: 0, kind: "until", until: TUESDAY + 20 * DAY }, () => true, false);
  const all = await world.deliveries();
  expect(all).toHaveLength(12);
  expect(rows(world, "SELECT DISTINCT state FROM journeys")).toEqual([{ state: "finished" }]);
  await engine.close();
  await world.close();
});
