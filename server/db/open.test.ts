import { readdirSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";
import { projectRoot } from "../config.ts";
import { recordEvent } from "./events.ts";
import { migrate, openDb } from "./open.ts";

it("migrations run once, in order, from an empty file", () => {
  const db = openDb(":memory:");
  const names = readdirSync(join(projectRoot, "server/db/migrations")).sort();
  expect(migrate(db)).toEqual(names);
  expect(migrate(db)).toEqual([]);
  expect(db.pragma("foreign_key_check")).toEqual([]);
});

it("what happened cannot be changed or removed", () => {
  const db = openDb(":memory:");
  migrate(db);
  recordEvent(db, { at: 1, kind: "opened" });
  expect(() => db.exec("UPDATE events SET at = 2")).toThrow("append-only");
  expect(() => db.exec("DELETE FROM events")).toThrow("append-only");
});
