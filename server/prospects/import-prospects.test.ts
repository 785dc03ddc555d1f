import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { createWorld, rows, type World } from "../tests/world.ts";
import { importProspects, previewImport } from "./import-prospects.ts";
import { listProspects, prospectsQuery } from "./list-prospects.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const bytes = (text: string) => new TextEncoder().encode(text);
const bring = (text: string, uses: string[], listName = "Museums") =>
  importProspects(world.app, world.userId, bytes(text), { listName, fileName: "a.csv", uses });

describe("an import", () => {
  it("adds the new, lists the known once and leaves them as they were, and names the rest by line", () => {
    bring("email,first\nana@kai.example,Ana\n", ["email", "first_name"]);
    const report = bring(
      "email,first\nANA@kai.example,Anna\nbia@kai.example,Bia\nno address,X\nbia@kai.example,Bia\n",
      ["email", "first_name"],
    );
    expect(report).toMatchObject({
      ok: true,
      value: { added: 1, known: 1, refused: [{ line: 4 }], repeated: [{ line: 5 }] },
    });
    expect(rows(world, "SELECT first_name FROM prospects ORDER BY id")).toEqual([
      { first_name: "Ana" },
      { first_name: "Bia" },
    ]);
    expect(rows(world, "SELECT count(*) AS count FROM list_prospects")).toEqual([{ count: 2 }]);
  });

  it("joins colleagues at one company, by its web domain", () => {
    bring(
      "email,organisation,site\na@x.example,Kai,https://www.kai.example/en\nb@y.example,Kai Museum,kai.example\n",
      ["email", "company", "company_domain"],
    );
    expect(rows(world, "SELECT name, domain FROM companies")).toEqual([
      { name: "Kai", domain: "kai.example" },
    ]);
  });

  it.each([
    ["two columns for one field", "a,b\nx@y.example,z@y.example\n", ["email", "email"], "uses"],
    ["no column of addresses", "a\nx\n", ["city"], "uses"],
    ["another file than the one previewed", "a,b,c\nx@y.example,1,2\n", ["email"], "file"],
    ["no usable row at all", "email,city\nbroken,Faro\n", ["email", "city"], "file"],
  ])("with %s stores nothing", (_, text, uses, field) => {
    const outcome = bring(text, uses);
    expect(outcome.ok ? null : Object.keys(outcome.errors)).toEqual([field]);
    expect(
      rows(world, "SELECT 1 FROM prospects UNION ALL SELECT 1 FROM imports UNION ALL SELECT 1 FROM lists"),
    ).toEqual([]);
  });

  it("previews the first rows and the use of each column, and stores nothing", () => {
    const preview = previewImport(bytes(`e-mail;Vorname\n${"a@b.example;Ana\n".repeat(9)}`));
    expect(preview).toMatchObject({ ok: true, value: { uses: ["email", "first_name"], rowCount: 9 } });
    expect(preview.ok && preview.value.rows).toHaveLength(5);
  });
});

describe("the list of prospects", () => {
  it("is found by name, address or company, sorted and paged on the server", () => {
    const lines = Array.from(
      { length: 60 },
      (_, index) => `p${index}@kai.example,Ana,Name${String(index).padStart(2, "0")},Kai`,
    );
    bring(`email,first,last,company\n${lines.join("\n")}\nx@other.example,Bia,Solo,Other house`, [
      "email",
      "first_name",
      "last_name",
      "company",
    ]);
    const find = (query: Record<string, string>) => listProspects(world.app, prospectsQuery.parse(query));
    expect(find({}).total).toBe(61);
    expect(find({ sort: "name", dir: "asc", page: "2", size: "25" }).rows[0]?.name).toBe("Ana Name50");
    expect(find({ q: "other ho" }).rows.map(({ name }) => name)).toEqual(["Bia Solo"]);
    expect(find({ q: "bia solo" }).total).toBe(1);
    expect(find({ q: "%" }).total).toBe(61);
    expect(find({ sort: "; DROP", page: "-3", size: "9999" }).rows).toHaveLength(25);
  });
});
