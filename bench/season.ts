/**
 * A season at size, through the engine and the mail stand-in over SMTP and IMAP, judged by what the stand-in received. The
 * figure is what was done wrong. SEASON_PEOPLE sets how many people there are; SEASON_FAULTS has something go wrong four times a
 * day, otherwise for each of its values.
 */
import { DAY } from "../core/calendar.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { audit } from "../server/tests/auditor.ts";
import { Weeks } from "../server/tests/weeks.ts";
import { addMailbox, addPeople, addSequence, createWorld, rows, TUESDAY } from "../server/tests/world.ts";
import type { Figure } from "./figure.ts";

const PEOPLE = Number(process.env.SEASON_PEOPLE ?? 700);
const FAULTS = process.env.SEASON_FAULTS ?? "";
const MAILBOXES = 15;
const LONGEST = 366 * DAY;
const ZONES = ["Europe/Lisbon", "America/New_York", "Asia/Tokyo"];

export async function benchSeason(): Promise<Figure> {
  const world = await createWorld({ env: { SAUDADE_SETTLE: "0.3" } });
  const mailboxes = Array.from({ length: MAILBOXES }, (_, nth) => ({
    address: `box${nth}@quillwater.example`,
    zone: "Europe/Lisbon",
    dailyLimit: 30,
    gapLeast: 9,
    hourlyLimit: null,
    ramp: nth % 3 === 0 ? { start: 10, step: 2 } : null,
  }));
  const ids: number[] = [];
  for (const { address, dailyLimit, gapLeast, ramp } of mailboxes)
    ids.push(
      await addMailbox(world, address, {
        dailyLimit,
        gapLeast,
        gapMost: gapLeast + 5,
        rampStart: ramp?.start,
        rampStep: ramp?.step ?? 2,
      }),
    );
  const list = addPeople(
    world,
    Array.from({ length: PEOPLE }, (_, nth) => `p${nth}`),
  );
  for (const [nth, zone] of ZONES.entries())
    world.app.db.exec(`UPDATE prospects SET time_zone = '${zone}' WHERE id % ${ZONES.length} = ${nth}`);
  const settings = { holidays: false, holdsCompany: false, awayDays: 0 };
  const sequence = addSequence(world, list, ids, { settings });
  startSequence(world.app, world.userId, sequence);
  const weeks = new Weeks(world, ids, FAULTS);
  const began = performance.now();
  const isOver = () => rows(world, "SELECT 1 FROM journeys WHERE state = 'active' LIMIT 1").length === 0;
  for (let now = TUESDAY; now < TUESDAY + LONGEST && !isOver(); now += DAY / 4) {
    await weeks.until(now);
    if (FAULTS === "") continue;
    await weeks.somethingGoesWrong();
    // Somebody looks at the mailboxes once a day.
    if (now % DAY === TUESDAY % DAY) weeks.allMailboxesGo();
  }
  const took = performance.now() - began;
  const people = rows<{ address: string; zone: string; company: string }>(
    world,
    "SELECT email AS address, time_zone AS zone, company FROM prospects",
  );
  const sent = await world.deliveries();
  const stoppedAt = weeks.stoppedAt();
  const wrong = audit(
    sent,
    mailboxes,
    people.map(({ address, zone, company }) => ({
      address,
      zone,
      holidays: [],
      stoppedAt: stoppedAt(address),
      steps: [`Loans at ${company}`, `Loans at ${company}`, "Shall I close this?"],
    })),
    {
      days: [1, 2, 3, 4, 5],
      opens: "08:30",
      closes: "17:00",
      newADay: null,
      perHour: null,
      domainADay: null,
      daysBetween: 0,
    },
  );
  await weeks.engine.close();
  await world.close();
  return {
    bench: "season",
    ratio: wrong.length,
    limit: 0,
    kind: "most",
    people: PEOPLE,
    emails: sent.length,
    seconds: Math.round(took / 1000),
    msPerEmail: Number((took / sent.length).toFixed(1)),
    firstWrong: wrong[0] ?? "",
  };
}
