import Database from "better-sqlite3";
import { expect, it } from "vitest";
import { ADDRESS_STATES, addressState, LIKELY_REASONS, VERDICTS } from "../../core/prospects/verdict.ts";
import { STATE_IS, STATE_OF } from "./address-state.ts";

it("SQL and the core say the same of every address, and each is in one state", () => {
  const db = new Database(":memory:");
  db.exec("CREATE TABLE people (email, verdict, verdict_reason)");
  const insert = db.prepare("INSERT INTO people VALUES (?, ?, ?)");
  insert.run(null, null, null);
  for (const verdict of [null, ...VERDICTS])
    for (const reason of [null, "role", ...LIKELY_REASONS]) insert.run("ada@kai.example", verdict, reason);
  const states = ADDRESS_STATES.map((state) => `iif(${STATE_IS[state]}, '${state},', '')`).join(" || ");
  const rows = db
    .prepare(
      `SELECT coalesce(email, '') AS email, verdict, verdict_reason AS verdictReason,
         ${STATE_OF} AS state, ${states} AS states FROM people p`,
    )
    .all() as { email: string; verdict: string; verdictReason: string; state: string; states: string }[];
  expect(
    rows.filter(({ state, states, ...row }) => !(state === addressState(row) && states === `${state},`)),
  ).toEqual([]);
  expect(new Set(rows.map(({ state }) => state)).size).toBe(ADDRESS_STATES.length);
});
