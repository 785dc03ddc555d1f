/** What changes between the plan and a social claim wins: each rule has a world in which it alone says no. */

import { beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import type { RuleAt } from "../../core/sending/may-go.ts";
import type { App } from "../app.ts";

import { accountById } from "../db/social.ts";
import { seal } from "../secrets.ts";
import { saveSendingSettings } from "../sending/rules.ts";
import { considerJourney } from "../sequences/consider.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, openCopy, TUESDAY } from "../tests/world.ts";
import { actFrom, nextActAt } from "./carry-out.ts";

const WEEK = 7 * DAY;
let image: Buffer;

/** One person with an open look at their profile that an account is to make; the network cannot be reached, so that it stays begun. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { db, key } = world.app;
  db.prepare(
    "INSERT INTO social_accounts (id, user_id, name, url, token_sealed, created_at) VALUES (1, 1, 'Marta', 'http://127.0.0.1:9', ?, 0)",
  ).run(seal("token", key));
  const look = {
    ...{ id: "look", kind: "profile_view", name: "Look", note: "", wait: { days: 0, working: true } },
    ...{ text: "", journey: "waits", skipAfter: null, asNote: false },
  };
  const list = addPeople(world, ["ana"]);
  db.exec("UPDATE prospects SET profile = 'https://vitrine.example/people/ana'");
  const id = addSequence(world, list, [addUnasked(world)], {
    path: [look],
    settings: { accountId: 1, holidays: true, holdsCompany: false },
  });
  startSequence(world.app, world.userId, id);
  image = db.serialize();
  await world.close();
});

const open = (app: App) =>
  app.db
    .prepare<[], { claimed: number | null; state: string; accountId: number | null }>(
      "SELECT claimed_at AS claimed, state, account_id AS accountId FROM touches WHERE step_id = 'look'",
    )
    .get();

/** Whether the touch was begun, after the account was read and the world changed. And when it is tried again, if something is known. */
async function begunAfter(change: (app: App) => void): Promise<{ isBegun: boolean; next: number | null }> {
  const app = openCopy(image);
  try {
    const account = accountById(app.db, 1);
    if (!account) throw new Error("no account");
    change(app);
    await actFrom(app, account);
    const isBegun = open(app)?.claimed !== null;
    const [fresh] = [accountById(app.db, 1)];
    return { isBegun, next: fresh ? nextActAt(app, [fresh], TUESDAY) : null };
  } finally {
    app.close();
  }
}
const run = (text: string) => (app: App) => {
  app.db.exec(text);
};
/** Looks that the account made before, at persons of other sequences. */
const acted = (ago: number, times = 1, kind = "profile_view") =>
  run(
    Array.from(
      { length: times },
      (_, nth) =>
        `INSERT INTO touches (kind, journey_id, step_id, prospect_id, user_id, account_id, state, at, due_at, ended_at)
         VALUES ('${kind}', 1, 'before ${nth}', 1, 1, 1, 'done', 1, 1, ${TUESDAY - ago - nth * 1000})`,
    ).join(";"),
  );

const BETWEEN: Record<RuleAt<"social">, (app: App) => void> = {
  settling:
    run(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, state, message_id, claimed_at, claimed_wall)
    VALUES ('email', 1, 'zero', 1, 1, 'claimed', '<x@y>', 1, 1)`),
  undecided:
    run(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, state, message_id, claimed_at, claimed_wall, undecided_at)
    VALUES ('email', 1, 'zero', 1, 1, 'claimed', '<x@y>', 1, 1, 1)`),
  blocked: run(
    "INSERT INTO block_list (kind, value, reason, at) VALUES ('address', 'ana@ana-museum.example', 'opted_out', 1)",
  ),
  sequence_paused: run("UPDATE sequences SET state = 'paused', revision = revision + 1"),
  held: run(
    `INSERT INTO holds (scope, scope_id, reason, since, until) VALUES ('journey', 1, 'paused_by_rep', 1, ${TUESDAY + DAY})`,
  ),
  likely_reply: run("UPDATE journeys SET wait_reason = 'likely_reply'"),
  account_waits: run("UPDATE social_accounts SET state = 'paused'"),
  touched_lately: (app) => {
    saveSendingSettings(app, null, { daysBetween: 2 });
    app.db.exec(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, user_id, state, ended_at)
      VALUES ('call', 1, 'ring', 1, 1, 'done', ${TUESDAY - DAY})`);
  },
  outside_hours: run("UPDATE prospects SET time_zone = 'Asia/Tokyo'"),
  account_limit: (app) => {
    app.db.exec("UPDATE social_accounts SET daily_limit = 1");
    acted(HOUR)(app);
  },
};

describe("a social touch that is due is not begun once", () => {
  it("nothing happens: it is", async () => {
    expect((await begunAfter(() => {})).isBegun).toBe(true);
    expect((await begunAfter(acted(HOUR))).isBegun).toBe(true);
    // No address is needed for it, nor a good one, nor what only an email lacks.
    expect((await begunAfter(run("UPDATE prospects SET email = NULL"))).isBegun).toBe(true);
    expect((await begunAfter(run("UPDATE prospects SET verdict = 'bad'"))).isBegun).toBe(true);
    expect((await begunAfter(run("UPDATE journeys SET wait_reason = 'merge_field_empty'"))).isBegun).toBe(
      true,
    );
  });

  for (const [name, change] of Object.entries(BETWEEN))
    it(`${name.replaceAll("_", " ")} came between`, async () => {
      expect((await begunAfter(change)).isBegun).toBe(false);
    });

  it("the account was signed out, or the network asked for a rest", async () => {
    for (const change of [`state = 'signed_out'`, `retry_at = ${TUESDAY + HOUR}`])
      expect((await begunAfter(run(`UPDATE social_accounts SET ${change}`))).isBegun).toBe(false);
  });

  it("the week is full for its kind; of another kind there may be as many", async () => {
    const full = run("UPDATE social_accounts SET weekly_views = 3");
    const both = (kind: string) => (app: App) => {
      full(app);
      acted(2 * DAY, 3, kind)(app);
    };
    expect((await begunAfter(both("profile_view"))).isBegun).toBe(false);
    expect((await begunAfter(both("invitation"))).isBegun).toBe(true);
    expect((await begunAfter(acted(WEEK, 3))).isBegun).toBe(true);
  });

  it("the account did something a moment ago", async () => {
    expect((await begunAfter(acted(MINUTE))).isBegun).toBe(false);
  });

  it("it was stopped, or done by hand", async () => {
    for (const change of [
      "UPDATE journeys SET state = 'stopped', stop_reason = 'replied', ended_at = 1",
      `UPDATE touches SET state = 'done', ended_at = ${TUESDAY - DAY}`,
    ])
      expect((await begunAfter(run(change))).isBegun).toBe(false);
  });
});

describe("the next moment of an account", () => {
  const next = async (name: keyof typeof BETWEEN) => (await begunAfter(BETWEEN[name])).next;
  it("is known where time alone is waited for", async () => {
    // Tomorrow at half past eight in Tokyo, the day after the days between, the end of a hold, the account's next day.
    expect(await next("outside_hours")).toBe(Date.parse("2026-06-10T08:30:00+09:00"));
    expect(await next("touched_lately")).toBe(Date.parse("2026-06-10T00:00:00+01:00"));
    expect(await next("held")).toBe(TUESDAY + DAY);
    expect(await next("account_limit")).toBe(Date.parse("2026-06-10T00:00:00+01:00"));
  });
  it("is not where somebody has to do something", async () => {
    for (const name of ["sequence_paused", "likely_reply", "blocked", "undecided", "account_waits"] as const)
      expect(await next(name)).toBeNull();
  });
});

describe("a step of which something has to come up does not", () => {
  const CONSIDER: Record<RuleAt<"consider">, (app: App) => void> = {
    blocked: BETWEEN.blocked,
    sequence_paused: BETWEEN.sequence_paused,
    held: BETWEEN.held,
  };
  const comesUp = (change: (app: App) => void): boolean => {
    const app = openCopy(image);
    try {
      app.db.exec("DELETE FROM touches");
      change(app);
      considerJourney(app, 1, TUESDAY);
      return open(app) !== undefined;
    } finally {
      app.close();
    }
  };
  it("nothing happens: it does", () => {
    expect(comesUp(() => {})).toBe(true);
  });
  for (const [name, change] of Object.entries(CONSIDER))
    it(name.replaceAll("_", " "), () => {
      expect(comesUp(change)).toBe(false);
    });
});
