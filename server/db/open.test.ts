import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { everyStep } from "../../core/sequence/path.ts";
import { projectRoot } from "../config.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { migrate, openDb, sql, transact } from "./open.ts";
import { pauseOf } from "./pauses.ts";
import { schemaOf } from "./schema.ts";
import { sequenceById } from "./sequences.ts";

it("migrations run once, in order, from an empty file", () => {
  const db = openDb(":memory:");
  const names = readdirSync(join(projectRoot, "server/db/migrations")).sort();
  expect(migrate(db)).toEqual(names);
  expect(migrate(db)).toEqual([]);
  expect(db.pragma("foreign_key_check")).toEqual([]);
});

it("the lists' migration keeps everybody of the schema before it, with their company, lists, history and fields", () => {
  const db = openDb(":memory:");
  migrate(db, undefined, 1);
  db.exec(`
    INSERT INTO users VALUES (1, 'm@q.example', 'Marta', 'x', 'UTC', 'm', 0);
    INSERT INTO companies VALUES (7, 'Kaimuseum', 'kai.example');
    INSERT INTO imports VALUES (3, 'a.csv', 1, 1, 1, 0, 0, 5);
    INSERT INTO prospects (id, email, first_name, company_id, stage, custom, import_id, created_at)
      VALUES (4, 'ilse@kai.example', 'Ilse', 7, 'contacted', '{"rooms":"12"}', 3, 5);
    INSERT INTO lists VALUES (2, 'Museums', 0);
    INSERT INTO list_prospects VALUES (2, 4);
    INSERT INTO sequences (id, name, user_id, list_id, time_zone, state, created_at)
      VALUES (1, 'S', 1, 2, 'UTC', 'running', 0), (2, 'T', 1, 2, 'UTC', 'draft', 0);
    INSERT INTO journeys (id, sequence_id, prospect_id, due_at, started_at) VALUES (1, 1, 4, 0, 0);
    INSERT INTO block_list (kind, value, reason, at) VALUES ('address', 'x@y.example', 'opted_out', 1);`);
  db.exec("INSERT INTO events (at, kind, prospect_id, journey_id) VALUES (1, 'opened', 4, 1)");
  migrate(db);
  expect(db.pragma("foreign_key_check")).toEqual([]);
  expect(db.pragma("foreign_keys", { simple: true })).toBe(1);
  expect(
    db
      .prepare("SELECT email, company, stage, custom, origin, origin_id AS originId, live FROM prospects")
      .all(),
  ).toEqual([
    {
      email: "ilse@kai.example",
      company: "Kaimuseum",
      stage: "contacted",
      custom: '{"rooms":"12"}',
      origin: "import",
      originId: 3,
      live: 1,
    },
  ]);
  expect(db.prepare("SELECT prospect_id FROM list_prospects").pluck().all()).toEqual([4]);
  expect(db.prepare("SELECT prospect_id FROM events").pluck().all()).toEqual([4]);
  expect(db.prepare("SELECT name FROM custom_fields").pluck().all()).toEqual(["rooms"]);
  expect(db.prepare("SELECT writes_to FROM sequences ORDER BY id").pluck().all()).toEqual(["any", "good"]);
  expect(() => db.exec("DELETE FROM companies")).toThrow("FOREIGN KEY");
});

