import { afterEach, beforeEach, expect, it } from "vitest";
import { HOUR } from "../../core/calendar.ts";
import { createWorld, type World } from "../tests/world.ts";
import { openDb } from "./open.ts";
import { keepWords, keepWordsIfFree } from "./words.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  world.app.db.pragma("foreign_keys = OFF");
});
afterEach(() => world.close());

const put = (id: number, subject: string) =>
  world.app.db.exec(
    `INSERT INTO touches (id, kind, prospect_id, mailbox_id, recipient, state, message_id, subject, body, at)
     VALUES (${id}, 'answer', 1, 1, 'ana@museum.example', 'claimed', '<${id}@here.example>', '${subject}', '', 1);
     UPDATE touches SET state = 'sent' WHERE id = ${id}`,
  );
const found = (word: string) =>
  world.app.db.prepare("SELECT rowid FROM message_words WHERE message_words MATCH ?").pluck().all(word);

it("an email's words are found once they were put in, and never again once they were overwritten", () => {
  put(1, "Loans");
  expect(found("loans")).toEqual([]);
  keepWords(world.app.db);
  expect(found("loans")).toEqual([3]);
  world.app.db.exec("UPDATE touches SET subject = 'Gone' WHERE id = 1");
  expect(found("loans")).toEqual([]);
  put(2, "Frames");
  world.app.db.exec("UPDATE touches SET subject = 'Gone' WHERE id = 2");
  keepWords(world.app.db);
  expect(found("frames")).toEqual([]);
  expect(found("gone")).toEqual([3, 5]);
});

it("a search waits for nobody who holds the database, and finds the rest afterwards", () => {
  const { db, config } = world.app;
  put(1, "Loans");
  const other = openDb(config.database);
  other.exec("BEGIN IMMEDIATE");
  // Whoever waited would still do so when the test is given up.
  db.pragma(`busy_timeout = ${HOUR}`);
  keepWordsIfFree(db);
  expect(found("loans")).toEqual([]);
  other.exec("ROLLBACK");
  other.close();
  keepWordsIfFree(db);
  expect(found("loans")).toEqual([3]);
  expect(db.pragma("busy_timeout", { simple: true })).toBe(HOUR);
});
