/** What the plan is made from, kept and brought up to date: it is at every moment what a first reading would give. */
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import type { EmailStep } from "../../core/sequence/path.ts";
import type { AppTx } from "../app.ts";
import { takeChanged } from "../db/journeys.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, email, openCopy, TUESDAY } from "../tests/world.ts";
import { saveSendingSettings } from "./rules.ts";
import { Situation } from "./situation.ts";

const NAMES = ["ana", "bia", "caio", "dora", "eva", "faro"];
let app: ReturnType<typeof openCopy>;

/** Six people, three on each of two sequences: one sends from both mailboxes, the other from the second alone. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const first = addUnasked(world);
  const second = addUnasked(world, "m.q@quillwater.example");
  const path = (name: string): EmailStep[] => [
    email("one", 0, { subject: name, body: "Hello" }),
    email("two", 2, { body: "Again" }),
  ];
  const both = addSequence(world, addPeople(world, NAMES.slice(0, 3)), [first, second], {
    path: path("Both"),
  });
  const one = addSequence(world, addPeople(world, NAMES.slice(3), "Others"), [second], {
    path: path("One"),
  });
  for (const id of [both, one]) startSequence(world.app, 1, id);
  world.app.db.exec(
    "INSERT INTO social_accounts (id, user_id, name, url, token_sealed, created_at) VALUES (1, 1, 'Marta', 'http://127.0.0.1:9', '', 1)",
  );
  takeChanged(world.app.db);
  app = openCopy(world.app.db.serialize());
  await world.close();
});

afterAll(() => app.close());

/** What is done to the world is taken back afterwards. */
function inCopy<T>(work: (app: AppTx) => T): T {
  app.db.exec("SAVEPOINT before");
  try {
    return work(app);
  } finally {
    app.db.exec("ROLLBACK TO before; RELEASE before");
  }
}

/** Everything that it says, in an order that does not hang on how it was read. */
function told(situation: Situation, now: number) {
  const { ready, held } = situation.divide(now);
  return {
    ready: ready.map(({ ...journey }) => journey).toSorted((a, b) => a.id - b.id),
    held: [...held].toSorted(([a], [b]) => a - b),
    size: situation.size,
    mailboxes: situation.mailboxes,
    newcomer: situation.newcomer(now, null),
  };
}
const anew = (app: AppTx, now: number): Situation => {
  const situation = new Situation(app.db);
  situation.refresh(now, null);
  return situation;
};

