import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { addPeople, createWorld, rows, type World } from "../tests/world.ts";
import { blockEntry, isBlocked } from "./block-list.ts";
import { finishJourney, raiseStage, stopJourneys } from "./journeys.ts";
import {
  claimedBy,
  claimQueued,
  enterTouch,
  isStillClaimed,
  type NewTouch,
  releaseClaim,
  settleRefused,
  settleSent,
  type Touch,
  touchById,
} from "./ledger.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana", "bia"]);
  world.app.db.exec(`
    INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
      imap_security, username, password_sealed, daily_limit, gap_least, gap_most, created_at)
    VALUES (1, ${world.userId}, 'm@q.example', 'M', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 30, 9, 14, 0);
    INSERT INTO sequences (id, name, user_id, time_zone, created_at) VALUES (1, 'S', ${world.userId}, 'UTC', 0), (2, 'T', ${world.userId}, 'UTC', 0);
    INSERT INTO journeys (id, sequence_id, prospect_id, due_at, started_at) VALUES (1, 1, 1, 0, 0);`);
});
afterEach(() => world.close());
const db = () => world.app.db;

const touch = (change: Partial<NewTouch> = {}): NewTouch => ({
  kind: "email",
  journeyId: 1,
  stepId: "one",
  version: 1,
  prospectId: 1,
  mailboxId: 1,
  recipient: "ana@ana-museum.example",
  state: "claimed",
  messageId: `<${Math.random()}@q.example>`,
  inReplyTo: null,
  references: "",
  subject: "S",
  body: "B",
  markup: null,
  claimedAt: 5,
  claimedWall: 5,
  ...change,
});

describe("the ledger", () => {
  it("takes each step of a journey once, whoever tries", () => {
    expect(enterTouch(db(), touch())).toBe(1);
    expect(enterTouch(db(), touch())).toBeNull();
    expect(enterTouch(db(), touch({ stepId: "two" }))).toBe(2);
    expect(() =>
      enterTouch(db(), touch({ stepId: "three", messageId: touchById(db(), 1)?.messageId as string })),
    ).toThrow();
  });

  it("settles a claim once: what is sent stays sent", () => {
    const id = enterTouch(db(), touch()) as number;
    const claim = touchById(db(), id) as Touch;
    expect(settleSent(db(), claim, 7, null)).toBe(true);
    expect(settleSent(db(), claim, 8, null)).toBe(false);
    settleRefused(db(), claim, "too late");
    releaseClaim(db(), { ...(touchById(db(), id) as Touch), state: "claimed" });
    expect(touchById(db(), id)).toMatchObject({ state: "sent", sentAt: 7 });
  });

  it("settles nobody else's claim: neither one made anew of the same step, nor another row of the same number", () => {
    const id = enterTouch(db(), touch({ messageId: "<one@q.example>" })) as number;
    const late = touchById(db(), id) as Touch;
    releaseClaim(db(), late);
    expect(enterTouch(db(), touch({ messageId: "<one@q.example>", claimedWall: 900 }))).toBe(id);
    expect(isStillClaimed(db(), late)).toBe(false);
    expect(settleSent(db(), late, 7, null)).toBe(false);
    settleRefused(db(), late, "no");
    releaseClaim(db(), late);
    expect(touchById(db(), id)).toMatchObject({ state: "claimed", claimedWall: 900 });
  });

  it("gives a released step back to the plan and a released answer back to the queue", () => {
    const step = enterTouch(db(), touch()) as number;
    const answer = enterTouch(
      db(),
      touch({ kind: "answer", journeyId: null, stepId: null, state: "queued", claimedAt: null }),
    ) as number;
    expect(claimQueued(db(), answer, 9, 9)).toBe(true);
    expect(claimQueued(db(), answer, 9, 9)).toBe(false);
    for (const claimed of claimedBy(db(), 1)) releaseClaim(db(), claimed);
    expect(touchById(db(), step)).toBeUndefined();
    expect(touchById(db(), answer)).toMatchObject({ state: "queued", claimedAt: null });
  });
});

describe("a journey", () => {
  it("is the only one of its prospect while it goes on", () => {
    const second = "INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at) VALUES (2, 1, 0, 0)";
    expect(() => db().exec(second)).toThrow("UNIQUE");
    stopJourneys(db(), 1, "replied", null, 3);
    db().exec(second);
  });

  it("ends once, with its reason, and is recorded once", () => {
    expect(stopJourneys(db(), 1, "booked", null, 3)).toEqual([1]);
    expect(stopJourneys(db(), 1, "replied", null, 4)).toEqual([]);
    finishJourney(db(), 1, 1, 5);
    expect(rows(world, "SELECT state, stop_reason, ended_at FROM journeys")).toEqual([
      { state: "stopped", stop_reason: "booked", ended_at: 3 },
    ]);
    expect(rows(world, "SELECT kind FROM events")).toEqual([{ kind: "journey_stopped" }]);
  });
});

it("a prospect's stage moves forward and never back", () => {
  const stage = () => rows<{ stage: string }>(world, "SELECT stage FROM prospects WHERE id = 1")[0]?.stage;
  raiseStage(db(), 1, "in_conversation");
  raiseStage(db(), 1, "contacted");
  expect(stage()).toBe("in_conversation");
  raiseStage(db(), 1, "meeting_booked");
  expect(stage()).toBe("meeting_booked");
});

it("an address is blocked by itself or by its domain, and keeps its first reason", () => {
  const ana = { kind: "address" as const, value: "ana@ana-museum.example" };
  expect(blockEntry(db(), { ...ana, reason: "opted_out", at: 1 })).toBe(true);
  expect(blockEntry(db(), { ...ana, reason: "bounced", at: 2 })).toBe(false);
  expect(rows(world, "SELECT reason, at FROM block_list")).toEqual([{ reason: "opted_out", at: 1 }]);
  expect(isBlocked(db(), "ana@ana-museum.example")).toBe(true);
  expect(isBlocked(db(), "bia@bia-museum.example")).toBe(false);
  db().exec(
    "INSERT INTO block_list (kind, value, reason, at) VALUES ('domain', 'bia-museum.example', 'added_by_rep', 0)",
  );
  expect(isBlocked(db(), "bia@bia-museum.example")).toBe(true);
  expect(isBlocked(db(), "x@not-bia-museum.example")).toBe(false);
});