it("the schema before it goes on: marks, meetings, replies, and people at providers for everybody are parted again", () => {
  const db = openDb(":memory:");
  migrate(db, undefined, 2);
  db.exec(`
    INSERT INTO users VALUES (1, 'm@q.example', 'Marta', 'x', 'UTC', 'm', 0);
    INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
      imap_security, username, password_sealed, daily_limit, gap_least, gap_most, uid_validity, last_uid, created_at)
      VALUES (1, 1, 'm@q.example', 'M', 'h', 1, 'tls', 'h', 1, 'tls', 'u', '', 30, 9, 14, 77, 12, 5);
    INSERT INTO companies (id, name, domain) VALUES (1, 'Atelier Wiebe', 'gmx.de'), (2, 'kai.example', 'kai.example'), (3, 'web.de', 'web.de');
    INSERT INTO prospects (id, email, company_id, company, created_at) VALUES
      (1, 'wiebe@gmx.de', 1, 'Atelier Wiebe', 0), (2, 'harms@gmx.de', 1, 'Atelier Wiebe', 0),
      (3, 'lindau@gmx.de', 1, 'Atelier Wiebe', 0), (4, 'ilse@kai.example', 2, 'kai.example', 0), (5, 'x@web.de', 3, 'web.de', 0);
    INSERT INTO cleanings (prospect_id, fields, rules) VALUES
      (3, '[{"field":"company","original":"Lindau GmbH","cleaned":"Lindau","rules":["legal_form"],"refused":[]}]', 'legal_form');
    INSERT INTO meetings (token, user_id, name, email, starts_at, ends_at, visitor_zone, created_at)
      VALUES ('t', 1, 'Ana', 'a@b.example', 10, 20, 'UTC', 0);
    INSERT INTO replies (mailbox_id, message_id, kind, from_address, from_name, subject, text, at)
      VALUES (1, '<a@b>', 'person', 'a@b.example', 'Ana', 'Re', 'Yes', 3);`);
  db.exec("INSERT INTO events (at, kind, prospect_id) VALUES (1, 'opened', 4)");
  migrate(db);
  expect(db.pragma("foreign_key_check")).toEqual([]);
  expect(db.prepare("SELECT path, uid_validity AS v, last_uid AS uid FROM folder_marks").all()).toEqual([
    { path: "INBOX", v: 77, uid: 12 },
  ]);
  expect(db.prepare("SELECT connected_wall FROM mailboxes").pluck().get()).toBe(5);
  expect(db.prepare("SELECT role FROM users").pluck().get()).toBe("manager");
  expect(db.prepare("SELECT count(*) FROM meetings WHERE cancelled_at IS NULL").pluck().get()).toBe(1);
  expect(db.prepare("SELECT certainty FROM replies").pluck().get()).toBe("sure");
  expect(db.prepare("SELECT company FROM prospects ORDER BY id").pluck().all()).toEqual([
    "Atelier Wiebe",
    "",
    "Lindau",
    "kai.example",
    "",
  ]);
  expect(
    db.prepare("SELECT count(DISTINCT company_id) FROM prospects WHERE company_id IS NOT NULL").pluck().get(),
  ).toBe(3);
  expect(db.prepare("SELECT domain FROM companies WHERE domain IS NOT NULL").pluck().all()).toEqual([
    "kai.example",
  ]);
  expect(() => db.exec("DELETE FROM events")).toThrow("append-only");
});

it("a database with pages and what happened on them goes on: saved anew, its events stay, and a file can be saved", () => {
  const db = openDb(":memory:");
  migrate(db, undefined, 23);
  db.exec(`
    INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at) VALUES (1, 'm@q.example', 'Marta', 'x', 'UTC', 'm', 0);
    INSERT INTO prospects (id, email, created_at) VALUES (4, 'ilse@kai.example', 5);
    INSERT INTO page_templates (id, name, definition, user_id, changed_at) VALUES (1, 'Page', '{}', 1, 0);
    INSERT INTO pages (id, template_id, prospect_id, made_at) VALUES (1, 1, 4, 0);
    INSERT INTO files (id, name, type, bytes, user_id, at) VALUES (1, 'sheet.pdf', 'application/pdf', x'25', 1, 0);
    INSERT INTO events (at, kind, prospect_id, detail) VALUES (1, 'file_opened', 4, 'sheet.pdf'), (2, 'film_watched', 4, '50');`);
  migrate(db);
  expect(db.prepare("SELECT kind, detail FROM events ORDER BY id").all()).toEqual([
    { kind: "file_opened", detail: "sheet.pdf" },
    { kind: "film_watched", detail: "50" },
  ]);
  expect(db.prepare("SELECT revision FROM page_templates").pluck().all()).toEqual([1]);
  expect(db.prepare("SELECT lock, days FROM files").all()).toEqual([{ lock: "", days: null }]);
  db.exec("INSERT INTO listeners VALUES ('file.saved')");
  db.exec("INSERT INTO events (at, kind, prospect_id, detail) VALUES (3, 'file_saved', 4, 'sheet.pdf')");
  expect(db.prepare("SELECT kind FROM happenings").pluck().all()).toEqual(["file.saved"]);
  expect(() => db.exec("DELETE FROM events")).toThrow("append-only");
  expect(() => db.exec("UPDATE events SET at = 9")).toThrow("append-only");
});

it("a file of a newer version is refused with words, untouched", () => {
  const db = openDb(":memory:");
  migrate(db);
  db.pragma("user_version = 9999");
  expect(() => migrate(db)).toThrow("newer version of Saudade");
});

