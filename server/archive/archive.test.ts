/** Everything goes into one archive and out of it again: the same rows, numbers, links and pages; what is not whole is refused. */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import ICAL from "ical.js";
import { simpleParser } from "mailparser";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { z } from "zod";
import { SEED } from "../../app/tests/every-route.ts";
import { type App, openApp } from "../app.ts";
import { projectRoot, readConfig } from "../config.ts";
import { keepWords } from "../db/words.ts";
import { desk } from "../desk/reading-desk.ts";
import { unwatched } from "../jobs/report.ts";
import { makeMediaFolder, mediaPath } from "../mail/media.ts";
import { calendarFeed, touchesLink } from "../meetings/calendar-file.ts";
import { listProspects, prospectsQuery } from "../prospects/people/list-prospects.ts";
import { prospectStory } from "../prospects/people/prospect-story.ts";
import { searchMessages } from "../replies/search-messages.ts";
import { lookQuery } from "../results/look.ts";
import { overview } from "../results/overview.ts";
import { allRules } from "../rules/rules.ts";
import { readLink, signLink } from "../secrets.ts";
import { listSequences } from "../sequences/list-sequences.ts";
import { createWorld, rows, type World } from "../tests/world.ts";
import { todoList } from "../today/todo-list.ts";
import { messagesWith } from "./letters.ts";
import { archiveFolder, askArchive, madeArchive, makeArchive } from "./make-archive.ts";
import { manifestSchema } from "./manifest.ts";
import { readArchive } from "./read-archive.ts";
import { columnsOf, tablesOf } from "./tables.ts";

/** Longer than what is read at once, and no text. */
const FILM = Buffer.from(Array.from({ length: 2_500_000 }, (_, at) => (at * 131) % 251));

let world: World;
let path: string;
beforeAll(async () => {
  world = await createWorld({ standin: false });
  world.app.db.exec(SEED);
  world.app.db
    .prepare(
      "INSERT INTO files (id, name, type, bytes, user_id, at) VALUES (2, 'plan.pdf', 'application/pdf', ?, 1, 0)",
    )
    .run(Buffer.from([0, 255, 1, 254]));
  world.app.db.exec(`INSERT INTO replies (id, mailbox_id, message_id, prospect_id, touch_id, kind, from_address, from_name, answer_to, subject, text, quoted, at)
    VALUES (9, 1, '<r9@kai.example>', 2, 5, 'person', 'bia@kai.example', 'Bia "B" Reis', 'bia@kai.example', 'Re: Loans', 'From here it is fine.
From the start. 金柑の木', '> Hello', 1781000000000);
    UPDATE touches SET sent_at = 1780000000000 WHERE id = 5;
    UPDATE films SET type = 'video/webm' WHERE id = 1`);
  makeMediaFolder(world.app);
  writeFileSync(mediaPath(world.app, "film-1234567.film"), FILM);
  await makeArchive(world.app, unwatched);
  path = madeArchive(world.app)?.path ?? "";
});
afterAll(() => world.close());

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "saudade-archive-"));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const configIn = (more: Record<string, string> = {}) =>
  readConfig({ ...world.env, SAUDADE_DB: join(folder, "new.db"), ...more });

async function readBack(): Promise<App> {
  await readArchive(configIn(), path);
  return openApp(configIn());
}
const entries = () => unzipSync(readFileSync(path));
/** The archive with some of its files otherwise; null: without. */
function changed(change: (files: Record<string, Uint8Array>) => void): string {
  const files = entries();
  change(files);
  const other = join(folder, "other.zip");
  writeFileSync(other, zipSync(files));
  return other;
}

it("every row of every table is there again, and every page shows the same", async () => {
  const app = await readBack();
  try {
    for (const table of tablesOf(world.app.db)) {
      const columns = columnsOf(world.app.db, table)
        .map((each) => `"${each}"`)
        .join();
      const of = (db: App["db"]) => db.prepare(`SELECT ${columns} FROM ${table} ORDER BY ${columns}`).all();
      expect([table, of(app.db)]).toEqual([table, of(world.app.db)]);
    }
    const schemaOf = (db: App["db"]) =>
      db
        .prepare(
          "SELECT type, name, sql FROM sqlite_schema WHERE name NOT LIKE 'sqlite_%' ORDER BY type, name",
        )
        .all();
    expect(schemaOf(app.db)).toEqual(schemaOf(world.app.db));
    const user = { ...world.user, role: "manager" as const };
    for (const each of [app, world.app]) keepWords(each.db);
    const pages = (app: App) => [
      listProspects(app, 1, prospectsQuery.parse({})),
      [1, 2, 3, 4].map((id) => prospectStory(app, 1, id)),
      listSequences(app, 1),
      overview(app, 1, lookQuery.parse({}), "UTC"),
      todoList(app, { ...user, looksAt: "all" }),
      desk(app, { ...user, looksAt: "all" }, { filter: "people", label: "", search: "", open: null }),
      searchMessages(app, "fine"),
      searchMessages(app, "金柑"),
      allRules(app),
      calendarFeed(
        app,
        touchesLink(app, 1)
          .split("/")
          .at(-1)
          ?.replace(/\.ics$/, "") ?? "",
      ),
    ];
    expect(pages(app)).toEqual(pages(world.app));
    expect(searchMessages(app, "金柑")).toEqual([9]);
    // Links that are out lead to the same, and the next number is nobody's before.
    expect(readLink("opt-out", signLink("opt-out", "2", world.app.key), app.key)).toBe("2");
    const next = (db: App["db"]) =>
      Number(db.prepare("INSERT INTO prospects (created_at) VALUES (0) RETURNING id").pluck().get());
    expect(next(app.db)).toBe(next(world.app.db));
    world.app.db.exec("DELETE FROM prospects WHERE id = (SELECT max(id) FROM prospects)");
  } finally {
    app.db.close();
  }
});

