/** What a rep changes of a person by hand: where they work, and a list's own fields among the rest. */
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { createWorld, rows, type World } from "../../tests/world.ts";
import { addProspect } from "./add-prospect.ts";
import { prospectStory } from "./prospect-story.ts";
import { fillField, saveProspect } from "./save-prospect.ts";

let world: World;
let ids: number[];
beforeEach(async () => {
  world = await createWorld({ standin: false });
  for (const name of ["ilse", "olaf"])
    addProspect(world.app, world.userId, {
      ...{ listName: "By hand", firstName: name, lastName: "Brandt" },
      ...{ company: "Kai Museum", email: `${name}@kai.example` },
    });
  ids = rows<{ id: number }>(
    world,
    "SELECT id FROM prospects WHERE email LIKE '%@kai.example' ORDER BY id",
  ).map(({ id }) => id);
});
afterEach(() => world.close());

const save = (change: Record<string, string>, id = ids[0] as number) =>
  saveProspect(world.app, world.userId, { id, ...change });
const story = (id = ids[0] as number) => prospectStory(world.app, world.userId, id);
const works = (id?: number) => {
  const { company, companyDomain } = story(id).prospect;
  return `${company} ${companyDomain ?? ""}`.trim();
};

describe("where somebody works", () => {
  it("is changed for them alone, with what was there before", () => {
    expect(works()).toBe("Kai Museum kai.example");
    expect(save({ company: "Harbour Archive", companyDomain: "harbour.example" }).ok).toBe(true);
    expect(works()).toBe("Harbour Archive harbour.example");
    expect(works(ids[1])).toBe("Kai Museum kai.example");
    expect(story().changes.filter(({ field }) => field.startsWith("company"))).toHaveLength(2);
    expect(
      rows(world, "SELECT field, before, after FROM changes WHERE field LIKE 'company%' ORDER BY field"),
    ).toEqual([
      { field: "company", before: "Kai Museum", after: "Harbour Archive" },
      { field: "companyDomain", before: "kai.example", after: "harbour.example" },
    ]);
    // Back to where the other still is: the same company, not a second of its name.
    save({ company: "Kai Museum", companyDomain: "https://www.kai.example/visit" });
    expect(story().prospect.companyId).toBe(story(ids[1]).prospect.companyId);
  });

  it("keeps its web site where only the name is spelled better, and gets one that it had not", () => {
    save({ company: "Kai-Museum", companyDomain: "kai.example" });
    expect(works()).toBe("Kai-Museum kai.example");
    save({ company: "Harbour Archive", companyDomain: "" });
    expect(works()).toBe("Harbour Archive");
    save({ company: "Harbour Archive", companyDomain: "" }, ids[1]);
    save({ company: "Harbour Archive", companyDomain: "harbour.example" });
    expect(works(ids[1])).toBe("Harbour Archive harbour.example");
  });

  it("may be nowhere, and is no mail provider", () => {
    save({ company: "", companyDomain: "" });
    expect(works()).toBe("");
    expect(story().prospect.companyId).toBeNull();
    for (const companyDomain of ["not a site", "gmail.com"])
      expect(save({ companyDomain })).toMatchObject({
        ok: false,
        errors: { companyDomain: expect.any(String) },
      });
  });

  it("is filled in where a text lacks it", () => {
    save({ company: "", companyDomain: "" });
    const filled = fillField(world.app, world.userId, {
      prospectId: ids[0] as number,
      field: "company",
      value: "Harbour Archive",
    });
    expect(filled.ok).toBe(true);
    expect(works()).toBe("Harbour Archive");
  });
});

it("a list's own fields are changed and emptied, and nothing is read as a path", () => {
  save({ "custom:loan_year": " 1986 ", "custom:a.b": "no", "custom:x') --": "no" });
  expect(story().prospect.custom).toEqual({ loan_year: "1986" });
  expect(rows(world, "SELECT field, after FROM changes WHERE field LIKE 'custom%'")).toEqual([
    { field: "custom:loan_year", after: "1986" },
  ]);
  save({ "custom:loan_year": "" });
  expect(story().prospect.custom).toEqual({});
});