it("a migration that leaves rows pointing nowhere is taken back whole", () => {
  const folder = mkdtempSync(join(tmpdir(), "saudade-migrations-"));
  writeFileSync(
    join(folder, "0001_a.sql"),
    "CREATE TABLE a (id INTEGER PRIMARY KEY); CREATE TABLE b (a INTEGER REFERENCES a (id));",
  );
  writeFileSync(join(folder, "0002_b.sql"), "CREATE TABLE c (x); INSERT INTO b VALUES (9);");
  const db = openDb(":memory:");
  expect(() => migrate(db, folder)).toThrow("0002_b.sql leaves 1 row");
  expect(db.pragma("user_version", { simple: true })).toBe(1);
  expect(db.prepare("SELECT count(*) FROM sqlite_master WHERE name = 'c'").pluck().get()).toBe(0);
  rmSync(folder, { recursive: true });
});

it("a company's new name reaches its people, and an event's words can go but not change", () => {
  const db = openDb(":memory:");
  migrate(db);
  db.exec(`INSERT INTO companies (id, name, domain) VALUES (1, 'Kai', 'kai.example');
    INSERT INTO prospects (id, email, company_id, company, created_at) VALUES (1, 'a@kai.example', 1, 'Kai', 0)`);
  db.exec("UPDATE companies SET name = 'Kaimuseum'");
  expect(db.prepare("SELECT company FROM prospects").pluck().get()).toBe("Kaimuseum");
  recordEvent(db, { at: 1, kind: "clicked", prospectId: 1, detail: "https://x.example" });
  expect(() => db.exec("UPDATE events SET detail = 'other'")).toThrow("append-only");
  db.exec("UPDATE events SET detail = NULL");
});

it("what happened cannot be changed or removed", () => {
  const db = openDb(":memory:");
  migrate(db);
  recordEvent(db, { at: 1, kind: "opened" });
  expect(() => db.exec("UPDATE events SET at = 2")).toThrow("append-only");
  expect(() => db.exec("DELETE FROM events")).toThrow("append-only");
});

it("a learned model of the older kind is no longer said to be in use", () => {
  const db = openDb(":memory:");
  migrate(db, undefined, 6);
  const keep = db.prepare(
    "INSERT INTO reply_models (model, corrections, changes, state, at) VALUES (?, 3, '[]', ?, 0)",
  );
  keep.run('{"weights":["AA=="]}', "used");
  keep.run('{"weights":["AA=="]}', "proposed");
  keep.run('{"ids":"AQAAAA==","weights":["AA=="]}', "used");
  migrate(db);
  expect(db.prepare("SELECT state FROM reply_models ORDER BY id").pluck().all()).toEqual([
    "dropped",
    "dropped",
    "used",
  ]);
});