it("its open parts are read by others: letters, calls, people, sequences, the log", async () => {
  const files = entries();
  const text = (name: string) => strFromU8(files[name] ?? new Uint8Array());
  const [first = "", ...letters] = text("conversations.mbox").split(/^From .*\n/m);
  expect(first).toBe("");
  expect(letters).toHaveLength(5);
  const last = letters.find((each) => each.includes("r9@kai.example")) ?? "";
  const mail = await simpleParser(last.replace(/^>(>*From )/gm, "$1"));
  expect(mail).toMatchObject({
    subject: "Re: Loans",
    messageId: "<r9@kai.example>",
    inReplyTo: "<five@q.example>",
    date: new Date(1781000000000),
  });
  expect(mail.text).toContain("From the start. 金柑の木");
  expect(new ICAL.Component(ICAL.parse(text("meetings.ics"))).getAllSubcomponents("vevent")).toHaveLength(1);
  expect(text("people.csv")).toContain("ana@kai.example");
  expect(
    text("people.jsonl")
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line).id),
  ).toEqual([1, 2, 3, 4]);
  expect(JSON.parse(text("sequences/1 Loans.json"))).toMatchObject({
    format: "saudade-sequence",
    name: "Loans",
  });
  expect([...(files["files/2 plan.pdf"] ?? [])]).toEqual([0, 255, 1, 254]);
  expect(FILM.equals(files["films/film-1234567.film"] ?? new Uint8Array())).toBe(true);
  expect(manifestSchema.parse(JSON.parse(text("manifest.json"))).tables.prospects).toBe(4);
  const eml = await messagesWith(world.app, 2);
  expect(eml.map(({ name }) => name)).toContainEqual(
    expect.stringMatching(/^\d{3} 2026-06-09 Re-Loans\.eml$/),
  );
});

it("brings the films along, byte by byte", async () => {
  const app = await readBack();
  try {
    expect(readFileSync(mediaPath(app, "film-1234567.film")).equals(FILM)).toBe(true);
  } finally {
    app.db.close();
  }
});

describe("an archive that is not whole, or not for here", () => {
  const refused = async (file: string, words: RegExp, config = configIn()) => {
    await expect(readArchive(config, file)).rejects.toThrow(words);
    expect(existsSync(config.database)).toBe(false);
    expect(existsSync(`${config.database}.key`)).toBe(false);
  };

  it("is refused with words, and nothing is left of it", async () => {
    await refused(join(folder, "none.zip"), /There is no file/);
    writeFileSync(join(folder, "x.zip"), "no zip at all");
    await refused(join(folder, "x.zip"), /no archive/);
    writeFileSync(
      join(folder, "half.zip"),
      readFileSync(path).subarray(0, (madeArchive(world.app)?.bytes ?? 0) / 2),
    );
    await refused(join(folder, "half.zip"), /not whole|no archive/);
    await refused(
      changed((files) => delete files["tables/replies.jsonl"]),
      /of replies it holds 0 of 4/,
    );
    await refused(
      changed((files) => delete files["manifest.json"]),
      /manifest\.json/,
    );
    await refused(
      changed(
        (files) =>
          (files["tables/notes.jsonl"] = strToU8(
            '{"id":1,"prospect_id":99,"user_id":1,"text":"x","at":0}\n',
          )),
      ),
      /not whole|nowhere/,
    );
    await refused(
      changed((files) => (files["tables/lists.jsonl"] = strToU8('{"id":{"evil":1}}\n'))),
      /not as agreed|not whole/,
    );
    const newer = changed((files) => {
      const manifest = JSON.parse(strFromU8(files["manifest.json"] as Uint8Array));
      files["manifest.json"] = strToU8(JSON.stringify({ ...manifest, schema: 9_999 }));
    });
    await refused(newer, /newer version/);
    await refused(path, /another key/, configIn({ SAUDADE_KEY: "1".repeat(64) }));
  });

  it("is not read over an installation that is used", async () => {
    const app = await readBack();
    app.db.close();
    await expect(readArchive(configIn(), path)).rejects.toThrow(/empty one only/);
    expect(existsSync(configIn().database)).toBe(true);
  });

  it("brings its key where the installation has none of its own", async () => {
    const config = { ...configIn(), key: undefined };
    await readArchive(config, path);
    expect(readFileSync(`${config.database}.key`, "utf8")).toBe(world.app.key.toString("hex"));
  });
});

it("is the managers' to make, one at a time; one that is ended leaves the one before", async () => {
  world.app.db.exec("DELETE FROM jobs WHERE kind = 'archive'");
  expect(askArchive(world.app, 1)).toMatchObject({ ok: false });
  expect(askArchive(world.app, 3)).toMatchObject({ ok: true });
  expect(askArchive(world.app, 3)).toMatchObject({ ok: false });
  expect(rows(world, "SELECT kind FROM jobs WHERE state = 'waiting' AND kind = 'archive'")).toHaveLength(1);
  const before = madeArchive(world.app);
  await makeArchive(world.app, () => true);
  expect(madeArchive(world.app)).toEqual(before);
  expect(existsSync(join(archiveFolder(world.app), "everything.zip.partial"))).toBe(false);
});

it("docs/archive.schema.json describes its manifest (made from the schema that reads it)", () => {
  const described: unknown = JSON.parse(readFileSync(join(projectRoot, "docs/archive.schema.json"), "utf8"));
  expect(described).toEqual(z.toJSONSchema(manifestSchema));
});
