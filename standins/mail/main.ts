/**
 * The mail stand-in's process: SMTP in, IMAP out, and an HTTP door through which the demo's clock
 * and the tests steer it. Settings come from the environment, so that nothing of it is shared code.
 */
import { createServer } from "node:http";
import { z } from "zod";
import { listen, serve } from "../process.ts";
import { createExchanger } from "./exchanger.ts";
import { type MailboxServer, serveMailbox } from "./mailbox-server.ts";
import { createMoods, MISBEHAVIOURS } from "./misbehaviour.ts";
import { createRecipients } from "./recipients.ts";
import { openState } from "./state.ts";
import { createSubmission } from "./submission.ts";

const settings = z
  .object({
    STANDIN_STATE: z.string(),
    STANDIN_HTTP_PORT: z.coerce.number().int(),
    STANDIN_SMTP_PORT: z.coerce.number().int(),
    /** Where the recipients' own servers are asked who is there. */
    STANDIN_EXCHANGER_PORT: z.coerce.number().int().optional(),
    STANDIN_SEED: z.string().default("saudade"),
    /** "off": recipients take their mail and do nothing by themselves. */
    STANDIN_PERSONAS: z.enum(["on", "off"]).default("on"),
  })
  .parse(process.env);

const state = openState(settings.STANDIN_STATE);
const moods = createMoods();
const mailboxes = new Map<string, MailboxServer>();

/** How many messages came into inboxes. */
let arrived = 0;
function store(address: string, folder: "INBOX" | "Sent", raw: Buffer, at: number): void {
  if (folder === "INBOX") arrived++;
  state.keepMessage({ address, folder, raw, at });
  mailboxes.get(address)?.append({ folder, raw, at });
}

const recipients = createRecipients(
  state,
  settings.STANDIN_PERSONAS === "on" ? settings.STANDIN_SEED : null,
  (mailbox, raw, at) => store(mailbox, "INBOX", raw, at),
);
const submission = createSubmission({ state, recipients, moods, store });
submission.on("error", () => {}); // a client that went away

async function open(account: { address: string; password: string; imapPort: number }): Promise<void> {
  if (mailboxes.has(account.address)) return;
  state.addAccount(account);
  mailboxes.set(account.address, await serveMailbox(account, state.messagesOf(account.address)));
}

/** One after the other: what an action causes may be due in the same stretch. */
let acting: Promise<unknown> = Promise.resolve();
function actUpTo(now: number): Promise<unknown> {
  acting = acting
    .then(async () => {
      for (let due = state.nextDue(now); due; due = state.nextDue(now)) {
        await recipients.act(due, Math.max(due.due, Math.min(now, state.now())));
        state.finish(due.id);
      }
    })
    .catch((error) => console.error(error));
  return acting;
}

const bodies = {
  "/clock": z.object({ now: z.number(), runs: z.boolean() }),
  "/mailboxes": z.object({ address: z.string(), password: z.string(), imapPort: z.number() }),
  "/people": z.array(
    z.object({
      address: z.string(),
      firstName: z.string(),
      lastName: z.string(),
      zone: z.string(),
      gone: z.boolean(),
      leaning: z
        .object({
          answers: z.number(),
          words: z.array(z.object({ holds: z.string(), times: z.number() })),
          hours: z.object({ from: z.number(), to: z.number(), times: z.number() }).nullable(),
        })
        .optional(),
    }),
  ),
  "/disfavour": z.object({ sender: z.string(), since: z.number() }),
  "/misbehave": z.object({ kind: z.enum(MISBEHAVIOURS), times: z.number(), ms: z.number().optional() }),
  "/deliver": z.object({ mailbox: z.string(), raw: z.string() }),
};

/** Begins anew, as if just started on an empty file. */
async function forget(): Promise<void> {
  await acting;
  await Promise.all([...mailboxes.values()].map((mailbox) => mailbox.close()));
  mailboxes.clear();
  moods.clear();
  state.clear();
}

async function answer(path: string, body: unknown): Promise<unknown> {
  switch (path) {
    case "/clock": {
      const { now, runs } = bodies[path].parse(body);
      state.setClock(now, runs);
      await actUpTo(now);
      return { next: state.nextAt(), arrived };
    }
    case "/mailboxes":
      await open(bodies[path].parse(body));
      return {};
    case "/people":
      state.addPeople(bodies[path].parse(body));
      return {};
    case "/disfavour": {
      const { sender, since } = bodies[path].parse(body);
      state.disfavour(sender, since);
      return {};
    }
    case "/misbehave": {
      const { kind, times, ms } = bodies[path].parse(body);
      moods.set(kind, times, ms);
      return {};
    }
    case "/deliver": {
      const { mailbox, raw } = bodies[path].parse(body);
      store(mailbox, "INBOX", Buffer.from(raw), state.now());
      return {};
    }
    case "/deliveries":
      return state.deliveries();
    case "/forget":
      await forget();
      return {};
    case "/healthz":
      return { ok: true };
    default:
      return null;
  }
}

const door = createServer(async (request, response) => {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  const text = Buffer.concat(chunks).toString();
  try {
    const result = await answer(request.url ?? "", text === "" ? null : JSON.parse(text));
    response.writeHead(result === null ? 404 : 200, { "content-type": "application/json" });
    response.end(JSON.stringify(result));
  } catch (error) {
    response.writeHead(400, { "content-type": "text/plain" });
    response.end(error instanceof Error ? error.message : String(error));
  }
});

setInterval(() => void actUpTo(state.now()), 1000);

await serve(async () => {
  for (const account of state.accounts()) await open(account);
  await listen(submission, settings.STANDIN_SMTP_PORT);
  if (settings.STANDIN_EXCHANGER_PORT) {
    const exchanger = createExchanger();
    exchanger.on("error", () => {}); // a client that went away
    await listen(exchanger, settings.STANDIN_EXCHANGER_PORT);
  }
  await listen(door, settings.STANDIN_HTTP_PORT);
});
