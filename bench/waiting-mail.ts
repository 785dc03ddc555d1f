/** A mailbox in which 2,000 messages wait, a few of them replies to us: what its first reading costs, against fetching all of it. */
import { ImapFlow } from "imapflow";
import { mailboxById } from "../server/db/mailboxes.ts";
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
} from "../server/tests/world.ts";
import type { Figure } from "./figure.ts";

const WAITING = 2_000;
const REPLIES = 20;
const BODY = `${"A line of a letter that has nothing to do with us.\r\n".repeat(400)}`;
const ADDRESS = "marta@quillwater.example";

const message = (nth: number, from: string, answers = "") =>
  `From: ${from}\r\nTo: ${ADDRESS}\r\nSubject: Letter ${nth}\r\nMessage-ID: <w${nth}@x.example>\r\n${answers}\r\n${BODY}`;

/** Runs `work` and says how long it took, and how much this process grew at the most meanwhile. */
async function measured(work: () => Promise<unknown>): Promise<{ ms: number; megabytes: number }> {
  const before = process.memoryUsage().rss;
  let most = before;
  const timer = setInterval(() => {
    most = Math.max(most, process.memoryUsage().rss);
  }, 20);
  const began = performance.now();
  await work();
  clearInterval(timer);
  return { ms: performance.now() - began, megabytes: Math.round((most - before) / 1e6) };
}

export async function benchWaitingMail(): Promise<Figure> {
  const world = await createWorld();
  const id = await addMailbox(world, ADDRESS, { dailyLimit: 500, gapLeast: 0, gapMost: 0 });
  const closing: (() => Promise<void>)[] = [];
  try {
    const names = Array.from({ length: REPLIES }, (_, nth) => `p${nth}`);
    const sequence = addSequence(world, addPeople(world, names), [id], {
      path: [email("one", 0, { subject: "Loans" })],
    });
    startSequence(world.app, world.userId, sequence);
    const engine = new Engine(world.app);
    closing.push(() => engine.close());
    const sent = () =>
      rows<{ id: string }>(world, "SELECT message_id AS id FROM touches WHERE state = 'sent' ORDER BY id");
    while (sent().length < REPLIES) await engine.tick();
    const ids = sent();
    for (let nth = 0; nth < WAITING; nth++) {
      const reply = nth % (WAITING / REPLIES) === 0 ? nth / (WAITING / REPLIES) : null;
      const raw =
        reply === null
          ? message(nth, "news@letters.example")
          : message(nth, `p${reply}@p${reply}-museum.example`, `In-Reply-To: ${ids[reply]?.id}\r\n`);
      await world.tell("/deliver", { mailbox: ADDRESS, raw });
    }
    const port = mailboxById(world.app.db, id)?.imapPort ?? 0;
    const whole = await measured(async () => {
      const client = new ImapFlow({
        host: "127.0.0.1",
        port,
        secure: false,
        auth: { user: ADDRESS, pass: PASSWORD },
        logger: false,
      });
      await client.connect();
      await client.mailboxOpen("INBOX");
      await client.fetchAll("1:*", { source: true });
      await client.logout();
    });
    const read = () => rows(world, "SELECT 1 FROM replies").length;
    const ours = await measured(async () => {
      while (read() < REPLIES) await engine.tick();
    });
    return {
      bench: "waiting-mail",
      ratio: Number((ours.ms / whole.ms).toFixed(2)),
      limit: 2.5,
      kind: "most",
      waiting: WAITING,
      seconds: Number((ours.ms / 1_000).toFixed(1)),
      wholeSeconds: Number((whole.ms / 1_000).toFixed(1)),
      megabytes: ours.megabytes,
      wholeMegabytes: whole.megabytes,
    };
  } finally {
    for (const close of closing) await close();
    await world.close();
  }
}