it("running sequences go on: steps become a path, and everybody stands before the step they stood before", () => {
  const db = openDb(":memory:");
  migrate(db, undefined, 3);
  const steps = (names: string[]) =>
    JSON.stringify(
      names.map((id, index) => ({
        id,
        kind: "email",
        name: id,
        waitDays: index * 2,
        subject: index === 0 ? "Loans" : "",
        body: `Text "${id}"`,
      })),
    );
  db.exec(`
    INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at) VALUES (1, 'm@q.example', 'Marta', 'x', 'UTC', 'm', 0);
    INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security,
      username, password_sealed, daily_limit, gap_least, gap_most, created_at)
      VALUES (1, 1, 'm@q.example', 'Marta', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 30, 9, 14, 0);
    INSERT INTO prospects (id, email, created_at) VALUES (1, 'a@a.example', 0), (2, 'b@b.example', 0), (3, 'c@c.example', 0), (4, 'd@d.example', 0);
    INSERT INTO sequences (id, name, user_id, time_zone, tracks, state, created_at) VALUES (1, 'S', 1, 'UTC', 1, 'running', 0);`);
  const version = db.prepare("INSERT INTO sequence_versions VALUES (1, ?, ?, 7)");
  version.run(1, steps(["one", "two"]));
  version.run(2, steps(["one", "two", "three"]));
  db.exec(`
    INSERT INTO journeys (id, sequence_id, prospect_id, due_at, started_at, next_step_id, state) VALUES
      (1, 1, 1, 500, 100, 'one', 'active'), (2, 1, 2, 600, 100, 'two', 'active'), (3, 1, 3, 700, 100, 'two', 'active'),
      (4, 1, 4, 0, 100, NULL, 'finished');
    INSERT INTO touches (id, kind, journey_id, step_id, version, prospect_id, mailbox_id, state, message_id, subject, body, claimed_at, sent_at) VALUES
      (1, 'step', 2, 'one', 1, 2, 1, 'sent', '<1@q>', 'Loans', 'x', 150, 160),
      (2, 'step', 3, 'one', 1, 3, 1, 'claimed', '<2@q>', 'Loans', 'x', 170, NULL),
      (3, 'answer', NULL, NULL, NULL, 2, 1, 'sent', '<3@q>', 'Re', 'x', 180, 181);
    INSERT INTO events (at, kind, prospect_id, journey_id, touch_id) VALUES (160, 'email_sent', 2, 2, 1);`);
  migrate(db);
  expect(db.pragma("foreign_key_check")).toEqual([]);
  expect(
    db.prepare("SELECT id, version, place_id AS place, since, due_at AS due FROM journeys ORDER BY id").all(),
  ).toEqual([
    { id: 1, version: 2, place: "one", since: 100, due: 500 },
    { id: 2, version: 2, place: "two", since: 160, due: 600 },
    // Its first email is claimed and not settled: it still stands before it.
    { id: 3, version: 2, place: "one", since: 100, due: 700 },
    { id: 4, version: 2, place: null, since: 100, due: 0 },
  ]);
  const sequence = sequenceById(db, 1);
  expect(everyStep(sequence?.path ?? []).map(({ id, wait }) => [id, wait])).toEqual([
    ["one", { days: 0, working: true }],
    ["two", { days: 2, working: true }],
    ["three", { days: 4, working: true }],
  ]);
  expect(sequence?.path[1]).toMatchObject({ variants: [{ subject: "", body: 'Text "two"' }] });
  // Nothing of what it did before changes by itself.
  expect(sequence?.settings).toMatchObject({
    tracksOpens: true,
    tracksClicks: true,
    holidays: false,
    holdsCompany: false,
    awayDays: 0,
  });
  expect(
    db.prepare("SELECT kind, variant_id AS variant, ended_at AS ended FROM touches ORDER BY id").all(),
  ).toEqual([
    { kind: "email", variant: "a", ended: 160 },
    { kind: "email", variant: "a", ended: null },
    { kind: "answer", variant: null, ended: 181 },
  ]);
});

it("the schema before owners goes on: lists are whoever's brought them, forms ask for what came, holds go on holding", () => {
  const db = openDb(":memory:");
  migrate(db, undefined, 10);
  db.exec(`
    INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at) VALUES
      (1, 'm@q.example', 'Marta', 'x', 'UTC', 'm', 0), (2, 'r@q.example', 'Rui', 'x', 'UTC', 'r', 0);
    INSERT INTO lists (id, name, created_at) VALUES (1, 'Brought', 0), (2, 'Formed', 0), (3, 'Run', 0), (4, 'Nobody''s', 0);
    INSERT INTO imports (id, file_name, user_id, list_id, rows, added, known, refused, at) VALUES (1, 'a.csv', 2, 1, 1, 1, 0, 0, 0);
    INSERT INTO forms (list_id, token, user_id, made_at) VALUES (2, 'tok', 1, 0);
    INSERT INTO sequences (id, name, user_id, list_id, time_zone, created_at) VALUES (1, 'S', 2, 3, 'UTC', 0);
    INSERT INTO prospects (id, email, custom, origin, origin_id, created_at) VALUES
      (1, 'a@kai.example', '{"rooms":"4"}', 'form', 2, 0), (2, 'b@kai.example', '{"other":"x"}', 'import', 1, 0);
    INSERT INTO filters (id, name, definition, saved_at) VALUES (1, 'Silent', '{}', 0);
    INSERT INTO holds (scope, scope_id, reason, since) VALUES ('prospect', 1, 'away', 5);`);
  migrate(db);
  expect(db.pragma("foreign_key_check")).toEqual([]);
  expect(db.prepare("SELECT owner_id FROM lists ORDER BY id").pluck().all()).toEqual([2, 1, 2, null]);
  expect(db.prepare("SELECT DISTINCT sharing FROM lists").pluck().all()).toEqual(["use"]);
  expect(db.prepare("SELECT fields FROM forms").pluck().all()).toEqual(['["rooms"]']);
  expect(db.prepare("SELECT scope_id, reason, since FROM holds").all()).toEqual([
    { scope_id: 1, reason: "away", since: 5 },
  ]);
});

