/** The recorded plan: what one change costs, and what it does when the ground under it moves. */
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DAY, dayOf, HOUR, MINUTE } from "../../core/calendar.ts";
import type { PlannedTouch } from "../../core/sending/plan-parts.ts";
import { setHold } from "../db/holds.ts";
import { enterTouch, type Touch, touchById } from "../db/ledger.ts";
import { sequenceById } from "../db/sequences.ts";
import { sequenceForm } from "../sequences/open-sequence.ts";
import { saveSequence } from "../sequences/save-sequence.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, createWorld, email, rows, TUESDAY, type World } from "../tests/world.ts";
import { saveMailbox } from "./mailboxes/save-mailbox.ts";
import { PlanBook } from "./plan.ts";
import { markSent } from "./settle.ts";

let world: World;
let book: PlanBook;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  book = new PlanBook(world.app);
});
afterEach(() => world.close());

function mailbox(address: string, change: Record<string, unknown> = {}): number {
  const saved = saveMailbox(world.app, world.user, {
    address,
    senderName: "Marta Quintela",
    smtpHost: "127.0.0.1",
    smtpPort: 9,
    smtpSecurity: "none",
    imapHost: "127.0.0.1",
    imapPort: 9,
    imapSecurity: "none",
    username: address,
    password: "x",
    dailyLimit: 30,
    gapLeast: 9,
    gapMost: 14,
    ...change,
  });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
  world.app.db.exec("UPDATE mailboxes SET connected_wall = 1");
  return saved.value;
}
const names = (count: number) => Array.from({ length: count }, (_, nth) => `p${nth}`);

function started(count: number, mailboxIds: number[], change: Record<string, unknown> = {}): number {
  const id = addSequence(world, addPeople(world, names(count)), mailboxIds, change);
  const report = startSequence(world.app, world.userId, id);
  if (!report.ok) throw new Error(JSON.stringify(report.errors));
  return id;
}
const change = (id: number, part: Record<string, unknown>) => {
  const sequence = sequenceById(world.app.db, id);
  if (!sequence) throw new Error("no sequence");
  const saved = saveSequence(world.app, { ...sequenceForm(sequence), revision: undefined, ...part });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
};
const reasons = () =>
  rows<{ reason: string }>(
    world,
    "SELECT DISTINCT wait_reason AS reason FROM journeys WHERE state = 'active' ORDER BY 1",
  ).map(({ reason }) => reason);
const pause = (journeyId: number) =>
  setHold(world.app.db, {
    scope: "journey",
    scopeId: journeyId,
    reason: "paused_by_rep",
    detail: null,
    since: TUESDAY,
    until: null,
    causeProspectId: null,
  });

