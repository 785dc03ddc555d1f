/** The ramp exchange between real mailboxes: mail goes and is answered, and nothing of it shows anywhere else. */
import { expect, it } from "vitest";
import { DAY } from "../../core/calendar.ts";
import { saveSendingSettings } from "../sending/rules.ts";
import { addMailbox, createWorld, rows, TUESDAY } from "../tests/world.ts";
import { advance } from "./advance.ts";
import { Engine } from "./tick.ts";

it("goes only when it is wanted, is answered, counts against the day's limit, and is nobody's reply", async () => {
  const world = await createWorld();
  const young = { rampStart: 3, rampStep: 1 };
  await addMailbox(world, "one@quillwater-a.example", young);
  await addMailbox(world, "two@quillwater-b.example", young);
  const engine = new Engine(world.app);
  const until = (at: number) => advance(engine, { id: 0, kind: "until", until: at }, () => true, false);
  const mails = () =>
    rows<{ sent: number; arrived: number; answers: number }>(
      world,
      `SELECT count(sent_at) AS sent, count(arrived_at) AS arrived,
         count(CASE WHEN in_reply_to IS NOT NULL AND sent_at IS NOT NULL THEN 1 END) AS answers FROM exchange_mails`,
    )[0];
  await until(TUESDAY + DAY);
  expect(mails()).toEqual({ sent: 0, arrived: 0, answers: 0 });

  saveSendingSettings(world.app, null, { rampExchange: true });
  await until(TUESDAY + 12 * DAY);
  const seen = mails();
  expect(seen?.sent).toBeGreaterThan(10);
  expect(seen?.arrived).toBeGreaterThan(10);
  expect(seen?.answers).toBeGreaterThan(2);
  // At their hours, and not whenever the engine happens to look.
  expect(
    rows(world, "SELECT 1 FROM exchange_mails WHERE in_reply_to IS NULL AND sent_at - due_at > 3600000"),
  ).toEqual([]);
  for (const table of ["replies", "touches", "events", "set_aside"])
    expect(rows(world, `SELECT * FROM ${table}`), table).toEqual([]);

  saveSendingSettings(world.app, null, { rampExchange: false });
  const before = mails()?.sent;
  await until(TUESDAY + 14 * DAY);
  expect(mails()?.sent).toBe(before);
  await engine.close();
  await world.close();
});
