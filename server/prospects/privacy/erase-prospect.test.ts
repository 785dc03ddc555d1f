import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { keepStops, stopsFileOf } from "../../db/stops.ts";
import { afterRestore } from "../../engine/after-restore.ts";
import { addPeople, addSequence, createWorld, rows, type World } from "../../tests/world.ts";
import { uploadImport } from "../imports/upload-import.ts";
import { eraseProspect } from "./erase-prospect.ts";
import { KEPT, linesOf, OF_NOBODY, subjectOf } from "./kept-of-person.ts";
import { personData } from "./person-data.ts";
import { sweepTraces } from "./sweep-traces.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const tablesOf = () =>
  rows<{ name: string }>(
    world,
    `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'
       AND name NOT GLOB 'message_*_*' ORDER BY name`,
  ).map(({ name }) => name);
const textsOf = (table: string) =>
  rows<{ name: string }>(
    world,
    `SELECT name FROM pragma_table_info('${table}') WHERE type IN ('TEXT', '')`,
  ).map(({ name }) => name);

describe("the catalogue of what is kept about a person", () => {
  it("has one line for each table, and none for a table that is no more", () => {
    expect([...Object.keys(KEPT), ...Object.keys(OF_NOBODY)].sort()).toEqual(tablesOf());
  });

  it("says of each column of text whether erasing clears it", () => {
    const silent = Object.keys(KEPT).flatMap((table) => {
      const lines = linesOf(table);
      if (lines.every(({ erase }) => erase === "delete")) return [];
      const said = new Set(
        lines.flatMap(({ erase, keeps = [] }) => [
          ...(typeof erase === "string" ? [] : Object.keys(erase)),
          ...keeps,
        ]),
      );
      return said.has("*")
        ? []
        : textsOf(table)
            .filter((column) => !said.has(column))
            .map((column) => `${table}.${column}`);
    });
    expect(silent).toEqual([]);
  });
});

/** Words that stand nowhere but with her, one kind for each place where a word can be. */
const MARKS = ["zebedee", "quuxley", "kumquat"];
const ADDRESS = "zebedee@quuxley-museum.example";

