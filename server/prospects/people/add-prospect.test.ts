import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { createWorld, rows, type World } from "../../tests/world.ts";
import { eraseProspect } from "../privacy/erase-prospect.ts";
import { addNote, addProspect } from "./add-prospect.ts";
import { prospectStory } from "./prospect-story.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const add = (input: Record<string, string>) =>
  addProspect(world.app, world.userId, { listName: "By hand", ...input });
const errorsOf = (input: Record<string, string>) => {
  const added = add(input);
  return added.ok ? {} : added.errors;
};

describe("a person who is typed in", () => {
  it("is cleaned like everybody else, belongs to who typed, and their address is looked at", () => {
    const added = add({
      firstName: "DR. ILSE",
      lastName: "BRANDT",
      email: " Ilse.Brandt@Kai.example ",
      company: "Kaimuseum GmbH",
      city: "Hamburg",
      country: "Deutschland",
    });
    if (!added.ok) throw new Error(JSON.stringify(added.errors));
    const { prospect, lists, owner, cleanings } = prospectStory(world.app, null, added.value.id);
    expect(prospect).toMatchObject({
      firstName: "Ilse",
      lastName: "Brandt",
      email: "ilse.brandt@kai.example",
      company: "Kaimuseum",
      companyDomain: "kai.example",
      country: "DE",
      timeZone: "Europe/Berlin",
      origin: "typed",
    });
    expect(lists.map(({ name }) => name)).toEqual(["By hand"]);
    expect(owner).toBe("Marta Quintela");
    expect(cleanings.find(({ field }) => field === "firstName")?.original).toBe("DR. ILSE");
    expect(rows(world, "SELECT kind FROM jobs")).toEqual([{ kind: "verify" }]);
  });

  it("may lack an address if one can be found: by a last name and a company", () => {
    expect(add({ firstName: "Ilse", lastName: "Brandt", company: "Kaimuseum" }).ok).toBe(true);
    for (const lacks of [{ lastName: "Brandt" }, { firstName: "Ilse", company: "Kaimuseum" }, {}])
      expect(errorsOf(lacks as Record<string, string>).email).toContain("a last name and a company");
  });

  it("is the one who is known, if the address is: put on the list, and left as they are", () => {
    const first = add({ firstName: "Ilse", email: "ilse@kai.example" });
    const second = add({ firstName: "Somebody else", email: "ILSE@kai.example", listName: "Others" });
    expect(second).toMatchObject({ ok: true, value: { isNew: false, id: first.ok ? first.value.id : 0 } });
    expect(rows(world, "SELECT first_name FROM prospects")).toEqual([{ first_name: "Ilse" }]);
    expect(rows(world, "SELECT 1 FROM list_prospects")).toHaveLength(2);
  });

  it.each([
    ["ilse@", "no address"],
    ["ilse at kai.example", "Do you mean ilse@kai.example?"],
    ["ilse@kai..example", "Do you mean ilse@kai.example?"],
  ])("is refused with “%s”", (email, words) => expect(errorsOf({ email }).email).toContain(words));

  it("needs a list, and does not come back once erased", () => {
    expect(errorsOf({ email: "ilse@kai.example", listName: " " }).listName).toContain("Name the list");
    const added = add({ firstName: "Ilse", email: "ilse@kai.example" });
    if (!added.ok) throw new Error("not added");
    expect(eraseProspect(world.app, null, { id: added.value.id, name: "ilse" }).ok).toBe(true);
    expect(errorsOf({ email: "ilse@kai.example" }).email).toContain("erased for good");
  });
});

describe("a note", () => {
  it("is kept with who wrote it, the newest first, and is not empty", () => {
    const added = add({ firstName: "Ilse", email: "ilse@kai.example" });
    const id = added.ok ? added.value.id : 0;
    expect(addNote(world.app, world.userId, { id, text: "  " })).toMatchObject({
      errors: { note: "Write something first." },
    });
    for (const text of ["Called, no answer", "Called back"])
      expect(addNote(world.app, world.userId, { id, text }).ok).toBe(true);
    expect(prospectStory(world.app, null, id).notes).toMatchObject([
      { text: "Called back", by: "Marta Quintela" },
      { text: "Called, no answer" },
    ]);
  });
});
