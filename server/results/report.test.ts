/** What a week brought: by when it happened, whenever they were started, against the week before. */
import { beforeAll, expect, it } from "vitest";
import { DAY } from "../../core/calendar.ts";
import type { AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import {
  addJourney,
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  inCopyOf,
  TUESDAY,
} from "../tests/world.ts";
import { report } from "./report.ts";

let image: Buffer;
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const id = addSequence(world, addPeople(world, ["ana", "bia", "caio"]), [addUnasked(world)]);
  for (const person of [1, 2, 3]) addJourney(world, id, person);
  world.app.db.exec(`UPDATE journeys SET started_at = ${TUESDAY - 8 * DAY}`);
  for (const [nth, at] of [TUESDAY - 8 * DAY, TUESDAY - DAY, TUESDAY].entries())
    world.app.db.exec(
      `INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, state, at, due_at, sent_at, message_id)
       VALUES ('email', ${nth + 1}, 'one', ${nth + 1}, 1, 'sent', ${at}, ${at}, ${at}, '<${nth}@q.example>')`,
    );
  image = world.app.db.serialize();
  await world.close();
});
const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);

it("counts what happened within it, and what happened in the one before", () =>
  inCopy((app) => {
    apply(app.db, { kind: "booked", at: TUESDAY }, { at: TUESDAY + 1, prospectId: 1, journeyId: 1 });
    // Of the Monday of that week, written before it.
    apply(app.db, { kind: "replied" }, { at: TUESDAY - DAY, prospectId: 2, journeyId: 2 });
    const week = report(app, 1, "2026-06-10", "week", "Europe/Lisbon");
    expect([week.from, week.to]).toEqual(["2026-06-08", "2026-06-14"]);
    expect(week.now).toMatchObject({
      started: 0,
      written: 2,
      answered: 1,
      positive: 1,
      booked: 1,
      optedOut: 0,
    });
    expect(week.before).toMatchObject({ started: 3, written: 1, answered: 0, booked: 0 });
    expect(week.sequences.map(({ name }) => name)).toEqual(["Loans"]);
    const day = report(app, 1, "2026-06-09", "day", "Europe/Lisbon");
    expect([day.from, day.to]).toEqual(["2026-06-09", "2026-06-09"]);
    expect(day.now).toMatchObject({ written: 1, booked: 1, answered: 0 });
    expect(day.before).toMatchObject({ written: 1, answered: 1 });
  }));

it("says nothing of a colleague's own sequence", () =>
  inCopy((app) => {
    app.db.exec(`INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
      VALUES (2, 'r@q.example', 'Rui', 'x', 'UTC', 'rui', 'rep', 0); UPDATE sequences SET is_personal = 1`);
    expect(report(app, 2, "2026-06-10", "week", "UTC")).toMatchObject({ sequences: [], now: { written: 0 } });
  }));
