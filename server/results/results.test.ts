/** What came of each step: people count once, whatever they did twice, and a step that is gone keeps its figures. */
import { beforeAll, describe, expect, it } from "vitest";
import type { App, AppTx } from "../app.ts";
import { saveSequence } from "../sequences/save-sequence.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, email, inCopyOf } from "../tests/world.ts";
import { results } from "./results.ts";

let image: Buffer;
/** Four people on three steps: Ana got two, Bia and Caio the first, Dora's address refused it. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { app, userId } = world;
  const list = addPeople(world, ["ana", "bia", "caio", "dora"]);
  startSequence(app, userId, addSequence(world, list, [addUnasked(world)]));
  const touch = (id: number, journey: number, step: string, state = "sent") =>
    app.db.exec(`INSERT INTO touches (id, kind, journey_id, step_id, prospect_id, user_id, state, sent_at, due_at, subject, body, message_id, mailbox_id)
      VALUES (${id}, 'email', ${journey}, '${step}', ${journey}, 1, '${state}', ${id}, ${id}, '', '', '<${id}@q.example>', 1)`);
  touch(1, 1, "one");
  touch(2, 1, "two");
  touch(3, 2, "one");
  touch(4, 3, "one");
  touch(5, 4, "one", "refused");
  touch(6, 4, "two", "skipped");
  image = app.db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
const happens = (app: App, kind: string, touch: number, journey: number) =>
  app.db.exec(
    `INSERT INTO events (at, kind, prospect_id, journey_id, touch_id) VALUES (1, '${kind}', ${journey}, ${journey}, ${touch})`,
  );
const first = (app: App) => results(app, 1)[0] as NonNullable<ReturnType<typeof results>[number]>;
const NONE = { opened: 0, clicked: 0, replied: 0, booked: 0, bounced: 0, optedOut: 0 };

describe("results", () => {
  it("count what a server took, by step, and the people", () =>
    inCopy((app) => {
      const found = first(app);
      expect(found).toMatchObject({ name: "Loans", people: 4, written: 3, replied: 0 });
      expect(found.steps).toEqual([
        { stepId: "one", name: "Opening", isRemoved: false, sent: 3, ...NONE },
        { stepId: "two", name: "Follow-up", isRemoved: false, sent: 1, ...NONE },
        { stepId: "three", name: "Close", isRemoved: false, sent: 0, ...NONE },
      ]);
    }));

  it.each([
    ["opened", "opened"],
    ["clicked", "clicked"],
    ["replied", "replied"],
    ["booked", "booked"],
    ["bounced", "bounced"],
    ["opted_out", "optedOut"],
  ] as const)("count whoever %s once, by the email that they did it with", (kind, figure) =>
    inCopy((app) => {
      for (const [touch, journey] of [
        [1, 1],
        [1, 1],
        [2, 1],
        [3, 2],
      ] as const)
        happens(app, kind, touch, journey);
      const { steps, replied } = first(app);
      expect(steps.map((step) => step[figure])).toEqual([2, 1, 0]);
      expect(replied).toBe(kind === "replied" ? 2 : 0);
      // Nothing else is moved by it.
      const { [figure]: _, ...others } = steps[0] as (typeof steps)[number];
      expect(Object.values(others).filter((value) => typeof value === "number" && value > 0)).toEqual([3]);
    }),
  );

  it("count a refused email as bounced, and not as sent", () =>
    inCopy((app) => {
      happens(app, "bounced", 5, 4);
      expect(first(app).steps[0]).toMatchObject({ sent: 3, bounced: 1 });
    }));

  it("keep a step that is in the sequence no longer, by the name that it had", () =>
    inCopy((app) => {
      const path = [
        email("two", 0, { name: "Now the first", subject: "Loans" }),
        email("three", 3, { name: "Close", subject: "x" }),
      ];
      const form = {
        id: 1,
        name: "Loans",
        listId: 1,
        zone: "Europe/Lisbon",
        days: [1],
        opens: "08:30",
        closes: "17:00",
      };
      expect(saveSequence(app, { ...form, settings: {}, writesTo: "any", mailboxIds: [1], path }, 1).ok).toBe(
        true,
      );
      expect(
        first(app).steps.map(({ stepId, name, isRemoved, sent }) => [stepId, name, isRemoved, sent]),
      ).toEqual([
        ["two", "Now the first", false, 1],
        ["three", "Close", false, 0],
        ["one", "Opening", true, 3],
      ]);
    }));

  it("leave out a sequence that nobody was started on, and one that is a colleague's own", () =>
    inCopy((app) => {
      app.db.exec(
        "INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at) VALUES (2, 'r@q.example', 'Rui', 'x', 'UTC', 'r', 0)",
      );
      expect(results(app, 2).map(({ id }) => id)).toEqual([1]);
      app.db.exec("UPDATE sequences SET is_personal = 1");
      expect(results(app, 1)).toHaveLength(1);
      expect(results(app, 2)).toEqual([]);
    }));
});
