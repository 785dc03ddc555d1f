/** What the stand-in remembers across a restart: one SQLite file of its own. */
import Database from "better-sqlite3";
import { draw, type Leaning } from "./personas.ts";

export interface Account {
  address: string;
  password: string;
  imapPort: number;
}

export interface StoredMessage {
  address: string;
  folder: "INBOX" | "Sent";
  raw: Buffer;
  at: number;
}

/** Something a recipient will do, or that happens to an email on its way. */
export interface Pending {
  id: number;
  due: number;
  action:
    | "open"
    | "prefetch"
    | "scan"
    | "click"
    | "opt_out"
    | "book"
    | "move"
    | "reply"
    | "away"
    | "bounce"
    | "complaint";
  /** JSON: what the action needs. */
  detail: string;
}

export interface Person {
  address: string;
  firstName: string;
  lastName: string;
  zone: string;
  /** They have left; mail to them comes back after a while. */
  gone: boolean;
  leaning?: Leaning | undefined;
}

export interface Delivery {
  recipient: string;
  messageId: string;
  subject: string;
  at: number;
}

const COLLEAGUES = {
  first: ["Ada", "Bruno", "Dora", "Emil", "Flora", "Hugo", "Irma", "Leo", "Nora", "Oskar", "Selma", "Viktor"],
  last: [
    "Ahlberg",
    "Bastos",
    "Corbin",
    "Dahl",
    "Elster",
    "Fabre",
    "Holt",
    "Kramer",
    "Lind",
    "Moss",
    "Prado",
    "Voss",
  ],
};

export type State = ReturnType<typeof openState>;

