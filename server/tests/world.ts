/** A small world for tests: a fresh database, the real mail stand-in, two mailboxes. */
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { EmailStep } from "../../core/sequence/path.ts";
import { createUser } from "../accounts/create-user.ts";
import type { User } from "../accounts/session.ts";
import { type AppTx, openApp } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { readConfig } from "../config.ts";
import { listNamed } from "../db/lists.ts";
import { migrate, sql } from "../db/open.ts";
import { startProcess } from "../processes.ts";
import { prospectStore } from "../prospects/people/store-prospect.ts";
import { saveMailbox } from "../sending/mailboxes/save-mailbox.ts";
import { createSequence } from "../sequences/create-sequence.ts";
import { saveSequence } from "../sequences/save-sequence.ts";
import { freePort } from "./free-port.ts";

export const TUESDAY = Date.parse("2026-06-09T10:00:00+01:00");
export const PASSWORD = "salt-and-paper";
/** Whose world it is. */
export const MARTA: User = {
  id: 1,
  name: "Marta Quintela",
  email: "marta@quillwater.example",
  zone: "Europe/Lisbon",
  bookingSlug: "",
  role: "rep",
};

/** An email as the mail stand-in received it. */
export interface Delivered {
  recipient: string;
  /** The mailbox that it says it is from. */
  sender: string | null;
  messageId: string;
  subject: string;
  at: number;
}

export interface World {
  /** In a test each statement may stand for itself. */
  app: AppTx;
  userId: number;
  user: User;
  smtpPort: number;
  env: Record<string, string>;
  tell: Standin["tell"];
  deliveries(): Promise<Delivered[]>;
  restartStandin(): Promise<void>;
  close(): Promise<void>;
}

export interface Standin {
  url: string;
  smtpPort: number;
  /** Throws what it refuses. */
  tell(path: string, body?: unknown): Promise<unknown>;
  restart(): Promise<void>;
  stop(): Promise<void>;
}