/** Ida (1), whom all else is about, and Bo (2), of whom nothing may go. Each table of the catalogue gets a row of hers. */
function fill(): void {
  const { app } = world;
  const listId = addPeople(world, ["quuxley", "bo"]);
  addSequence(world, listId, []);
  const changes = JSON.stringify([
    { table: "prospects", before: { id: 1, stage: "new", first_name: "Zebedee" }, after: null },
    { table: "prospects", before: { id: 2, stage: "new" }, after: { id: 2, stage: "lost" } },
  ]);
  const person = JSON.stringify({ email: ADDRESS, firstName: "Zebedee" });
  const report = JSON.stringify({ added: 2, problems: [{ example: `kumquat ${ADDRESS}` }] });
  app.db.exec(`
    UPDATE prospects SET email = '${ADDRESS}', first_name = 'Zebedee', last_name = 'Quuxley', city = 'Kumquat', custom = '{"k":"kumquat"}',
      verdict_detail = 'kumquat', phone = 'kumquat', profile = 'zebedee', title = 'Kumquat keeper', country = 'PT', origin = 'import', origin_id = 1 WHERE id = 1;
    INSERT INTO prospects (id, first_name, last_name, email, merged_into, created_at) VALUES (3, 'Zebedee', 'Old', 'old@quuxley.example', 1, 5);
    UPDATE companies SET name = 'The museum', domain = 'museum.example' WHERE id = 1;
    INSERT INTO columns (id, name, code, kind, gives, scope, settings, fresh_days, made_at) VALUES (1, 'Line', 'line', 'ask', 'text', 'person', '{}', 90, 1),
      (2, 'News', 'news', 'site', 'text', 'company', '{}', 90, 1);
    INSERT INTO column_values (column_id, code, prospect_id, company_id, state, value, at) VALUES (1, 'line', 1, NULL, 'found', 'Dear kumquat', 1),
      (1, 'line', 2, NULL, 'found', 'line of Bo', 1), (2, 'news', NULL, 2, 'found', 'Zebedee Quuxley came by', 1);
    INSERT INTO page_templates (id, name, definition, changed_at) VALUES (1, 'Page', '{}', 1);
    INSERT INTO pages (id, template_id, prospect_id, made_at, ends_at, picture_problem) VALUES (1, 1, 1, 1, 1, 'kumquat'), (2, 1, 2, 1, 1, 'of Bo');
    INSERT INTO page_loads (page_id, at, agent, network, is_head, is_own) VALUES (1, 1, 'Kumquat', '198.51.100', 0, 0), (2, 1, 'of Bo', '', 0, 0);
    INSERT INTO files (id, name, type, bytes, user_id, at) VALUES (90, 'sheet.pdf', 'application/pdf', x'25', 1, 1);
    INSERT INTO file_looks (file_id, prospect_id, given_at, seconds) VALUES (90, 1, 1, '{"1":3}'), (90, 2, 1, '{"2":4}');
    INSERT INTO films (name, file, bytes, captions, prospect_id, made_at) VALUES ('For Zebedee', 'a.film', 1, '0:00 Dear kumquat', 1, 1), ('For Bo', 'b.film', 1, '', 2, 1);
    INSERT INTO sites (domain, state, reading, at) VALUES ('museum.example', 'read', '{"text":"Zebedee Quuxley, keeper"}', 1), ('bo.example', 'read', '{}', 1);
    INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security, username,
      password_sealed, daily_limit, gap_least, gap_most, smtp_trouble, created_at)
      VALUES (1, 1, 'marta@own.example', 'Marta', 'h', 1, 'none', 'h', 1, 'none', 'm', '', 5, 1, 2, 'refused <${ADDRESS}>', 1);
    INSERT INTO imports (id, file_name, rows, added, known, refused, at, report) VALUES (1, 'fair.csv', 2, 2, 0, 0, 1, '${report}');
    INSERT INTO imports (id, file_name, rows, added, known, refused, at) SELECT value, 'other.csv', 1, 1, 0, 0, 1 FROM json_each('[2,3,4]');
    INSERT INTO import_rows VALUES (1, 3, 'known', 1, '{"city":"Kumquat"}'), (1, 9, 'refused', NULL, 'old@quuxley.example: repeated'), (1, 10, 'flagged', 2, 'of Bo');
    INSERT INTO journeys (id, sequence_id, prospect_id, state, due_at, started_at, wait_detail, stop_detail) VALUES (1, 1, 1, 'active', 1, 1, 'kumquat', 'kumquat');
    INSERT INTO touches (id, kind, journey_id, step_id, prospect_id, mailbox_id, recipient, state, message_id, subject, body, markup, note, cc, refused_words, server_answer, in_reply_to, thread_references)
      VALUES (1, 'email', 1, 'one', 1, 1, '${ADDRESS}', 'claimed', '<a@own.example>', 'Kumquat', 'Dear Zebedee', 'kumquat', 'kumquat', '${ADDRESS}', 'kumquat', 'kumquat', '<1@quuxley>', '<1@quuxley>'),
        (2, 'email', 1, 'two', 1, 1, '${ADDRESS}', 'queued', '<b@own.example>', 'Kumquat', 'Zebedee', NULL, '', '', NULL, NULL, NULL, '');
    UPDATE touches SET state = 'sent', sent_at = 1 WHERE id = 1;
    INSERT INTO load_tallies VALUES (1, 'opened', 1);
    INSERT INTO loads (touch_id, kind, at, agent, network, url, is_head, is_own) VALUES (1, 'opened', 1, 'Mozilla', '198.51.100', NULL, 0, 0);
    INSERT INTO replies (id, mailbox_id, message_id, prospect_id, kind, from_address, from_name, answer_to, subject, text, quoted, attached, detail, reading, at, thread_references)
      VALUES (1, 1, '<r@quuxley.example>', 1, 'person', '${ADDRESS}', 'Zebedee', 'zebedee@x.example', 'Kumquat', 'my kumquats 金柑の木', 'kumquat', '["kumquat.pdf"]', 'kumquat', '{"k":"kumquat"}', 1, '<1@quuxley>'),
        (2, 1, '<s@bo>', 2, 'person', 'Zebedee@quuxley-museum.example', 'Zebedee', '', 'Kumquat', 'for Bo, kumquat', '', '[]', NULL, NULL, 1, ''),
        (3, 1, '<t@bo>', 2, 'person', 'bo@bo-museum.example', 'Bo', '', 'Hello', 'words of Bo', '', '[]', NULL, NULL, 1, '');
    INSERT INTO answer_drafts VALUES (1, 1, 'Dear Zebedee', 1), (3, 1, 'Dear Bo', 1);
    INSERT INTO approvals VALUES (1, 'one', 1, 1, 1);
    INSERT INTO own_texts VALUES (1, 'one', 1, 'Kumquat', 'Zebedee', 1, 1);
    INSERT INTO events (at, kind, prospect_id, journey_id, detail) VALUES (1, 'replied', 1, 1, 'kumquat'), (1, 'replied', 2, NULL, 'of Bo');
    INSERT INTO holds (scope, scope_id, reason, detail, since, cause_prospect_id) VALUES ('prospect', 1, 'away', 'kumquat', 1, NULL), ('company', 1, 'colleague_replied', 'Zebedee', 1, 1);
    INSERT INTO let_go VALUES (2, 1, 1);
    INSERT INTO undo_records (user_id, what, changes, at, kind, about, prospect_id) VALUES (1, 'Zebedee stopped', '[]', 1, 'stop', '[]', 1), (1, 'block 2 people', '${changes}', 1, 'block', '[1,2]', NULL);
    INSERT INTO reply_models (model, corrections, changes, state, at) VALUES ('m', 1, '[{"replyId":1,"words":"kumquat"},{"replyId":3,"words":"words of Bo"}]', 'proposed', 1);
    INSERT INTO notices (user_id, kind, text, path, about, at) VALUES (1, 'reply', 'Zebedee wrote back.', '/replies?reply=1&show=people', 'reply 1', 1), (1, 'booking', 'Zebedee booked', '/prospects/1', 'event 1', 1), (1, 'booking', 'Bo booked', '/prospects/2', 'event 2', 1);
    INSERT INTO set_aside (mailbox_id, path, uid, from_address, subject, reason, at) VALUES (1, 'INBOX', 1, 'Zebedee@Quuxley-museum.example', 'kumquat', 'broken', 1);
    INSERT INTO refusals VALUES (1, '${ADDRESS}', 1, 'kumquat');
    INSERT INTO booking_asks (page_id, user_id, token, name, email, phone, place, starts_at, ends_at, visitor_zone, answers, caller, asked_wall, kept_until)
      VALUES (1, 1, 't1', 'Zebedee', 'Zebedee@quuxley-museum.example', '', '', 1, 2, 'UTC', '["kumquat"]', '', 1, 2);
    INSERT INTO meetings (id, token, user_id, prospect_id, name, email, phone, place, starts_at, ends_at, visitor_zone, created_at, answers)
      VALUES (1, 't2', 1, NULL, 'Zebedee', '${ADDRESS}', 'kumquat', 'kumquat', 1, 2, 'Europe/Lisbon', 1, '["kumquat"]'), (2, 't3', 1, 2, 'Bo', 'bo@bo-museum.example', '', '', 5, 6, 'UTC', 1, '[]');
    INSERT INTO service_mails (kind, mailbox_id, recipient, recipient_name, subject, body, calendar, meeting_id, message_id, due_at, state) VALUES
      ('invitation', 1, '${ADDRESS}', 'Zebedee', 'kumquat', 'kumquat', 'kumquat', 1, '<c@own.example>', 1, 'queued'),
      ('notice', 1, 'marta@own.example', 'Marta', 'News', 'Zebedee Quuxley wrote back', '', NULL, '<d@own.example>', 1, 'sent');
    INSERT INTO reminders (user_id, prospect_id, kind, text, due_at, at) VALUES (1, 1, 'reminder', 'call Zebedee', 1, 1);
    INSERT INTO block_list (kind, value, reason, at, note) VALUES ('address', '${ADDRESS}', 'added_by_rep', 1, 'kumquat');
    INSERT INTO block_removals (kind, value, reason, why, at) VALUES ('address', 'old@quuxley.example', 'opted_out', 'kumquat', 1);
    INSERT INTO cleanings VALUES (1, '[{"field":"city","original":"KUMQUAT"}]', '', '');
    INSERT INTO changes (prospect_id, field, before, after, source, source_id, at) VALUES (1, 'city', 'Quuxley', 'Kumquat', 'import', 1, 1);
    INSERT INTO notes (prospect_id, user_id, text, at) VALUES (1, 1, 'likes kumquats', 1), (2, 1, 'note of Bo', 1);
    INSERT INTO duplicates (kind, a_id, b_id, reason, at) VALUES ('person', 1, 2, 'same_name', 1);
    INSERT INTO searches (id, profile_name, definition, at) VALUES (1, 'p', '{}', 1);
    INSERT INTO webhooks (id, user_id, name, url, kinds, secret_sealed, seen_happening, made_at) VALUES (1, 1, 'Warehouse', 'https://w.example', '[]', '', 0, 0);
    INSERT INTO crms (id, user_id, name, url, dialect, settings, key_sealed, address, hook_secret_sealed, made_at, report)
      VALUES (1, 1, 'Ledger', 'https://l.example', '{}', '{}', '', 'a', '', 1, '{"new":{"count":1,"examples":[{"name":"Zebedee Quuxley","words":"kumquat"}]}}');
    INSERT INTO crm_links (id, crm_id, kind, prospect_id, there_id, base, there, there_at) VALUES
      (1, 1, 'person', 1, 'p1', '{"city":"Kumquat"}', '{"city":"Kumquat"}', 1), (2, 1, 'person', 2, 'p2', '{}', '{"firstName":"Bo"}', 1);
    INSERT INTO crm_conflicts (crm_id, link_id, field, here, there, at) VALUES (1, 1, 'city', 'Kumquat', 'Quuxley', 1), (1, 2, 'city', 'Bo', '', 1);
    INSERT INTO crm_deals (crm_id, prospect_id, there_id, name, stage, changed_at) VALUES (1, 1, 'd1', 'Kumquat', 's', 1), (1, 2, 'd2', 'Bo', 's', 1);
    INSERT INTO crm_outbox (crm_id, kind, prospect_id, external_id, body, at) VALUES (1, 'activity', 1, 'a', '{"text":"Kumquat"}', 1), (1, 'activity', 2, 'b', '{"text":"Bo"}', 1);
    INSERT INTO happenings (id, kind, at, prospect_id, detail, payload) VALUES (1, 'email.clicked', 1, 1, 'kumquat', '${person}'), (2, 'email.clicked', 1, 2, 'of Bo', '{}');
    INSERT INTO deliveries (webhook_id, happening_id, prospect_id, answer) VALUES (1, 1, 1, 'thanks, Zebedee'), (1, 2, 2, 'thanks, Bo');
    INSERT INTO rules (id, user_id, name, definition, kinds, made_at) VALUES (1, 1, 'Welcome', '{}', '[]', 1);
    INSERT INTO rule_runs (id, rule_id, prospect_id, occasion, because, at) VALUES (1, 1, 1, 'once', 'they came', 1), (2, 1, 2, 'once', 'they came', 1);
    INSERT INTO rule_acts (run_id, nth, due_at, said) VALUES (1, 0, 1, 'told Marta: Zebedee is here'), (2, 0, 1, 'told Marta: Bo is here');
    INSERT INTO api_keys (id, user_id, name, begins, hash, scopes, made_wall) VALUES (1, 1, 'CRM', 'saudade_abcd', 'x', '[]', 1);
    INSERT INTO api_answers VALUES (1, 'a', '', 200, '{"id":1,"email":null,"firstName":"Zebedee"}', 1), (1, 'b', '', 200, '{"id":2,"email":null}', 1);
    INSERT INTO found_people (search_id, reference, raw, fields, name, fits) VALUES (1, 'a', '${person}', '{}', 'Zebedee', 0), (1, 'b', '{"email":"bo@x.example"}', '{}', 'Bo', 1);
  `);
  const uploads = join(dirname(app.config.database), "uploads");
  mkdirSync(uploads, { recursive: true });
  writeFileSync(join(uploads, "import-1"), "name\nsomebody without an address\n");
  writeFileSync(join(uploads, "import-2"), `email\n${"x".repeat(600_000)}\nOLD@Quuxley.example\n`);
  writeFileSync(join(uploads, "import-3-left-out.csv"), Buffer.from(`e\n"${ADDRESS}";x\n`, "utf16le"));
  writeFileSync(join(uploads, "import-4"), "email\nbo@bo-museum.example\n");
}