const CHANGES: Record<string, string> = {
  "somebody is held": `INSERT OR IGNORE INTO holds (scope, scope_id, reason, since) VALUES ('journey', 1, 'paused_by_rep', 1)`,
  "somebody goes on": "DELETE FROM holds",
  "a company is held": `INSERT OR IGNORE INTO holds (scope, scope_id, reason, since, cause_prospect_id)
    SELECT 'company', company_id, 'colleague_replied', 1, 6 FROM prospects WHERE id = 2`,
  "somebody stops": "UPDATE journeys SET state = 'stopped' WHERE id = 3",
  "somebody begins again": "UPDATE journeys SET state = 'active' WHERE id = 3",
  "somebody stands further on": "UPDATE journeys SET place_id = 'two', mailbox_id = 1 WHERE id = 1",
  "somebody is due later": `UPDATE journeys SET due_at = ${TUESDAY + 3 * DAY} WHERE id = 2`,
  "an address is bad": "UPDATE prospects SET verdict = 'bad' WHERE id = 4",
  "an address is gone": "UPDATE prospects SET email = NULL WHERE id = 5",
  "somebody moves": "UPDATE prospects SET time_zone = 'Asia/Tokyo' WHERE id = 2",
  "a mailbox pauses": "UPDATE mailboxes SET state = 'paused' WHERE id = 1",
  "a mailbox sends again": "UPDATE mailboxes SET state = 'active', rest_until = NULL, smtp_retry_at = NULL",
  "a mailbox rests": `UPDATE mailboxes SET state = 'resting', rest_until = ${TUESDAY + 2 * HOUR} WHERE id = 2`,
  "a mailbox is left alone": `UPDATE mailboxes SET smtp_trouble = 'x', smtp_retry_at = ${TUESDAY + HOUR} WHERE id = 2`,
  "a limit changes": "UPDATE mailboxes SET daily_limit = daily_limit + 1 WHERE id = 1",
  "a sequence pauses": "UPDATE sequences SET state = 'paused', revision = revision + 1 WHERE id = 1",
  "a sequence runs": "UPDATE sequences SET state = 'running', revision = revision + 1",
  "a sequence sends later in the day":
    "UPDATE sequences SET opens = '13:00', revision = revision + 1 WHERE id = 1",
  "a sequence writes to good addresses only":
    "UPDATE sequences SET writes_to = 'good', revision = revision + 1 WHERE id = 2",
  "a sequence sends from one mailbox fewer":
    "DELETE FROM sequence_mailboxes WHERE sequence_id = 1 AND mailbox_id = 1",
  "threads may go on elsewhere": `UPDATE sequences SET settings = json_patch(settings, '{"threadElsewhere":"new_thread"}'), revision = revision + 1`,
  "the first one is asked for": `UPDATE sequences SET settings = json_patch(settings, '{"approval":"first","approveFirst":1}'), revision = revision + 1 WHERE id = 2`,
  "the first one is written to": `INSERT OR IGNORE INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, message_id, state, sent_at)
    VALUES ('email', 4, 'one', 4, 2, '<d@x>', 'sent', 1)`,
  "a touch is open": `INSERT OR IGNORE INTO touches (kind, journey_id, step_id, prospect_id, state, account_id)
    VALUES ('invitation', 5, 'one', 5, 'open', 1)`,
  "an account pauses": "UPDATE social_accounts SET state = 'paused'",
  "an account acts again": "UPDATE social_accounts SET state = 'active'",
};

describe("kept, and brought up to date", () => {
  it("is what a first reading gives, after whatever has changed", () => {
    const changes = fc.array(
      fc.record({
        names: fc.subarray(Object.keys(CHANGES), { minLength: 1, maxLength: 3 }),
        passes: fc.integer({ min: 0, max: 40 }),
      }),
      { minLength: 1, maxLength: 6 },
    );
    fc.assert(
      fc.property(changes, (steps) =>
        inCopy((app) => {
          let now = TUESDAY;
          const kept = anew(app, now);
          for (const { names, passes } of steps) {
            const before = told(kept, now);
            for (const name of names) app.db.exec(CHANGES[name] as string);
            now += passes * 6 * MINUTE;
            const moved = kept.refresh(now, takeChanged(app.db));
            const after = told(kept, now);
            expect(after, names.join()).toEqual(told(anew(app, now), now));
            // Whoever is told that nobody moved makes no plan.
            if (moved === "nobody") expect(after.held).toEqual(before.held);
          }
        }),
      ),
      { numRuns: 100 },
    );
  });

  const refreshed = (change: string | ((app: AppTx) => void), passes = 0, prepare: string[] = []) =>
    inCopy((app) => {
      for (const text of prepare) app.db.exec(text);
      takeChanged(app.db);
      const kept = anew(app, TUESDAY);
      if (typeof change === "string") app.db.exec(change);
      else change(app);
      return kept.refresh(TUESDAY + passes, takeChanged(app.db));
    });

  it.each<[string, string, number?]>([
    ["nothing", ""],
    ["a look at a mailbox", "UPDATE mailboxes SET read_wall = 9, connected_wall = 9, copies = 'server'"],
    ["the time alone", "", HOUR],
  ])("%s moves nobody", (_, change, passes) => {
    expect(refreshed(change, passes)).toBe("nobody");
  });

  it.each(["somebody is held", "somebody stops", "an address is bad", "somebody is due later"])(
    "%s moves some",
    (name) => {
      expect(refreshed(CHANGES[name] as string)).toBe("some");
    },
  );

  it.each([
    "a mailbox pauses",
    "a limit changes",
    "a sequence sends later in the day",
    "a sequence writes to good addresses only",
    "a sequence sends from one mailbox fewer",
    "an account pauses",
  ])("%s can move all", (name) => {
    expect(refreshed(CHANGES[name] as string)).toBe("all");
  });

  it("what becomes of the first ones moves those who wait for it", () => {
    const asked = CHANGES["the first one is asked for"] as string;
    const later = `${CHANGES["the first one is written to"]}; ${CHANGES["somebody is due later"]}`;
    expect(refreshed(later, 0, [asked])).toBe("all");
    expect(refreshed(later)).toBe("some");
  });

  it("a provider that was found is known of whoever changes next", () => {
    inCopy((app) => {
      const kept = anew(app, TUESDAY);
      app.db.exec(
        "INSERT INTO mail_hosts (domain, provider, at) VALUES ('bia-museum.example', 'hall.example', 1)",
      );
      app.db.exec(CHANGES["somebody is due later"] as string);
      kept.refresh(TUESDAY, takeChanged(app.db));
      expect([kept.journey(1)?.provider, kept.journey(2)?.provider]).toEqual([null, "hall.example"]);
    });
  });

  it("a new day, a rule for everybody, and the end of a rest or of a server's pause move all", () => {
    expect(refreshed("", DAY)).toBe("all");
    expect(refreshed((app) => void saveSendingSettings(app, null, { followUpPercent: 10 }))).toBe("all");
    expect(refreshed("", 3 * HOUR, [CHANGES["a mailbox is left alone"] as string])).toBe("all");
  });
});

