/**
 * The connection ends after the final dot and before the server's word: the host has the email, and nobody here was told.
 * However often that happens, nobody gets it twice.
 */
import { connect, createServer, type Server } from "node:net";
import { afterAll, beforeAll, expect, it } from "vitest";
import { Engine } from "../../engine/tick.ts";
import { undecidedEmails } from "../../sending/undecided.ts";
import { startSequence } from "../../sequences/start-sequence.ts";
import { freePort } from "../free-port.ts";
import { rows } from "../world.ts";
import { type Lab, labMailbox, labSequence, labWorld, PORTS, startLab } from "./lab.ts";

/** CUTS=50 for the whole measure; CI has less time. */
const CUTS = Number(process.env.CUTS ?? 4);
/** Who is written to once nothing is cut any more. */
const AFTER = 4;

let lab: Lab;
beforeAll(() => {
  lab = startLab();
});
afterAll(() => lab.stop());

/** Hands on to the host, and cuts both sides as its answer to a final dot comes, so many times. */
async function cuttingProxy(times: number): Promise<{ port: number; left: () => number; server: Server }> {
  let left = times;
  const port = await freePort();
  const server = createServer((client) => {
    const host = connect(PORTS.plain, "127.0.0.1");
    let tail = "";
    let isDotted = false;
    client.on("data", (piece) => {
      tail = (tail + piece.toString("latin1")).slice(-5);
      isDotted = tail === "\r\n.\r\n";
      host.write(piece);
    });
    host.on("data", (piece) => {
      if (isDotted && left > 0) {
        left--;
        client.destroy();
        host.destroy();
      } else client.write(piece);
    });
    for (const [one, other] of [
      [client, host],
      [host, client],
    ] as const) {
      one.on("error", () => other.destroy());
      one.on("close", () => other.destroy());
    }
  });
  await new Promise<void>((ready) => server.listen(port, "127.0.0.1", ready));
  return { port, left: () => left, server };
}

it.each([
  ["the host keeps copies", "ana"],
  ["there is no Sent folder at first", "ben"],
  ["the Sent folder is ours to fill", "cleo"],
])(
  `where %s, nobody has an email twice after ${CUTS} cuts behind the final dot`,
  async (_, name) => {
    const world = await labWorld({ SAUDADE_SETTLE: "2" });
    const proxy = await cuttingProxy(CUTS);
    const people = Array.from({ length: CUTS + AFTER }, (_each, index) => `p${index + 1}`);
    const subject = `Cut ${name} ${Date.now()}`;
    const id = labMailbox(world, lab, name, { smtpPort: proxy.port, smtpSecurity: "none" });
    const sequenceId = labSequence(world, id, people);
    world.app.db.prepare("UPDATE sequence_versions SET path = replace(path, 'Loans', ?)").run(subject);
    expect(startSequence(world.app, world.userId, sequenceId).ok).toBe(true);
    const engine = new Engine(world.app);
    const count = (where: string) =>
      rows<{ count: number }>(world, `SELECT count(*) AS count FROM touches WHERE ${where}`)[0]?.count ?? 0;
    const settled = () => count("state = 'sent'") + count("undecided_at IS NOT NULL");
    const until = Date.now() + 60_000 + CUTS * 8_000;
    while (settled() < people.length && Date.now() < until) {
      await engine.tick();
      // What is put off after a cut comes at once: here time is what the test has least of.
      world.app.db.exec(
        "UPDATE mailboxes SET smtp_retry_at = NULL; UPDATE journeys SET due_at = 0 WHERE state = 'active'",
      );
      await new Promise((next) => setTimeout(next, 50));
    }
    expect(settled()).toBe(people.length);
    expect(proxy.left()).toBe(0);
    const copiesOf = (person: string) =>
      lab.messages(`${person}@museum.example`).filter((text) => text.includes(`Subject: ${subject}`)).length;
    // The host has every one of them, cut or not, and each once.
    await expect
      .poll(() => people.filter((person) => copiesOf(person) === 0), { timeout: 60_000 })
      .toEqual([]);
    expect(people.filter((person) => copiesOf(person) > 1)).toEqual([]);
    console.log(
      JSON.stringify({
        situation: name,
        cuts: CUTS,
        undecided: undecidedEmails(world.app, null).total,
        sent: count("state = 'sent'"),
      }),
    );
    await engine.close();
    proxy.server.close();
    await world.close();
  },
  150_000 + CUTS * 12_000,
);