/** Every cell of text in which one of the marks stands. */
function marked(): string[] {
  return tablesOf().flatMap((table) =>
    textsOf(table).flatMap((column) =>
      MARKS.filter(
        (mark) =>
          rows<{ n: number }>(
            world,
            `SELECT count(*) AS n FROM ${table} WHERE lower(${column}) LIKE '%${mark}%'`,
          )[0]?.n !== 0,
      ).map((mark) => `${table}.${column}: ${mark}`),
    ),
  );
}

const erase = () => eraseProspect(world.app, null, { id: 1, name: "zebedee quuxley" });
const upload = (name: string) => join(dirname(world.app.config.database), "uploads", name);

describe("a person who is erased for good", () => {
  it("is in no table any more, where before each line of the catalogue found something of theirs", () => {
    fill();
    const subject = subjectOf(world.app.db, 1);
    const found = (table: string, nth: number) =>
      world.app.db
        .prepare(`SELECT count(*) AS n FROM ${table} WHERE ${linesOf(table)[nth]?.where}`)
        .get(subject) as { n: number };
    for (const table of Object.keys(KEPT))
      for (const nth of linesOf(table).keys())
        expect([table, nth, found(table, nth).n]).not.toEqual([table, nth, 0]);
    expect(erase()).toMatchObject({ ok: true });
    expect(marked()).toEqual([]);
  });

  it("takes nobody else along", () => {
    fill();
    erase();
    expect(rows(world, "SELECT text FROM notes")).toEqual([{ text: "note of Bo" }]);
    expect(rows(world, "SELECT text, prospect_id FROM replies WHERE text != ''")).toEqual([
      { text: "words of Bo", prospect_id: 2 },
    ]);
    expect(rows(world, "SELECT text FROM answer_drafts")).toEqual([{ text: "Dear Bo" }]);
    expect(rows(world, "SELECT text FROM notices")).toEqual([{ text: "Bo booked" }]);
    expect(rows(world, "SELECT name FROM found_people")).toEqual([{ name: "Bo" }]);
    expect(rows(world, "SELECT answer FROM deliveries")).toEqual([{ answer: "thanks, Bo" }]);
    expect(rows(world, "SELECT detail FROM happenings")).toEqual([{ detail: "of Bo" }]);
    expect(rows(world, "SELECT there_id AS at, there, state FROM crm_links")).toEqual([
      { at: "p1", there: "{}", state: "gone_here" },
      { at: "p2", there: '{"firstName":"Bo"}', state: "linked" },
    ]);
    expect(rows(world, "SELECT value FROM column_values")).toEqual([{ value: "line of Bo" }]);
    expect(rows(world, "SELECT domain FROM sites")).toEqual([{ domain: "bo.example" }]);
    for (const table of ["crm_conflicts", "crm_deals", "crm_outbox"])
      expect(rows(world, `SELECT count(*) AS n FROM ${table}`)).toEqual([{ n: 1 }]);
    expect(rows(world, "SELECT idempotency_key AS k FROM api_answers")).toEqual([{ k: "b" }]);
    expect(rows(world, "SELECT detail FROM import_rows")).toEqual([{ detail: "of Bo" }]);
    expect(rows(world, "SELECT detail FROM events WHERE detail IS NOT NULL")).toEqual([{ detail: "of Bo" }]);
    expect(rows(world, "SELECT changes FROM reply_models")).toEqual([
      { changes: '[{"replyId":3,"words":"words of Bo"}]' },
    ]);
    // Of what was done to several, the others' part can still be taken back.
    expect(rows(world, "SELECT about, json_array_length(changes) AS n FROM undo_records")).toEqual([
      { about: "[2]", n: 1 },
    ]);
    expect(rows(world, "SELECT email FROM prospects WHERE live = 1")).toEqual([
      { email: "bo@bo-museum.example" },
    ]);
  });

  it("is in no file any more once the sweep has gone through: uploads, the database's free pages, the letters' index", async () => {
    fill();
    // Words that were overwritten and deleted before are no longer there either.
    world.app.db.exec("DELETE FROM notes WHERE prospect_id = 1; UPDATE replies SET quoted = '' WHERE id = 1");
    erase();
    expect(existsSync(upload("import-1"))).toBe(false);
    expect(await sweepTraces(world.app)).toBe(true);
    expect(["import-2", "import-3-left-out.csv", "import-4"].map((name) => existsSync(upload(name)))).toEqual(
      [false, false, true],
    );
    const { database } = world.app.config;
    const bytes = [database, `${database}-wal`]
      .map((path) => readFileSync(path).toString("latin1").toLowerCase())
      .join();
    expect([...MARKS, "金柑"].filter((mark) => bytes.includes(Buffer.from(mark).toString("latin1")))).toEqual(
      [],
    );
  });

  it("stays in a file that is brought afterwards, until it was looked through: it says whom it leaves out", async () => {
    fill();
    erase();
    const bytes = Buffer.from(`email\n${ADDRESS}\n`);
    expect(uploadImport(world.app, null, { name: "later.csv", bytes })).toMatchObject({ ok: true, value: 5 });
    expect(await sweepTraces(world.app)).toBe(true);
    expect(existsSync(upload("import-2"))).toBe(false);
    expect(existsSync(upload("import-5"))).toBe(true);
  });

  it("is erased again in a restored copy, with an address or without", () => {
    fill();
    world.app.db.exec("UPDATE prospects SET email = NULL WHERE id IN (1, 3)");
    const copy = world.app.db.serialize();
    erase();
    keepStops(world.app.db, world.app.key, stopsFileOf(world.app.config));
    expect(readFileSync(stopsFileOf(world.app.config), "utf8")).not.toMatch(/zebedee|quuxley/i);
    world.app.db.close();
    writeFileSync(world.env.SAUDADE_DB as string, copy);
    return createAgain().then((app) => {
      expect(afterRestore(app).erased).toBeGreaterThan(0);
      expect(
        app.db.prepare("SELECT count(*) AS n FROM prospects WHERE first_name = 'Zebedee'").get(),
      ).toEqual({ n: 0 });
      expect(app.db.prepare("SELECT count(*) AS n FROM prospects WHERE live = 1").get()).toEqual({ n: 1 });
    });
  });
});

async function createAgain() {
  const { openApp } = await import("../../app.ts");
  const { readConfig } = await import("../../config.ts");
  const app = openApp(readConfig(world.env));
  world.app = app as World["app"];
  return app;
}

describe("what a person is given of themselves", () => {
  it("is what erasing reaches, under the catalogue's names, in its own words", () => {
    fill();
    const data = personData(world.app, 1);
    const empty = Object.entries(data).filter(([, rows]) => rows.length === 0);
    expect(empty).toEqual([]);
    expect(data.person?.[0]).toMatchObject({ email: ADDRESS, custom: { k: "kumquat" } });
    expect(JSON.stringify(data.letters)).toContain("my kumquats");
    expect(JSON.stringify(data)).not.toContain("of Bo");
  });
});
