/** Whatever can be paused says by whom and since when, in one shape. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { setDemoClock } from "../clock.ts";
import { seal } from "../secrets.ts";
import { setMailboxState } from "../sending/mailboxes/save-mailbox.ts";
import { setSequenceState } from "../sequences/save-sequence.ts";
import { changePeople } from "../sequences/sequence-people.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { removeAccount, setAccountPaused } from "../social/accounts.ts";
import {
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  rows,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { type Pausable, pauseOf } from "./pauses.ts";
import { type Sequence, sequenceById } from "./sequences.ts";

let world: World;
let sequenceId: number;

beforeAll(async () => {
  world = await createWorld({ standin: false });
  const { app, userId } = world;
  sequenceId = addSequence(world, addPeople(world, ["ana"]), [addUnasked(world)]);
  startSequence(app, userId, sequenceId);
  app.db
    .prepare(
      "INSERT INTO social_accounts (id, user_id, name, url, token_sealed, created_at) VALUES (1, 1, 'Marta', 'http://127.0.0.1:9', ?, 0)",
    )
    .run(seal("token", app.key));
});
afterAll(() => world.close());

const PRESS: Record<Pausable, (isPaused: boolean) => { ok: boolean }> = {
  sequence: (isPaused) =>
    setSequenceState(world.app, world.userId, sequenceId, isPaused ? "paused" : "running"),
  mailbox: (isPaused) => setMailboxState(world.app, world.user, 1, isPaused ? "paused" : "active"),
  account: (isPaused) => setAccountPaused(world.app, world.user, 1, isPaused),
  journey: (isPaused) =>
    changePeople(world.app, world.userId, sequenceById(world.app.db, sequenceId) as Sequence, [1], {
      do: isPaused ? "pause" : "resume",
    }),
};

it("an account that was disconnected while it was paused leaves no pause to the next one of its number", () => {
  const { app, user } = world;
  PRESS.account(true);
  app.db.exec("SAVEPOINT gone");
  expect(removeAccount(app, user, 1).ok).toBe(true);
  expect(pauseOf(app.db, "account", 1)).toBeNull();
  app.db.exec("ROLLBACK TO gone; RELEASE gone");
  PRESS.account(false);
  app.db.exec("DELETE FROM pauses");
});

for (const [of, press] of Object.entries(PRESS) as [Pausable, (isPaused: boolean) => { ok: boolean }][])
  it(`a ${of}: by whom and when; a second press changes neither, and the record of it stays`, () => {
    const { db } = world.app;
    const id = of === "sequence" ? sequenceId : 1;
    setDemoClock(db, TUESDAY, false);
    expect(pauseOf(db, of, id)).toBeNull();
    expect(press(true).ok).toBe(true);
    setDemoClock(db, TUESDAY + 60_000, false);
    press(true);
    expect(pauseOf(db, of, id)).toEqual({ by: "Marta Quintela", at: TUESDAY });
    expect(press(false).ok).toBe(true);
    expect(pauseOf(db, of, id)).toBeNull();
    expect(rows(world, `SELECT at, ended_at, ended_by FROM pauses WHERE of = '${of}'`)).toEqual([
      { at: TUESDAY, ended_at: TUESDAY + 60_000, ended_by: 1 },
    ]);
  });
