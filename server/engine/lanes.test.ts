/** Servers that hang, trickle or send strangers' monsters: each costs its own mailbox, and nobody else. */
import { createServer, type Server } from "node:net";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { startSequence } from "../sequences/start-sequence.ts";
import { freePort } from "../tests/free-port.ts";
import {
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  rows,
  type Standin,
  startStandin,
  type World,
} from "../tests/world.ts";
import { health } from "../web/health.ts";
import { Lanes } from "./lanes.ts";
import { Engine } from "./tick.ts";

let standin: Standin;
let world: World;
let engine: Engine;
const servers: Server[] = [];
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());
beforeEach(async () => {
  world = await createWorld({ standin });
  engine = new Engine(world.app, { patience: 1_500 });
});
afterEach(async () => {
  for (const server of servers.splice(0)) server.close();
  await engine.close();
  await world.close();
});

/** A server that takes a connection and then says what `say` says, whenever it wants. */
async function serve(say: (write: (words: string) => void) => void): Promise<number> {
  const port = await freePort();
  const server = createServer((socket) => {
    socket.on("error", () => {});
    say((words) => socket.writable && socket.write(words));
  });
  servers.push(server);
  await new Promise<void>((ready) => server.listen(port, "127.0.0.1", ready));
  return port;
}

describe("one bad server", () => {
  it.each([
    ["says nothing at all", () => {}],
    [
      "sends a byte now and then, for ever",
      (write: (words: string) => void) => {
        write("* OK [CAPABILITY IMAP4rev1 AUTH=PLAIN] ready\r\n");
        const timer = setInterval(() => write("* OK still here\r\n"), 200);
        setTimeout(() => clearInterval(timer), 60_000).unref();
      },
    ],
  ])("that %s keeps no other mailbox from reading and sending", async (_, say) => {
    const good = await addMailbox(world, "marta@quillwater.example", { gapLeast: 0, gapMost: 0 });
    const bad = await addMailbox(world, "m.quintela@quillwater.example", { gapLeast: 0, gapMost: 0 });
    world.app.db.exec(`UPDATE mailboxes SET imap_port = ${await serve(say)} WHERE id = ${bad}`);
    const names = ["ana", "bia", "caio"];
    startSequence(world.app, world.userId, addSequence(world, addPeople(world, names), [good]));
    for (let tick = 0; tick < 3; tick++) await engine.tick();
    expect(await world.deliveries()).toHaveLength(3);
    expect(rows(world, "SELECT id FROM mailboxes WHERE read_wall IS NOT NULL")).toEqual([{ id: good }]);
  });

  it("shows in the health, which judges by what was finished", async () => {
    const id = await addMailbox(world, "marta@quillwater.example");
    world.app.db.exec(
      "INSERT INTO engine_lease (id, holder, expires_wall, ticked_wall) VALUES (1, 'x', 0, 0)",
    );
    await engine.tick();
    const wall = Date.now();
    world.app.db.exec(`UPDATE engine_lease SET ticked_wall = ${wall}`);
    expect(health(world.app, wall)).toMatchObject({ ok: true, mailboxes: { total: 1, late: [] } });
    world.app.db.exec(`UPDATE mailboxes SET read_wall = ${wall - 20 * 60_000} WHERE id = ${id}`);
    expect(health(world.app, wall)).toMatchObject({
      ok: false,
      mailboxes: { late: ["marta@quillwater.example"] },
    });
    expect(health(world.app, wall + 61_000)).toMatchObject({ ok: false, engine: false });
  });
});

describe("a lane", () => {
  it("does one thing at a time, and is free again after it failed", async () => {
    const lanes = new Lanes();
    let end: () => void = () => {};
    const first = lanes.run(1, () => new Promise<void>((resolve) => (end = resolve)));
    expect(lanes.run(1, async () => {})).toBeNull();
    expect(lanes.run(2, async () => "other")).not.toBeNull();
    end();
    await first;
    await lanes.run(1, () => Promise.reject(new Error("broken")))?.catch(() => {});
    expect(await lanes.run(1, async () => "free")).toBe("free");
  });
});

describe("strangers' mail", () => {
  it("of any size and shape costs the reading nothing; what it holds is kept or set aside, and what follows is read", async () => {
    const address = "marta@quillwater.example";
    const id = await addMailbox(world, address, { gapLeast: 0, gapMost: 0 });
    startSequence(world.app, world.userId, addSequence(world, addPeople(world, ["ana", "bia"]), [id]));
    for (let tick = 0; tick < 3; tick++) await engine.tick();
    const deliver = (raw: string) => world.tell("/deliver", { mailbox: address, raw });
    const from = (name: string, lines: string[], body: string) =>
      [
        `From: ${name}@${name}-museum.example`,
        `Message-ID: <${Math.random()}@x.example>`,
        "Subject: Re: Loans",
        ...lines,
        "",
        body,
      ].join("\r\n");
    await deliver(from("ana", [], `Yes${"\r\n".repeat(450_000)}`));
    await deliver(from("ana", ["Content-Type: text/html"], "<div>".repeat(150_000)));
    await deliver(`From: mailer-daemon@x.example\r\nSubject: failure notice\r\n\r\n<${"a@".repeat(300_000)}`);
    await deliver(from("ana", [`X-Long: ${"a".repeat(500_000)}`], "Yes"));
    await deliver(from("bia", [], "Yes, please."));
    for (let tick = 0; tick < 40; tick++) {
      await engine.tick();
      if (rows(world, "SELECT 1 FROM journeys WHERE state = 'stopped'").length === 2) break;
      await new Promise((next) => setTimeout(next, 250));
    }
    expect(rows(world, "SELECT DISTINCT stop_reason FROM journeys")).toEqual([{ stop_reason: "replied" }]);
  });
});
