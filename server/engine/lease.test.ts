import { expect, it } from "vitest";
import { migrate, openDb } from "../db/open.ts";
import { holdLease, releaseLease } from "./lease.ts";

it("one engine works at a time; another takes over once the lease has run out or was given back", () => {
  const db = openDb(":memory:");
  migrate(db);
  expect(holdLease(db, "first", 0, 10)).toBe(true);
  expect(holdLease(db, "second", 9, 10)).toBe(false);
  expect(holdLease(db, "first", 9, 10)).toBe(true);
  expect(holdLease(db, "second", 18, 10)).toBe(false);
  expect(holdLease(db, "second", 19, 10)).toBe(true);
  releaseLease(db, "second");
  expect(holdLease(db, "first", 20, 10)).toBe(true);
});

it("a lease that reaches further ahead than any lasts was written before the clock was set back, and counts for nothing", () => {
  const db = openDb(":memory:");
  migrate(db);
  expect(holdLease(db, "first", 1_000_000, 10)).toBe(true);
  expect(holdLease(db, "second", 500, 10)).toBe(true);
});
