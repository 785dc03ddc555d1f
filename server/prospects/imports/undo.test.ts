/** The undo of an import leaves everything as it was before, whatever the file held and however it was read. */
import fc from "fast-check";
import { afterEach, expect, it } from "vitest";
import { unwatched } from "../../jobs/report.ts";
import { createWorld, rows, type World } from "../../tests/world.ts";
import { openDuplicates } from "../duplicates/duplicates.ts";
import { importById, KNOWN_CHOICES } from "./imports.ts";
import { askLookThrough, lookThrough } from "./look-through.ts";
import { askImport, runImport } from "./run-import.ts";
import { undoImport } from "./undo-import.ts";
import { uploadImport } from "./upload-import.ts";

let world: World | undefined;
afterEach(() => world?.close());

interface Line {
  email: string;
  first: string;
  last: string;
  company: string;
  city: string;
  rooms: string;
}

/** Few names at few houses, so that files meet the same people again, some of them without an address. */
const line: fc.Arbitrary<Line> = fc.record({
  email: fc.constantFrom(
    "ana@kai.example",
    "bia@kai.example",
    "c.sol@mar.example",
    "d@mar.example",
    "",
    "broken",
  ),
  first: fc.constantFrom("Ana", "ANA", "Bia", "Caio", ""),
  last: fc.constantFrom("Reis", "Sol", "Paz"),
  company: fc.constantFrom("Kai", "Kai GmbH", "Mar"),
  city: fc.constantFrom("Faro", "PORTO", ""),
  rooms: fc.constantFrom("7", "12", ""),
});
const file = fc.array(line, { minLength: 1, maxLength: 8 });
const choices = fc.dictionary(
  fc.constantFrom("firstName", "lastName", "city", "company", "custom:rooms"),
  fc.constantFrom(...KNOWN_CHOICES),
);

const text = (lines: Line[]) =>
  [
    "email,first name,last name,company,website,city,rooms",
    ...lines.map(({ email, first, last, company, city, rooms }) =>
      [
        email,
        first,
        last,
        company,
        company.startsWith("Kai") ? "kai.example" : "mar.example",
        city,
        rooms,
      ].join(),
    ),
  ].join("\n");

/** Imports a file; null if none of its lines can be used. */
async function bring(
  { app, userId }: World,
  lines: Line[],
  listName: string,
  known = {},
): Promise<number | null> {
  const uploaded = uploadImport(app, userId, { name: "a.csv", bytes: new TextEncoder().encode(text(lines)) });
  if (!uploaded.ok) return null;
  const id = uploaded.value;
  askLookThrough(app, userId, id, { ...importById(app, id)?.settings, listName, known });
  await lookThrough(app, id, unwatched);
  if (!askImport(app, userId, id).ok) return null;
  await runImport(app, id, unwatched);
  return id;
}

/** All that a rep can see of the people, their lists and their companies. */
const everything = (of: World) => ({
  people: rows(
    of,
    `SELECT id, email, first_name, last_name, company, city, custom, merged_into, live FROM prospects ORDER BY id`,
  ),
  lists: rows(
    of,
    `SELECT l.name, lp.prospect_id FROM list_prospects lp JOIN lists l ON l.id = lp.list_id ORDER BY 1, 2`,
  ),
  groups: openDuplicates(of.app, null, null).groups.map(({ kind, sides }) => [
    kind,
    ...sides.map(({ id }) => id),
  ]),
});

it("for any two files and any choices about the known", async () => {
  await fc.assert(
    fc.asyncProperty(file, file, choices, async (first, second, known) => {
      const fresh = await createWorld({ standin: false });
      world = fresh;
      await bring(fresh, first, "Before");
      const before = everything(fresh);
      const id = await bring(fresh, second, "Then", known);
      if (id !== null) undoImport(fresh.app, null, id);
      expect(everything(fresh)).toEqual(before);
      await fresh.close();
      world = undefined;
    }),
    { numRuns: 60 },
  );
}, 240_000);
