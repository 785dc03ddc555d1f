import { afterEach, beforeEach, expect, it } from "vitest";
import { apply } from "../consequences/apply.ts";
import { enterTouch, settleRefused, type Touch, touchById } from "../db/ledger.ts";
import {
  addJourney,
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  rows,
  type World,
} from "../tests/world.ts";
import { countMistakenBlocks, undoMistakenBlocks } from "./mistaken-blocks.ts";

let world: World;
let mailboxId: number;
beforeEach(async () => {
  world = await createWorld();
  mailboxId = await addMailbox(world, "marta@quillwater.example");
});
afterEach(() => world.close());

/** What an earlier version wrote down after any refusal. */
function refusedAsBefore(prospectId: number, name: string, words: string): void {
  const { db } = world.app;
  const recipient = `${name}@${name}-museum.example`;
  const id = enterTouch(db, {
    kind: "email",
    journeyId: prospectId,
    stepId: "one",
    version: 1,
    prospectId,
    mailboxId,
    recipient,
    state: "claimed",
    messageId: `<${name}@quillwater.example>`,
    inReplyTo: null,
    references: "",
    subject: "Loans",
    body: "Hello",
    markup: null,
    claimedAt: 0,
    claimedWall: 0,
  });
  settleRefused(db, touchById(db, id as number) as Touch, words);
  const about = { at: 0, prospectId, journeyId: prospectId, touchId: id, mailboxId, recipient };
  apply(db, { kind: "bounced", hard: true, words }, about);
}
const blocked = () =>
  rows<{ value: string }>(world, "SELECT value FROM block_list ORDER BY id").map(({ value }) => value);

it("what was blocked for the mailbox's fault is let go and written to again; what bounced stays", () => {
  const list = addPeople(world, ["ana", "bia", "caio"]);
  const sequence = addSequence(world, list, [mailboxId]);
  for (const prospect of [1, 2, 3]) addJourney(world, sequence, prospect);
  refusedAsBefore(1, "ana", "553 5.7.1 <m@other.example>: Sender address rejected: not owned by user marta");
  refusedAsBefore(2, "bia", "550 5.1.1 <bia@bia-museum.example>: Recipient address rejected: User unknown");
  refusedAsBefore(3, "caio", "554 5.7.1 <caio@caio-museum.example>: Relay access denied");
  expect(blocked()).toHaveLength(3);

  expect(countMistakenBlocks(world.app)).toBe(2);
  expect(undoMistakenBlocks(world.app, null)).toMatchObject({ value: 2 });
  expect(blocked()).toEqual(["bia@bia-museum.example"]);
  expect(rows(world, "SELECT state, stop_reason AS why FROM journeys ORDER BY id")).toEqual([
    { state: "active", why: null },
    { state: "stopped", why: "bounced" },
    { state: "active", why: null },
  ]);
  // The step counts as not written: its email goes out with the next plan.
  expect(rows(world, "SELECT 1 FROM touches WHERE journey_id IN (1, 3)")).toEqual([]);
  expect(countMistakenBlocks(world.app)).toBe(0);
  expect(undoMistakenBlocks(world.app, null)).toMatchObject({ value: 0 });
});

it("somebody who is written to by another sequence meanwhile is not written to twice", () => {
  const list = addPeople(world, ["ana"]);
  const [first, second] = [addSequence(world, list, [mailboxId]), addSequence(world, list, [mailboxId])];
  addJourney(world, first, 1);
  refusedAsBefore(1, "ana", "553 5.7.1 Sender address rejected: not owned by user marta");
  addJourney(world, second, 1);
  expect(undoMistakenBlocks(world.app, null)).toMatchObject({ value: 1 });
  expect(rows(world, "SELECT state FROM journeys ORDER BY id")).toEqual([
    { state: "stopped" },
    { state: "active" },
  ]);
});
