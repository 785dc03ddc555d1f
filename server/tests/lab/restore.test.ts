/** A copy of before is put back on real servers, after emails went out: the Sent folders tell of them, and nobody has one twice. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { openApp } from "../../app.ts";
import { readConfig } from "../../config.ts";
import { backUp, restore } from "../../db/backup.ts";
import { afterRestore } from "../../engine/after-restore.ts";
import { Engine } from "../../engine/tick.ts";
import { decideRestored, restored } from "../../sending/restored.ts";
import { startSequence } from "../../sequences/start-sequence.ts";
import { rows, type World } from "../world.ts";
import { type Lab, labMailbox, labSequence, labWorld, startLab } from "./lab.ts";

let lab: Lab;
beforeAll(() => {
  lab = startLab();
});
afterAll(() => lab.stop());

const people = Array.from({ length: 12 }, (_each, index) => `p${index + 1}`);

it.each([
  ["the host keeps copies", "ana"],
  ["the copies are ours", "cleo"],
])(
  "where %s, nobody is written to again, and a reply of meanwhile counts",
  async (_, name) => {
    const folder = mkdtempSync(join(tmpdir(), "saudade-restore-"));
    const world = await labWorld({ SAUDADE_SETTLE: "2" });
    const subject = `Restore ${name} ${Date.now()}`;
    const id = labMailbox(world, lab, name);
    const sequenceId = labSequence(world, id, people);
    world.app.db.prepare("UPDATE sequence_versions SET path = replace(path, 'Loans', ?)").run(subject);
    let engine = new Engine(world.app);
    const count = (of: World, where: string) =>
      rows<{ n: number }>(of, `SELECT count(*) AS n FROM touches WHERE ${where}`)[0]?.n ?? 0;
    const tickUntil = async (isSo: () => boolean, seconds = 40) => {
      for (const end = Date.now() + seconds * 1000; Date.now() < end && !isSo(); ) {
        await engine.tick();
        await new Promise((next) => setTimeout(next, 100));
      }
      expect(isSo()).toBe(true);
    };
    // The copy knows the mailbox, whose inbox was read, and nothing of what goes out then.
    await tickUntil(() => rows(world, "SELECT 1 FROM mailboxes WHERE connected_wall > 1").length === 1);
    expect(startSequence(world.app, world.userId, sequenceId).ok).toBe(true);
    await backUp(world.app.config.database, world.app.key, join(folder, "copy.db"));
    await tickUntil(() => count(world, "state = 'sent' AND copy_due = 0") === people.length);
    const [answered] = rows<{ messageId: string }>(
      world,
      "SELECT message_id AS messageId FROM touches WHERE recipient = 'p1@museum.example'",
    );
    await lab.deliver(
      [
        "From: p1@museum.example",
        `To: ${name}@sender.example`,
        `Subject: Re: ${subject}`,
        `In-Reply-To: ${answered?.messageId}`,
        `Message-ID: <${Math.random()}@x.example>`,
        "",
        "Gladly, tell me more.",
      ].join("\r\n"),
      `${name}@sender.example`,
    );
    await engine.close();
    world.app.db.close();

    const database = join(folder, "restored.db");
    restore(join(folder, "copy.db"), database, "0".repeat(64), Date.now());
    world.app = openApp(readConfig({ ...world.env, SAUDADE_DB: database })) as World["app"];
    afterRestore(world.app);
    engine = new Engine(world.app);
    await tickUntil(() => rows(world, "SELECT 1 FROM recoveries WHERE ended_at IS NOT NULL").length === 1);
    // Who is left over waits for a person; here there is nobody.
    expect(restored(world.app, null)).toMatchObject({
      total: 0,
      recovery: { found: people.length, held: 0 },
    });
    decideRestored(world.app, world.userId, { intent: "go_on", ids: null });
    for (let nth = 0; nth < 20; nth++) await engine.tick();
    expect(count(world, "state = 'sent'")).toBe(people.length);
    const copiesOf = (person: string) =>
      lab.messages(`${person}@museum.example`).filter((text) => text.includes(`Subject: ${subject}`)).length;
    expect(people.map(copiesOf)).toEqual(people.map(() => 1));
    await tickUntil(() => rows(world, "SELECT 1 FROM replies WHERE kind = 'person'").length === 1);
    await engine.close();
    await world.close();
    rmSync(folder, { recursive: true, force: true });
  },
  240_000,
);