describe("the recorded plan", () => {
  it("writes few rows after one change, and none when nothing changed", () => {
    started(400, [mailbox("one@quillwater.example"), mailbox("two@quillwater.example")]);
    expect(book.look(TUESDAY).written).toBeGreaterThanOrEqual(400);
    expect(book.look(TUESDAY + 1_000, HOUR).written).toBe(0);
    const [next] = rows<{ id: number }>(
      world,
      "SELECT id FROM journeys WHERE next_at > 0 AND wait_reason = 'in_line' ORDER BY next_at DESC LIMIT 1",
    );
    pause(next?.id as number);
    const { written } = book.look(TUESDAY + 2_000, HOUR);
    expect(written).toBeGreaterThanOrEqual(1);
    expect(written).toBeLessThanOrEqual(20);
  });

  it("is the same for a new engine as for the one that made it", () => {
    started(80, [mailbox("one@quillwater.example")]);
    const made = book.look(TUESDAY).touches;
    const again = new PlanBook(world.app).look(TUESDAY);
    expect(again.touches).toEqual(made);
    expect(again.written).toBe(0);
  });

  /** As the engine leaves it once the server has taken it. */
  function send({ journeyId, stepId, senderId: mailboxId, at }: PlannedTouch): void {
    const { db } = world.app;
    const id = enterTouch(db, {
      ...{ kind: "email", state: "claimed", version: 1, inReplyTo: null, references: "", markup: null },
      ...{ journeyId, stepId, prospectId: journeyId, mailboxId, recipient: "p@p-museum.example" },
      ...{ messageId: `<${journeyId}@here.example>`, subject: "", body: "", claimedAt: at, claimedWall: at },
    });
    markSent(world.app, touchById(db, id as number) as Touch, at, "250 Taken");
  }
  const wait = (days: number) => [
    email("one", 0, { subject: "Loans", body: "Hello" }),
    email("two", days, { subject: "", body: "And again" }),
  ];

  it("strikes out who went: what is left is what a plan made anew says", () => {
    started(60, [mailbox("one@quillwater.example"), mailbox("two@quillwater.example")], { path: wait(5) });
    for (const touch of book.look(TUESDAY).touches.slice(0, 8)) {
      send(touch);
      const struck = book.look(touch.at, HOUR);
      expect(struck.touches.map(({ journeyId }) => journeyId)).not.toContain(touch.journeyId);
      expect(struck.written).toBe(1);
      const anew = new PlanBook(world.app).look(touch.at);
      expect(anew.touches).toEqual(struck.touches);
      expect(anew.written).toBe(0);
    }
  });

  it("leaves a follow-up where it was planned, and gives up what somebody who stopped had", () => {
    started(60, [mailbox("one@quillwater.example")], { path: wait(1) });
    const [first, second] = book.look(TUESDAY).touches as [PlannedTouch, PlannedTouch];
    const others = ({ touches }: { touches: PlannedTouch[] }) =>
      touches.filter(({ at, journeyId }) => at > second.at && journeyId !== second.journeyId);
    const planned = others(book.look(TUESDAY, HOUR));
    send(first);
    expect(others(book.look(first.at, HOUR))).toEqual(planned);
    expect(new PlanBook(world.app).look(first.at).written).toBe(0);
    pause(second.journeyId);
    const { touches } = book.look(second.at, HOUR);
    expect(touches.filter(({ journeyId }) => journeyId === second.journeyId)).toEqual([]);
    expect(touches).toEqual(new PlanBook(world.app).look(second.at).touches);
  });

  it("says why, for everybody who does not go today", () => {
    started(60, [mailbox("one@quillwater.example", { dailyLimit: 10, rampStart: 4, rampStep: 3 })]);
    book.look(TUESDAY);
    expect(reasons()).toEqual(["in_line", "ramp"]);
    expect(
      rows(world, "SELECT count(*) AS count FROM decisions WHERE kind = 'wait' AND outcome = 'ramp'"),
    ).toEqual([{ count: 56 }]);
  });

  it("waits when a pool is emptied, and goes on when somebody is in it again", () => {
    const id = mailbox("one@quillwater.example", { pools: "Spring" });
    const sequence = started(3, [id]);
    const poolId = rows<{ id: number }>(world, "SELECT id FROM pools")[0]?.id;
    change(sequence, { poolId });
    expect(book.look(TUESDAY).touches.length).toBeGreaterThan(0);
    world.app.db.exec("DELETE FROM pool_mailboxes");
    expect(book.look(TUESDAY + MINUTE).touches).toEqual([]);
    expect(reasons()).toEqual(["no_mailbox"]);
    world.app.db.exec(`INSERT INTO pool_mailboxes VALUES (${poolId}, ${id})`);
    expect(book.look(TUESDAY + 2 * MINUTE).touches.length).toBeGreaterThan(0);
  });

  it("keeps off public holidays from the moment the sequence says so", () => {
    const sequence = started(3, [mailbox("one@quillwater.example")]);
    // 10 June is Portugal's national day.
    world.app.db.exec("UPDATE prospects SET country = 'PT'");
    const evening = Date.parse("2026-06-09T18:00:00+01:00");
    const onTheHoliday = () =>
      book.look(evening).touches.filter(({ at }) => dayOf(at, "Europe/Lisbon") === "2026-06-10");
    expect(onTheHoliday().length).toBe(3);
    const { settings } = sequenceById(world.app.db, sequence) as { settings: object };
    change(sequence, { settings: { ...settings, holidays: true } });
    expect(onTheHoliday()).toEqual([]);
    expect(rows(world, "SELECT count(*) AS count FROM journeys WHERE next_at IS NOT NULL")).toEqual([
      { count: 3 },
    ]);
  });

  it("catches up after a day of sleep one by one, as if it had been awake", () => {
    started(12, [mailbox("one@quillwater.example", { dailyLimit: 30 })]);
    book.look(TUESDAY);
    const awake = TUESDAY + DAY;
    const { touches } = book.look(awake);
    const firsts = touches.filter(({ stepId }) => stepId === "one").map(({ at }) => at);
    expect(firsts).toHaveLength(12);
    expect(firsts[0]).toBe(awake);
    for (let nth = 1; nth < firsts.length; nth++)
      expect((firsts[nth] as number) - (firsts[nth - 1] as number)).toBeGreaterThanOrEqual(9 * MINUTE);
  });

  it("plans on when the clock goes an hour back", () => {
    started(5, [mailbox("one@quillwater.example")]);
    book.look(TUESDAY + HOUR);
    const { touches } = book.look(TUESDAY);
    expect(touches.filter(({ stepId }) => stepId === "one")).toHaveLength(5);
    for (const { at } of touches) expect(at).toBeGreaterThanOrEqual(TUESDAY);
  });

  it("takes a mailbox that never connected for none", () => {
    const id = mailbox("one@quillwater.example");
    started(2, [id]);
    world.app.db.exec("UPDATE mailboxes SET connected_wall = NULL");
    expect(book.look(TUESDAY).touches).toEqual([]);
    expect(reasons()).toEqual(["mailbox_unreachable"]);
  });
});