describe("says whom nothing holds, and from where they may go", () => {
  const standing = (...changes: string[]) =>
    inCopy((app) => {
      for (const change of changes) app.db.exec(change);
      const { ready, held } = anew(app, TUESDAY).divide(TUESDAY);
      return {
        from: Object.fromEntries(ready.map(({ id, senderIds }) => [id, senderIds])),
        held: Object.fromEntries([...held].map(([id, { reason }]) => [id, reason])),
      };
    });
  const THREAD = "UPDATE journeys SET place_id = 'two', mailbox_id = 1 WHERE id = 1";
  const ELSEWHERE = CHANGES["threads may go on elsewhere"] as string;
  const PAUSED = CHANGES["a mailbox pauses"] as string;

  it("from any of the sequence's mailboxes, and a thread from its own", () => {
    expect(standing()).toEqual({
      from: { 1: [1, 2], 2: [1, 2], 3: [1, 2], 4: [2], 5: [2], 6: [2] },
      held: {},
    });
    expect(standing(CHANGES["the first one is asked for"] as string).held).toEqual({
      4: "first_ones",
      5: "first_ones",
      6: "first_ones",
    });
    expect(standing(THREAD).from[1]).toEqual([1]);
  });

  it("from those that send; what rests is planned for, what is paused is not", () => {
    expect(standing(PAUSED).from).toMatchObject({ 2: [2] });
    expect(standing(CHANGES["a mailbox rests"] as string).from).toMatchObject({ 2: [1, 2], 4: [2] });
  });

  it("a thread waits for its mailbox, unless it may go on elsewhere", () => {
    expect(standing(THREAD, PAUSED).held[1]).toBe("mailbox_paused");
    expect(standing(THREAD, PAUSED, ELSEWHERE).from[1]).toEqual([2]);
    expect(standing(THREAD, ELSEWHERE).from[1]).toEqual([1]);
    // Where nothing else sends, either, it waits as it did.
    const nothing = "UPDATE mailboxes SET state = 'paused'";
    expect(standing(THREAD, nothing, ELSEWHERE).held[1]).toBe("mailbox_paused");
    const resting = `UPDATE mailboxes SET state = 'resting', rest_until = ${TUESDAY + DAY} WHERE id = 2`;
    expect(standing(THREAD, PAUSED, resting, ELSEWHERE).held[1]).toBe("mailbox_paused");
  });

  it("nobody of a paused sequence, nor of one whose every mailbox is paused", () => {
    expect(standing(CHANGES["a sequence pauses"] as string).held).toMatchObject({
      1: "sequence_paused",
      2: "sequence_paused",
    });
    expect(standing("UPDATE mailboxes SET state = 'paused' WHERE id = 2").held).toMatchObject({
      4: "mailbox_paused",
    });
    expect(standing("UPDATE mailboxes SET removed_at = 1 WHERE id = 2").held).toMatchObject({
      4: "no_mailbox",
    });
    expect(standing("DELETE FROM sequence_mailboxes WHERE sequence_id = 2").held).toMatchObject({
      4: "no_mailbox",
    });
  });

  it("one email to one person goes at any hour of a day that was named, and what follows keeps theirs", () => {
    const single = [
      "UPDATE sequences SET kind = 'single', opens = '20:00', closes = '21:00', revision = revision + 1 WHERE id = 1",
      `UPDATE sequence_versions SET path = json_set(path, '$[0].anyHour', json('true')) WHERE sequence_id = 1`,
    ];
    const hours = (...changes: string[]) =>
      inCopy((app) => {
        for (const change of changes) app.db.exec(change);
        const journey = anew(app, TUESDAY).journey(1);
        return [journey?.calendar.hours.opens, journey?.calendarAfter?.hours.opens];
      });
    expect(hours(...single)).toEqual(["00:00", "20:00"]);
    expect(hours(single[1] as string)).toEqual(["08:30", undefined]);
    expect(hours(single[0] as string)).toEqual(["20:00", undefined]);
    expect(hours(...single, "UPDATE journeys SET place_id = 'two'")).toEqual(["20:00", undefined]);
  });

  it("a mailbox that rests comes back on a lowered limit that rises", () => {
    inCopy((app) => {
      app.db.exec(CHANGES["a mailbox rests"] as string);
      const situation = anew(app, TUESDAY);
      const [first, second] = situation.parts(TUESDAY, []).senders;
      expect(first?.ramp ?? null).toBeNull();
      expect(second?.ramp).toEqual({ start: 12, step: 5, daysSoFar: 0 });
    });
  });

  it("what a domain got lately is looked up only where a limit asks for it", () => {
    inCopy((app) => {
      app.db.exec(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, message_id, recipient, state, sent_at)
        VALUES ('email', 1, 'zero', 1, 1, '<a>', 'ana@ana-museum.example', 'sent', ${TUESDAY - HOUR}),
          ('email', 2, 'zero', 2, 1, '<b>', 'front@ana-museum.example', 'sent', ${TUESDAY - 2 * HOUR})`);
      const lately = () => [...anew(app, TUESDAY).parts(TUESDAY, []).domainsLately];
      expect(lately()).toEqual([]);
      saveSendingSettings(app, null, { domainADay: 5 });
      expect(lately()).toEqual([["ana-museum.example", [TUESDAY - HOUR, TUESDAY - 2 * HOUR]]]);
    });
  });
});

describe("a newcomer", () => {
  const first = (...changes: string[]) =>
    inCopy((app) => {
      for (const change of changes) app.db.exec(change);
      return anew(app, TUESDAY).newcomer(TUESDAY, null);
    });

  it("begins as in the running sequence with the most people, once its hours are open", () => {
    const most = "UPDATE journeys SET state = 'stopped' WHERE id = 1";
    expect(first(most)?.senderIds).toEqual([2]);
    expect(first("UPDATE journeys SET state = 'stopped' WHERE id = 4")).toMatchObject({
      senderIds: [1, 2],
      dueAt: TUESDAY,
      ahead: [{ id: "one" }, { id: "two" }],
    });
    const later = CHANGES["a sequence sends later in the day"] as string;
    expect(first("UPDATE journeys SET state = 'stopped' WHERE id = 4", later)?.dueAt).toBe(
      TUESDAY + 3 * HOUR,
    );
  });

  it("is none where no sequence runs, is shared and has mailboxes", () => {
    for (const change of [
      "UPDATE sequences SET state = 'paused'",
      "UPDATE sequences SET kind = 'single'",
      "DELETE FROM sequence_mailboxes",
    ])
      expect(first(change)).toBeNull();
  });
});
