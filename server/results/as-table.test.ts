/** A table by whatever an address asks for: its part, or else the steps. */
import { afterAll, beforeAll, expect, it } from "vitest";
import {
  addJourney,
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { overviewTable, sequenceTable } from "./as-table.ts";

let world: World;
let id: number;
beforeAll(async () => {
  world = await createWorld({ standin: false });
  id = addSequence(world, addPeople(world, ["ana", "bia"]), [addUnasked(world)]);
  for (const person of [1, 2]) addJourney(world, id, person);
  world.app.db.exec(
    `UPDATE journeys SET started_at = ${TUESDAY}; UPDATE prospects SET first_name = '=1+1', last_name = '' WHERE id = 2`,
  );
});
afterAll(() => world.close());

const linesOf = (table: string | null) => table?.trim().split(/\r?\n/) ?? [];
const ofSequence = (query: Record<string, string>, by = 1) =>
  linesOf(sequenceTable(world.app, by, id, query, "UTC"));

it("gives the part that is asked for, and the steps for what is none", () => {
  expect(ofSequence({ show: "weeks" })[0]).toMatch(/^day,started/);
  for (const show of ["steps", "", "__proto__", "constructor", "toString"])
    expect(ofSequence({ show })[0]).toMatch(/^step,channel/);
  expect(sequenceTable(world.app, 1, 999, {}, "UTC")).toBeNull();
});

it("gives everybody behind a number, and takes no name for a formula", () => {
  const [head, ...people] = ofSequence({ show: "people", pick: "started", page: "7" });
  expect(head).toBe("name,title,company,started,answered");
  expect(people).toHaveLength(2);
  expect(people.join()).toContain("'=1+1");
  expect(ofSequence({ show: "people", pick: "answered" })).toEqual([""]);
});

it("gives what stands beside it, and only itself where nothing does", () => {
  const beside = ofSequence({ show: "beside", beside: "version 1", since: "2026-01-01" });
  expect(beside.map((line) => line.split(",").slice(0, 2))).toEqual([
    ["look", "started"],
    ["Loans", "2"],
    ["version 1", "2"],
  ]);
  expect(ofSequence({ show: "beside", beside: "look 99" })).toHaveLength(2);
});

it("gives the report of a week with the one before, and the targets", async () => {
  const table = async (query: Record<string, string>) =>
    linesOf(await overviewTable(world.app, 1, query, "UTC"));
  const report = await table({ show: "report", day: "2026-06-09" });
  expect(report[0]).toMatch(/^what,Started,/);
  expect(report.slice(1).map((line) => line.split(",").slice(0, 2))).toEqual([
    ["All from 2026-06-08 to 2026-06-14", "2"],
    ["All in the time before", "0"],
    ["Loans", "2"],
  ]);
  expect((await table({ show: "targets" }))[1]).toMatch(/^The team,0,,/);
});
