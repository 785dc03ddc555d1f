/** The engine's send rate against a bare nodemailer pool to the same stand-in. */
import nodemailer from "nodemailer";
import { Engine } from "../server/engine/tick.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import {
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  email,
  PASSWORD,
  rows,
  type World,
} from "../server/tests/world.ts";
import { type Figure, median } from "./figure.ts";

const EMAILS = 400;
const MAILBOXES = 2;
const ROUNDS = 3;
/** As many as the engine opens for each mailbox. */
const CONNECTIONS = 4;

const address = (round: number, box: number) => `sender${round}-${box}@quillwater.example`;

async function bare(world: World, round: number): Promise<number> {
  const pools = Array.from({ length: MAILBOXES }, (_, box) =>
    nodemailer.createTransport({
      host: "127.0.0.1",
      port: world.smtpPort,
      ignoreTLS: true,
      auth: { user: address(round, box), pass: PASSWORD },
      pool: true,
      maxConnections: CONNECTIONS,
      maxMessages: Number.POSITIVE_INFINITY,
    }),
  );
  const began = performance.now();
  await Promise.all(
    Array.from({ length: EMAILS }, (_, index) =>
      pools[index % MAILBOXES]?.sendMail({
        from: address(round, index % MAILBOXES),
        to: `bare${round}-${index}@museum.example`,
        subject: "Loans",
        text: "Hello, one question about your loans.",
      }),
    ),
  );
  const took = performance.now() - began;
  for (const pool of pools) pool.close();
  return EMAILS / (took / 1000);
}

async function ours(world: World, round: number, mailboxIds: number[]): Promise<number> {
  const listId = addPeople(
    world,
    Array.from({ length: EMAILS }, (_, index) => `round${round}-${index}`),
    `Bench ${round}`,
  );
  const sequenceId = addSequence(world, listId, mailboxIds, {
    settings: {},
    path: [email("one", 0, { subject: "Loans", body: "Hello {{ first_name }}, one question." })],
  });
  startSequence(world.app, world.userId, sequenceId);
  const engine = new Engine(world.app);
  const sent = () =>
    rows<{ count: number }>(world, "SELECT count(*) AS count FROM touches WHERE state = 'sent'")[0]?.count ??
    0;
  const before = sent();
  const began = performance.now();
  while (sent() - before < EMAILS) await engine.tick();
  const took = performance.now() - began;
  await engine.close();
  return EMAILS / (took / 1000);
}

export async function benchSend(): Promise<Figure> {
  const world = await createWorld();
  // As where real emails are sent: each claim is on the disk before its email leaves.
  world.app.db.pragma("synchronous = FULL");
  const baselines: number[] = [];
  const measured: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const mailboxIds: number[] = [];
    for (let box = 0; box < MAILBOXES; box++)
      mailboxIds.push(
        await addMailbox(world, address(round, box), { dailyLimit: 500, gapLeast: 0, gapMost: 0 }),
      );
    baselines.push(await bare(world, round));
    measured.push(await ours(world, round, mailboxIds));
  }
  await world.close();
  return {
    bench: "send",
    ratio: Number((median(measured) / median(baselines)).toFixed(2)),
    limit: 0.6,
    kind: "least",
    emails: EMAILS,
    perSecond: Math.round(median(measured)),
    baselinePerSecond: Math.round(median(baselines)),
  };
}