it("the schema before one door goes on: a bounce's kind is read from its words once, and pauses go on with their beginning", () => {
  const db = openDb(":memory:");
  migrate(db, undefined, 13);
  db.exec(`
    INSERT INTO events (at, kind, detail) VALUES (1, 'bounced', 'hard: no such user'), (2, 'bounced', 'policy: 5.7.1: not you'),
      (3, 'bounced', 'soft: full'), (4, 'bounced', NULL), (5, 'opted_out', 'hard: not one');
    INSERT INTO holds (scope, scope_id, reason, since) VALUES ('journey', 7, 'paused_by_rep', 5), ('prospect', 8, 'away', 6);`);
  migrate(db);
  expect(db.prepare("SELECT bounce, detail FROM events ORDER BY id").all()).toEqual([
    { bounce: "hard", detail: "no such user" },
    { bounce: "policy", detail: "5.7.1: not you" },
    { bounce: "soft", detail: "full" },
    { bounce: null, detail: null },
    { bounce: null, detail: "hard: not one" },
  ]);
  expect(() => db.exec("UPDATE events SET bounce = 'soft' WHERE id = 1")).toThrow("append-only");
  expect(pauseOf(db, "journey", 7)).toEqual({ by: null, at: 5 });
  expect(pauseOf(db, "journey", 8)).toBeNull();
});

it("docs/schema.sql shows the schema as the migrations leave it (`npm run schema` writes it)", () => {
  const db = openDb(":memory:");
  migrate(db);
  expect(readFileSync(join(projectRoot, "docs/schema.sql"), "utf8")).toBe(schemaOf(db));
});

describe("a statement", () => {
  it("is given what its text names, and the compiler says what is missing or too much", () => {
    const db = openDb(":memory:");
    const find = sql(db, "SELECT @id AS id, @name AS name");
    expect(find.get<{ id: number; name: string }>({ id: 1, name: "Ada" })).toEqual({ id: 1, name: "Ada" });
    // @ts-expect-error: a name is missing.
    expect(() => find.get({ id: 1 })).toThrow("Missing named parameter");
    // @ts-expect-error: one is spelled otherwise.
    expect(() => find.get({ id: 1, nam: "Ada" })).toThrow("Missing named parameter");
    // @ts-expect-error: SQLite keeps no objects.
    expect(() => find.get({ id: { of: 1 }, name: "Ada" })).toThrow("can only bind");
    // @ts-expect-error: nothing is named so.
    find.get({ id: 1, name: "Ada", other: 2 });
    const COLUMN = "@value AS value";
    // @ts-expect-error: what is put in from a constant is read, too.
    expect(() => sql(db, `SELECT ${COLUMN}`).get({})).toThrow("Missing named parameter");
    expect(sql(db, "SELECT '%@' || @domain AS at").get({ domain: "q.example" })).toEqual({
      at: "%@q.example",
    });
    expect(sql(db, "SELECT ? + ? AS sum").get([1, 2])).toEqual({ sum: 3 });
    expect(sql(db, "SELECT 1 AS one").all([])).toEqual([{ one: 1 }]);
  });
});

it("what is refused within a transaction leaves nothing behind, also of a part of it", () => {
  const db = openDb(":memory:");
  db.exec("CREATE TABLE kept (name TEXT)");
  const app = { db };
  const write = (name: string, outcome: Outcome<string>) =>
    transact(app, ({ db }) => {
      sql(db, "INSERT INTO kept VALUES (@name)").run({ name });
      return outcome;
    });
  const kept = () => db.prepare("SELECT name FROM kept").pluck().all();
  const no = refused({ form: "No." });
  expect(write("one", no)).toBe(no);
  expect(kept()).toEqual([]);
  expect(write("two", done("fine"))).toEqual({ ok: true, value: "fine" });
  // A part that was refused goes; what the whole did, stays or goes with the whole's own outcome.
  const whole = (outcome: Outcome<string>) =>
    transact(app, ({ db }) => {
      sql(db, "INSERT INTO kept VALUES ('whole')").run([]);
      write("part", no);
      return outcome;
    });
  expect(whole(no)).toBe(no);
  expect(kept()).toEqual(["two"]);
  whole(done("fine"));
  expect(kept()).toEqual(["two", "whole"]);
  expect(() =>
    transact(app, ({ db }) => {
      sql(db, "INSERT INTO kept VALUES ('lost')").run([]);
      throw new Error("broken");
    }),
  ).toThrow("broken");
  expect(kept()).toEqual(["two", "whole"]);
});
