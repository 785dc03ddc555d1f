/** What is exported comes back the same when it is imported somewhere else. */
import fc from "fast-check";
import { afterEach, expect, it } from "vitest";
import { createWorld, rows, type World } from "../../tests/world.ts";
import { importProspects } from "../imports/import-prospects.ts";
import { exportCsv, exportVcards } from "./export-prospects.ts";

const worlds: World[] = [];
async function freshWorld(): Promise<World> {
  const world = await createWorld({ standin: false });
  worlds.push(world);
  return world;
}
afterEach(async () => {
  for (const world of worlds.splice(0)) await world.close();
});

async function bring({ app, userId }: World, name: string, text: string): Promise<void> {
  const outcome = await importProspects(app, userId, {
    name,
    bytes: new TextEncoder().encode(text),
    listName: "All",
  });
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
}

const fields = (world: World, columns: string) =>
  rows(world, `SELECT ${columns} FROM prospects ORDER BY email`);

/** Rows of a file as people write them, whose signs are what breaks files: quotes, separators, formulas, line breaks. */
const cell = fc.constantFrom(
  "Head of Collections, Prints & Drawings",
  'Keeper of "The Hoard"',
  "=1+1",
  "@sum",
  "-keeper",
  "Curator; Registrar",
  "two\nlines",
  "Ärchivar",
  "",
);
const people = fc.array(
  fc.record({
    first: fc.constantFrom("Ana", "Łucja", "Zoë"),
    title: cell,
    remark: cell,
    phone: fc.constantFrom("+351 210 000 000", ""),
  }),
  { minLength: 1, maxLength: 25 },
);
const quote = (text: string) => `"${text.replaceAll('"', '""')}"`;
const csvOf = (drawn: { first: string; title: string; remark: string; phone: string }[]) =>
  [
    "email,first name,company,job title,remark,phone,country",
    ...drawn.map(({ first, title, remark, phone }, nth) =>
      [`p${nth}@kai${nth}.example`, first, `Kai ${nth}`, title, remark, phone, "Portugal"]
        .map(quote)
        .join(","),
    ),
  ].join("\n");

it("CSV: everybody with every field, whatever signs are in it", async () => {
  for (const drawn of fc.sample(people, { numRuns: 12, seed: 11 })) {
    const [first, second] = [await freshWorld(), await freshWorld()];
    await bring(first, "a.csv", csvOf(drawn));
    await bring(second, "b.csv", exportCsv(first.app, null, {}));
    const columns = "email, first_name, company, title, phone, country, time_zone, custom";
    expect(fields(second, columns)).toEqual(fields(first, columns));
  }
});

it("vCard: everybody with what a card holds", async () => {
  const [drawn] = fc.sample(people, { numRuns: 1, seed: 12 });
  const [first, second] = [await freshWorld(), await freshWorld()];
  await bring(first, "a.csv", csvOf(drawn ?? []));
  await bring(second, "b.vcf", exportVcards(first.app, null, {}));
  const columns = "email, first_name, company, title, phone, country";
  expect(fields(second, columns)).toEqual(fields(first, columns));
});