/** The mail stand-in, on ports of its own. Its people do only what a test says. */
export async function startStandin(): Promise<Standin> {
  const folder = mkdtempSync(join(tmpdir(), "saudade-standin-"));
  const [httpPort, smtpPort] = [await freePort(), await freePort()];
  const url = `http://127.0.0.1:${httpPort}`;
  const start = () =>
    startProcess("mail stand-in", "standins/mail/main.ts", {
      STANDIN_STATE: join(folder, "standin.db"),
      STANDIN_HTTP_PORT: String(httpPort),
      STANDIN_SMTP_PORT: String(smtpPort),
      STANDIN_PERSONAS: "off",
    });
  let process = await start();
  return {
    url,
    smtpPort,
    async tell(path, body) {
      const answer = await fetch(url + path, {
        method: "POST",
        // A line that rested for seconds may be closed at the moment at which it is used again.
        headers: { connection: "close" },
        body: body === undefined ? "" : JSON.stringify(body),
      });
      if (!answer.ok) throw new Error(await answer.text());
      return answer.json();
    },
    async restart() {
      await process.stop();
      process = await start();
    },
    async stop() {
      await process.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** The database with its first user. Kept, since the password's hash is slow on purpose. */
let beginning: Buffer | null = null;

/**
 * `standin`: one that is shared, and forgets for each world what was before; false for none. Without it the
 * world starts its own.
 */
export async function createWorld(
  options: { standin?: Standin | false; env?: Record<string, string> } = {},
): Promise<World> {
  const folder = mkdtempSync(join(tmpdir(), "saudade-"));
  const standin = options.standin ?? (await startStandin());
  const env = {
    SAUDADE_DB: join(folder, "test.db"),
    SAUDADE_KEY: "0".repeat(64),
    SAUDADE_STANDIN: standin ? standin.url : "http://127.0.0.1:9",
    SAUDADE_SETTLE: "1",
    SAUDADE_BACKUPS: "off",
    // The stand-ins are on this machine.
    SAUDADE_INSIDE: "127.0.0.1",
    SAUDADE_URL: "https://outreach.quillwater.example",
    ...options.env,
  };
  if (beginning) writeFileSync(env.SAUDADE_DB, beginning, { mode: 0o600 });
  const app = openApp(readConfig(env));
  if (!beginning) {
    migrate(app.db);
    setDemoClock(app.db, TUESDAY, false);
    await createUser(app, {
      name: "Marta Quintela",
      email: "marta@quillwater.example",
      password: PASSWORD,
      zone: "Europe/Lisbon",
    });
    beginning = app.db.serialize();
  }
  const tell: Standin["tell"] = (path, body) => {
    if (!standin) throw new Error("This world has no stand-in.");
    return standin.tell(path, body);
  };
  if (standin) {
    if (options.standin) await tell("/forget");
    await tell("/clock", { now: TUESDAY, runs: false });
  }
  return {
    app: app as AppTx,
    userId: 1,
    user: { ...MARTA },
    smtpPort: standin ? standin.smtpPort : 9,
    env,
    tell,
    deliveries: () => tell("/deliveries") as ReturnType<World["deliveries"]>,
    restartStandin: async () => {
      if (standin) await standin.restart();
    },
    async close() {
      if (standin && !options.standin) await standin.stop();
      app.db.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** A mailbox whose server is never asked. */
export function addUnasked({ app, user }: World, address = "marta@quillwater.example"): number {
  const saved = saveMailbox(app, user, {
    ...{ address, senderName: "Marta", signature: "Marta", username: "marta", password: PASSWORD },
    ...{ smtpHost: "127.0.0.1", smtpPort: 9, smtpSecurity: "none", imapHost: "127.0.0.1", imapPort: 9 },
    ...{ imapSecurity: "none", dailyLimit: 30, gapLeast: 9, gapMost: 14 },
  });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
  app.db.exec("UPDATE mailboxes SET connected_wall = 1");
  return saved.value;
}

/** An app over a copy of a database as it stood (`db.serialize()`), for tests that each change the same world. */
export function openCopy(image: Buffer): AppTx & { close(): void } {
  const folder = mkdtempSync(join(tmpdir(), "saudade-copy-"));
  const database = join(folder, "test.db");
  writeFileSync(database, image, { mode: 0o600 });
  const app = openApp(
    readConfig({
      SAUDADE_DB: database,
      SAUDADE_KEY: "0".repeat(64),
      SAUDADE_BACKUPS: "off",
      SAUDADE_STANDIN: "http://127.0.0.1:9",
      SAUDADE_URL: "https://outreach.quillwater.example",
    }),
  );
  const close = () => {
    app.db.close();
    rmSync(folder, { recursive: true, force: true });
  };
  return { ...(app as AppTx), close };
}

/** The same for what is done at once: closed afterwards. */
export function inCopyOf<T>(image: Buffer, work: (app: AppTx) => T): T {
  const app = openCopy(image);
  try {
    return work(app);
  } finally {
    app.close();
  }
}

export async function addMailbox(
  world: World,
  address: string,
  change: Record<string, unknown> = {},
): Promise<number> {
  const imapPort = await freePort();
  await world.tell("/mailboxes", { address, password: PASSWORD, imapPort });
  const saved = saveMailbox(world.app, world.user, {
    address,
    senderName: "Marta Quintela",
    signature: "Marta Quintela\nQuillwater",
    smtpHost: "127.0.0.1",
    smtpPort: world.smtpPort,
    smtpSecurity: "none",
    imapHost: "127.0.0.1",
    imapPort,
    imapSecurity: "none",
    username: address,
    password: PASSWORD,
    dailyLimit: 30,
    gapLeast: 9,
    gapMost: 14,
    ...change,
  });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
  // As the check before it was added left it: a mailbox that never connected does not send.
  sql(world.app.db, "UPDATE mailboxes SET connected_wall = 1 WHERE id = @id").run({
    id: saved.value,
  });
  return saved.value;
}

/** A list of people at `<name>@<name>-museum.example`. */
export function addPeople({ app }: World, names: string[], listName = "Museums"): number {
  const now = app.clock.now();
  const listId = listNamed(app.db, listName, now, { ownerId: 1 });
  const store = prospectStore(app.db, {
    origin: "typed",
    originId: null,
    ownerId: null,
    listId,
    importId: null,
    now,
  });
  const blank = { lastName: "", title: "", city: "", country: "", language: "", phone: "", profile: "" };
  app.db
    .transaction(() => {
      for (const name of names) {
        const domain = `${name}-museum.example`;
        const fields = {
          ...blank,
          firstName: name,
          company: `${name} museum`,
          companyDomain: domain,
          timeZone: "Europe/Lisbon",
        };
        store({ email: `${name}@${domain}`, fields, custom: {}, changes: [] });
      }
    })
    .immediate();
  return listId;
}

/** An email of a sequence, so many working days after the touch before. */
export function email(
  id: string,
  days: number,
  { name = id, subject = "", body = "Hello" }: { name?: string; subject?: string; body?: string } = {},
): EmailStep {
  return {
    id,
    kind: "email",
    name,
    note: "",
    wait: { days, working: true },
    variants: [{ id: "a", weight: 1, subject, body }],
    format: "formatted",
    quotes: false,
    attachments: [],
  };
}

export function addSequence(
  world: World,
  listId: number,
  mailboxIds: number[],
  change: Record<string, unknown> = {},
): number {
  const created = createSequence(world.app, world.userId, { name: "Loans" });
  if (!created.ok) throw new Error("no sequence");
  const saved = saveSequence(world.app, {
    id: created.value,
    name: "Loans",
    listId,
    zone: "Europe/Lisbon",
    days: [1, 2, 3, 4, 5],
    opens: "08:30",
    closes: "17:00",
    settings: { tracksOpens: true, tracksClicks: true, holidays: false, holdsCompany: false, awayDays: 0 },
    // No server of these tests can be asked about addresses.
    writesTo: "any",
    mailboxIds,
    path: [
      email("one", 0, { name: "Opening", subject: "Loans at {{ company }}", body: "Hello {{ first_name }}" }),
      email("two", 2, { name: "Follow-up", body: "One thing more: {{ booking_link }}" }),
      email("three", 3, { name: "Close", subject: "Shall I close this?", body: "Hello again" }),
    ],
    ...change,
  });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
  return created.value;
}

/** Puts one person on their way, as a start does. */
export function addJourney({ app }: World, sequenceId: number, prospectId: number): void {
  sql(
    app.db,
    `INSERT INTO journeys (sequence_id, prospect_id, version, place_id, since, due_at, wake_at, started_at)
     SELECT @sequenceId, @prospectId, max(number), path ->> '$[0].id', @now, @now, @now, @now
     FROM sequence_versions WHERE sequence_id = @sequenceId`,
  ).run({ sequenceId, prospectId, now: app.clock.now() });
}

/** Every row of a query, for looking into the database. */
export function rows<Row>(world: World, text: string): Row[] {
  return sql(world.app.db, text).all<Row>([]);
}