export function openState(path: string) {
  const db = new Database(path);
  db.pragma("journal_mode = WAL");
  db.pragma("synchronous = NORMAL");
  db.exec(`
    CREATE TABLE IF NOT EXISTS account (address TEXT PRIMARY KEY, password TEXT NOT NULL, imap_port INTEGER NOT NULL);
    CREATE TABLE IF NOT EXISTS message (
      id INTEGER PRIMARY KEY, address TEXT NOT NULL, folder TEXT NOT NULL, raw BLOB NOT NULL, at INTEGER NOT NULL);
    CREATE TABLE IF NOT EXISTS pending (
      id INTEGER PRIMARY KEY, due INTEGER NOT NULL, action TEXT NOT NULL, detail TEXT NOT NULL);
    CREATE INDEX IF NOT EXISTS pending_by_due ON pending (due, id);
    CREATE TABLE IF NOT EXISTS person (
      address TEXT PRIMARY KEY, first_name TEXT NOT NULL, last_name TEXT NOT NULL, zone TEXT NOT NULL,
      gone INTEGER NOT NULL);
    CREATE TABLE IF NOT EXISTS delivery (
      id INTEGER PRIMARY KEY, recipient TEXT NOT NULL, message_id TEXT NOT NULL, subject TEXT NOT NULL, at INTEGER NOT NULL);
    CREATE TABLE IF NOT EXISTS delivery_sender (message_id TEXT PRIMARY KEY, sender TEXT NOT NULL);
    CREATE INDEX IF NOT EXISTS delivery_by_recipient ON delivery (recipient);
    CREATE TABLE IF NOT EXISTS leaning (address TEXT PRIMARY KEY, detail TEXT NOT NULL);
    CREATE TABLE IF NOT EXISTS disfavour (sender TEXT PRIMARY KEY, since INTEGER NOT NULL);
    CREATE TABLE IF NOT EXISTS clock (id INTEGER PRIMARY KEY CHECK (id = 1), base INTEGER NOT NULL, started_wall INTEGER);
  `);
  const get = {
    accounts: db.prepare<[], Account>(
      "SELECT address, password, imap_port AS imapPort FROM account ORDER BY rowid",
    ),
    messages: db.prepare<[string], StoredMessage>(
      "SELECT address, folder, raw, at FROM message WHERE address = ? ORDER BY id",
    ),
    due: db.prepare<[number], Pending>("SELECT * FROM pending WHERE due <= ? ORDER BY due, id LIMIT 1"),
    next: db.prepare<[], { due: number }>("SELECT due FROM pending ORDER BY due LIMIT 1"),
    person: db.prepare<[string], Person>(
      "SELECT address, first_name AS firstName, last_name AS lastName, zone, gone FROM person WHERE address = ?",
    ),
    leaning: db.prepare<[string], { detail: string }>("SELECT detail FROM leaning WHERE address = ?"),
    disfavour: db.prepare<[string], { since: number }>("SELECT since FROM disfavour WHERE sender = ?"),
    deliveredTo: db.prepare<[string], { count: number }>(
      "SELECT count(*) AS count FROM delivery WHERE recipient = ?",
    ),
    deliveries: db.prepare<[], Delivery & { sender: string | null }>(
      `SELECT recipient, d.message_id AS messageId, subject, at, sender FROM delivery d
       LEFT JOIN delivery_sender s ON s.message_id = d.message_id ORDER BY id`,
    ),
    clock: db.prepare<[], { base: number; started_wall: number | null }>(
      "SELECT base, started_wall FROM clock",
    ),
  };
  const put = {
    account: db.prepare(
      "INSERT INTO account VALUES (@address, @password, @imapPort) ON CONFLICT DO UPDATE SET password = @password",
    ),
    message: db.prepare(
      "INSERT INTO message (address, folder, raw, at) VALUES (@address, @folder, @raw, @at)",
    ),
    pending: db.prepare("INSERT INTO pending (due, action, detail) VALUES (@due, @action, @detail)"),
    done: db.prepare("DELETE FROM pending WHERE id = ?"),
    person: db.prepare(
      "INSERT INTO person VALUES (@address, @firstName, @lastName, @zone, @gone) ON CONFLICT DO UPDATE SET zone = @zone",
    ),
    leaning: db.prepare("INSERT OR REPLACE INTO leaning VALUES (?, ?)"),
    disfavour: db.prepare("INSERT OR REPLACE INTO disfavour VALUES (?, ?)"),
    sender: db.prepare("INSERT OR IGNORE INTO delivery_sender VALUES (?, ?)"),
    delivery: db.prepare(
      "INSERT INTO delivery (recipient, message_id, subject, at) VALUES (@recipient, @messageId, @subject, @at)",
    ),
    clock: db.prepare(
      "INSERT INTO clock VALUES (1, @base, @wall) ON CONFLICT DO UPDATE SET base = @base, started_wall = @wall",
    ),
  };
  return {
    accounts: () => get.accounts.all(),
    addAccount: (account: Account) => put.account.run(account),
    messagesOf: (address: string) => get.messages.all(address),
    keepMessage: (message: StoredMessage) => put.message.run(message),
    addPending: (pending: Omit<Pending, "id">) => put.pending.run(pending),
    nextDue: (now: number) => get.due.get(now),
    finish: (id: number) => put.done.run(id),
    nextAt: () => get.next.get()?.due ?? null,
    personAt: (address: string) => get.person.get(address),
    leaningOf(address: string): Leaning | null {
      const row = get.leaning.get(address);
      return row ? (JSON.parse(row.detail) as Leaning) : null;
    },
    /** From this instant on servers think little of what a mailbox sends. */
    disfavour: (sender: string, since: number) => put.disfavour.run(sender, since),
    isDisfavoured: (sender: string, now: number) =>
      (get.disfavour.get(sender)?.since ?? Number.POSITIVE_INFINITY) <= now,
    /** Somebody of the same house whom nobody has written to yet: the same one each time. */
    colleagueOf(address: string): { name: string; address: string } {
      const domain = address.split("@")[1] ?? "";
      const pick = (from: readonly string[], what: string) =>
        from[Math.floor(draw("colleague", domain, what) * from.length)] as string;
      const [first, last] = [pick(COLLEAGUES.first, "first"), pick(COLLEAGUES.last, "last")];
      return { name: `${first} ${last}`, address: `${first}.${last}@${domain}`.toLowerCase() };
    },
    addPeople: db.transaction((people: Person[]) => {
      for (const { leaning, ...person } of people) {
        put.person.run({ ...person, gone: person.gone ? 1 : 0 });
        if (leaning) put.leaning.run(person.address, JSON.stringify(leaning));
      }
    }),
    recordDelivery(delivery: Delivery, sender: string) {
      put.delivery.run(delivery);
      put.sender.run(delivery.messageId, sender);
    },
    deliveredTo: (recipient: string) => get.deliveredTo.get(recipient)?.count ?? 0,
    deliveries: () => get.deliveries.all(),
    now() {
      const clock = get.clock.get();
      if (!clock) return Date.now();
      return clock.started_wall === null ? clock.base : clock.base + (Date.now() - clock.started_wall);
    },
    setClock: (base: number, runs: boolean) => put.clock.run({ base, wall: runs ? Date.now() : null }),
    /** One transaction for what one email sets off. */
    together: <T>(work: () => T): T => db.transaction(work)(),
    clear: () =>
      db.exec(
        "DELETE FROM account; DELETE FROM message; DELETE FROM pending; DELETE FROM person; DELETE FROM leaning; DELETE FROM disfavour; DELETE FROM delivery; DELETE FROM delivery_sender; DELETE FROM clock",
      ),
    close: () => db.close(),
  };
}
