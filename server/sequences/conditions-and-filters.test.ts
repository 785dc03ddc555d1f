/** A condition on a field and a filter of the Prospects page say the same of everybody. */
import fc from "fast-check";
import { afterAll, beforeAll, expect, it } from "vitest";
import { TEXT_OPS } from "../../core/prospects/filter-fields.ts";
import { holds } from "../../core/sequence/holds.ts";
import { sql } from "../db/open.ts";
import { filterSql } from "../prospects/filters/filter-sql.ts";
import { addPeople, createWorld, type World } from "../tests/world.ts";
import { factsOf } from "./walk.ts";

let world: World;
beforeAll(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana"]);
});
afterAll(() => world.close());

/** Merge fields with the column a filter knows them by. */
const FIELDS = [
  ["city", "city", "city"],
  ["title", "title", "title"],
  ["first_name", "first_name", "firstName"],
  ["country", "country", "country"],
  ["rooms", "custom", "custom:rooms"],
] as const;

const words = fc.constantFrom(
  "",
  "Porto",
  "PÓRTO",
  "porto alegre",
  "São João",
  "sao",
  "100%",
  "a_b",
  "\\",
  "PT",
  "Portugal",
  "portug",
  "x'y",
);

it("for whatever is stored and asked", () => {
  const { db } = world.app;
  fc.assert(
    fc.property(
      fc.constantFrom(...FIELDS),
      fc.constantFrom(...TEXT_OPS),
      words,
      words,
      ([merge, column, filter], op, stored, wanted) => {
        if (column === "custom")
          db.prepare("UPDATE prospects SET custom = json_object('rooms', ?)").run(stored);
        else db.prepare(`UPDATE prospects SET ${column} = ?`).run(stored);
        const { where, values } = filterSql(
          { match: "all", groups: [{ match: "all", conditions: [{ field: filter, op, value: wanted }] }] },
          0,
        );
        const found = sql(db, `SELECT 1 FROM prospects p WHERE ${where}`).get(values) !== undefined;
        const facts = factsOf(db, {
          id: 0,
          prospectId: 1,
          prospectZone: null,
          prospectCountry: "",
          email: "x",
          hasProfile: 0,
        });
        expect(
          holds({ about: "field", field: merge, op, value: wanted }, facts, 0),
          `${stored} ${op} ${wanted}`,
        ).toBe(found);
      },
    ),
    { numRuns: 600 },
  );
});
