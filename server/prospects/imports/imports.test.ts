import iconv from "iconv-lite";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { cleaningOf } from "../../db/cleanings.ts";
import { unwatched } from "../../jobs/report.ts";
import { createWorld, rows, type World } from "../../tests/world.ts";
import { addNote } from "../people/add-prospect.ts";
import { importProspects } from "./import-prospects.ts";
import { importById, importRows } from "./imports.ts";
import { askLookThrough, lookThrough } from "./look-through.ts";
import { openImport } from "./open-import.ts";
import { askImport, runImport } from "./run-import.ts";
import { undoImport } from "./undo-import.ts";
import { chooseEncoding, uploadImport } from "./upload-import.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const bytes = (text: string) => new TextEncoder().encode(text);
async function bring(text: string, listName = "Museums") {
  const outcome = await importProspects(world.app, world.userId, {
    name: "a.csv",
    bytes: bytes(text),
    listName,
  });
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
  return outcome.value;
}
const upload = (text: string) => {
  const uploaded = uploadImport(world.app, world.userId, { name: "a.csv", bytes: bytes(text) });
  if (!uploaded.ok) throw new Error(JSON.stringify(uploaded.errors));
  return uploaded.value;
};
const people = () =>
  rows<Record<string, unknown>>(world, "SELECT email, first_name, city FROM prospects ORDER BY id");

describe("an import", () => {
  it("adds the new, fills the blanks of the known, and names the rest by line", async () => {
    await bring("email,first name,city\nana@kai.example,Ana,\n");
    const { report, importId } = await bring(
      "email,first name,city\nANA@kai.example,Anna,Faro\nbia@kai.example,Bia,\nno address,X,\nbia@kai.example,Bia,\n",
    );
    expect(report).toMatchObject({ added: 1, known: 1, refused: 1, repeated: 1 });
    expect(importRows(world.app, importId, "refused")).toMatchObject([
      { line: 4, detail: expect.stringContaining("space") },
    ]);
    expect(importRows(world.app, importId, "repeated")).toMatchObject([{ line: 5 }]);
    expect(people()).toEqual([
      { email: "ana@kai.example", first_name: "Ana", city: "Faro" },
      { email: "bia@kai.example", first_name: "Bia", city: "" },
    ]);
  });

  it("replaces or keeps each field of the known as chosen, and shows old and new before", async () => {
    await bring("email,first name,city,title\nana@kai.example,Ana,Faro,Registrar\n");
    const id = upload("email,first name,city,title\nana@kai.example,Anna,Porto,Keeper\n");
    const { settings } = importById(world.app, id) as NonNullable<ReturnType<typeof importById>>;
    askLookThrough(world.app, world.userId, id, {
      ...settings,
      known: { firstName: "replace", city: "keep" },
    });
    await lookThrough(world.app, id, unwatched);
    const [known] = importRows(world.app, id, "known");
    expect(JSON.parse(known?.detail ?? "{}").differ).toContainEqual({
      field: "city",
      before: "Faro",
      after: "Porto",
    });
    expect(importById(world.app, id)?.report.knownFields).toContainEqual({
      field: "title",
      differ: 1,
      blank: 0,
    });
    expect(askImport(world.app, world.userId, id)).toMatchObject({ ok: true });
    await runImport(world.app, id, unwatched);
    expect(rows(world, "SELECT first_name, city, title FROM prospects")).toEqual([
      { first_name: "Anna", city: "Faro", title: "Registrar" },
    ]);
  });

  it("cleans what it brings, and keeps the originals with the rules", async () => {
    const { report } = await bring(
      "email,first name,last name,company\nx@kai.example,Dr. ILSE 🚀,BRANDT,Kaimuseum Nord GmbH\n",
    );
    expect(rows(world, "SELECT first_name, last_name, company FROM prospects")).toEqual([
      { first_name: "Ilse", last_name: "Brandt", company: "Kaimuseum Nord" },
    ]);
    expect(cleaningOf(world.app.db, 1)).toContainEqual({
      field: "firstName",
      original: "Dr. ILSE 🚀",
      cleaned: "Ilse",
      rules: ["emoji", "honorific", "capitals"],
      refused: [],
    });
    expect(report.cleaning?.find(({ rule }) => rule === "legal_form")).toMatchObject({ count: 1 });
  });

  it("joins colleagues at one company, by its web domain", async () => {
    await bring(
      "email,organisation,website\na@x.example,Kai,https://www.kai.example/en\nb@y.example,Kai Museum,kai.example\n",
    );
    expect(rows(world, "SELECT name, domain FROM companies")).toEqual([
      { name: "Kai", domain: "kai.example" },
    ]);
  });

  it("keeps the name that the file gives a house, where its domain is another's: a city's museums", async () => {
    const { report } = await bring(
      "email,company\na@stadt.example,Museum of Glass\nb@stadt.example,City Archive\nc@stadt.example,City Archive\n",
    );
    expect(rows(world, "SELECT company FROM prospects ORDER BY id")).toEqual([
      { company: "Museum of Glass" },
      { company: "City Archive" },
      { company: "City Archive" },
    ]);
    expect(rows(world, "SELECT name, domain FROM companies ORDER BY id")).toEqual([
      { name: "Museum of Glass", domain: "stadt.example" },
      { name: "City Archive", domain: null },
    ]);
    expect(report.problems).toMatchObject([{ problem: "shared_domain", count: 1 }]);
  });

  it("believes what the file says of who wants no mail, and shows it before", async () => {
    const { report } = await bring(
      "email,Email Opt Out,Email status\nana@kai.example,true,\nbia@kai.example,false,bounced\ncaio@kai.example,,open\n",
    );
    expect(report.problems?.map(({ problem }) => problem)).toEqual(["opted_out", "bad_address"]);
    expect(rows(world, "SELECT value, reason FROM block_list ORDER BY value")).toEqual([
      { value: "ana@kai.example", reason: "opted_out" },
      { value: "bia@kai.example", reason: "bounced" },
    ]);
  });

  it("asks about a column of yes and no that it has no word for", async () => {
    const { report } = await bring("email,Grüne Liste,Rooms\nana@kai.example,ja,1\nbia@kai.example,,2\n");
    expect(report.notes).toEqual([expect.stringMatching(/^“Grüne Liste” says only yes and no\./)]);
  });

  it("reads older letters by statistics, and as somebody chose who saw them", async () => {
    const uploaded = uploadImport(world.app, world.userId, {
      name: "a.csv",
      bytes: iconv.encode("email;jméno;příjmení\nk@kai.example;Kateřina;Dvořáková\n", "windows-1250"),
    });
    const id = uploaded.ok ? uploaded.value : 0;
    expect(openImport(world.app, world.userId, id)).toMatchObject({
      letters: { encoding: "windows-1250", sample: expect.stringContaining("Dvořáková") },
      settings: { uses: ["email", "first_name", "last_name"] },
    });
    expect(chooseEncoding(world.app, world.userId, id, "no such letters").ok).toBe(false);
    expect(chooseEncoding(world.app, world.userId, id, "windows-1252").ok).toBe(true);
    expect(openImport(world.app, world.userId, id)?.letters?.sample).toContain("Dvoøáková");
    expect(chooseEncoding(world.app, world.userId, id, "windows-1250").ok).toBe(true);
    await lookThrough(world.app, id, unwatched);
    await runImport(world.app, id, unwatched);
    expect(rows(world, "SELECT last_name FROM prospects")).toEqual([{ last_name: "Dvořáková" }]);
  });

  it("remembers how the columns of a header were used", async () => {
    const id = upload("email,Remark\nana@kai.example,Registrar\n");
    askLookThrough(world.app, world.userId, id, { uses: ["email", "title"], listName: "A" });
    await lookThrough(world.app, id, unwatched);
    await runImport(world.app, id, unwatched);
    expect(importById(world.app, upload("Remark,email\nKeeper,bia@kai.example\n"))?.settings.uses).toEqual([
      "title",
      "email",
    ]);
  });

  it.each([
    ["two columns for one field", "email,city\nx@y.example,z\n", ["email", "email"]],
    ["nothing to know people by", "email,city\nx@y.example,z\n", ["skip", "city"]],
    ["columns of another file", "email,city\nx@y.example,z\n", ["email"]],
  ])("with %s is refused and stores nobody", (_, text, uses) => {
    expect(askLookThrough(world.app, world.userId, upload(text), { uses, listName: "A" })).toMatchObject({
      ok: false,
      errors: { uses: expect.any(String) },
    });
    expect(people()).toEqual([]);
  });

  it("without a usable row says so and stores nobody", async () => {
    const outcome = await importProspects(world.app, null, {
      name: "a.csv",
      bytes: bytes("email,city\nbroken,Faro\n"),
      listName: "A",
    });
    expect(outcome).toMatchObject({ ok: false, errors: { file: expect.stringContaining("line 2") } });
    expect(people()).toEqual([]);
  });

  it("of a long file sees its head at once, and what is wrong further down when it is looked through", async () => {
    const lines = Array.from({ length: 20_000 }, (_, nth) => `p${nth}@house${nth % 40}.example,"Ana",Faro`);
    const id = upload(`email,first name,city\n${lines.join("\n")}\nlast@house.example,"never closed,Faro\n`);
    expect(importById(world.app, id)).toMatchObject({
      rows: 20_001,
      settings: { uses: ["email", "first_name", "city"] },
    });
    await lookThrough(world.app, id, unwatched);
    expect(importById(world.app, id)).toMatchObject({
      state: "ready",
      report: {
        added: 20_000,
        problems: [{ problem: "damaged", isLeftOut: true, count: 1, examples: [{ line: 20_002 }] }],
      },
    });
  });

  it("says aloud that somebody has another's address, in the file and in the base", async () => {
    await bring("email,first name,last name\nana@kai.example,Ana,Reis\n", "Old");
    const { report } = await bring(
      "email,first name,last name\nana@kai.example,Bia,Sol\nhalls@kai.example,Ilse,Brandt\nhalls@kai.example,Jonas,Kurz\n",
    );
    expect(report.problems?.map(({ problem, examples }) => [problem, examples[0]?.words])).toEqual([
      ["shared_address", expect.stringContaining("Ilse Brandt's on line 3; Jonas Kurz")],
      ["other_name", expect.stringContaining("known as Ana Reis, and the file says Bia Sol")],
    ]);
  });

  it("mends addresses unless it is told not to, and keeps the others of a cell", async () => {
    const text = "email,first name\nana at kai dot example,Ana\nbia@kai.example; info@kai.example,Bia\n";
    const { report } = await bring(text);
    expect(report.cleaning?.find(({ rule }) => rule === "address")).toMatchObject({ count: 1 });
    expect(rows(world, "SELECT email, custom FROM prospects ORDER BY id")).toEqual([
      { email: "ana@kai.example", custom: "{}" },
      { email: "bia@kai.example", custom: '{"other_addresses":"info@kai.example"}' },
    ]);
    const id = upload(text);
    const { settings } = importById(world.app, id) as NonNullable<ReturnType<typeof importById>>;
    askLookThrough(world.app, world.userId, id, { ...settings, off: ["address"] });
    await lookThrough(world.app, id, unwatched);
    expect(importById(world.app, id)?.report).toMatchObject({ refused: 1, known: 1 });
  });

  it("that was killed between two chunks goes on from there", async () => {
    const lines = Array.from({ length: 11_000 }, (_, nth) => `p${nth}@house${nth % 40}.example,Ana`);
    const id = upload(`email,first name\n${lines.join("\n")}`);
    await lookThrough(world.app, id, unwatched);
    let calls = 0;
    const dies = () => {
      if (++calls > 2) throw new Error("killed");
      return false;
    };
    await expect(runImport(world.app, id, dies)).rejects.toThrow("killed");
    expect(rows(world, "SELECT count(*) AS count FROM prospects")).toEqual([{ count: 10_000 }]);
    await runImport(world.app, id, unwatched);
    expect(rows(world, "SELECT count(*) AS count FROM prospects")).toEqual([{ count: 11_000 }]);
    expect(importById(world.app, id)).toMatchObject({ state: "done", report: { added: 11_000 } });
  });

  it("that is cancelled on the way takes back what it stored", async () => {
    const lines = Array.from({ length: 11_000 }, (_, nth) => `p${nth}@house.example,Ana`);
    const id = upload(`email,first name\n${lines.join("\n")}`);
    await lookThrough(world.app, id, unwatched);
    let calls = 0;
    await runImport(world.app, id, () => ++calls > 2);
    expect(people()).toEqual([]);
    expect(importById(world.app, id)?.state).toBe("undone");
  });
});

describe("the undo of an import", () => {
  it("takes its people away and gives the known their values back, but leaves whom somebody worked with", async () => {
    await bring("email,first name,city\nana@kai.example,Ana,\n", "Old");
    const { importId, listId } = await bring(
      "email,city\nana@kai.example,Faro\nbia@kai.example,Porto\ncaio@kai.example,Porto\n",
      "New",
    );
    const [caio] = rows<{ id: number }>(world, "SELECT id FROM prospects WHERE email = 'caio@kai.example'");
    addNote(world.app, world.userId, { id: caio?.id, text: "rang them" });
    expect(undoImport(world.app, null, importId)).toMatchObject({ value: { removed: 1, stay: 1 } });
    expect(people()).toEqual([
      { email: "ana@kai.example", first_name: "Ana", city: "" },
      { email: "caio@kai.example", first_name: "", city: "Porto" },
    ]);
    expect(rows(world, `SELECT 1 FROM list_prospects WHERE list_id = ${listId}`)).toEqual([]);
    expect(undoImport(world.app, null, importId)).toMatchObject({ value: { removed: 0, stay: 0 } });
  });

  it("leaves a value alone that was changed again since", async () => {
    await bring("email,city\nana@kai.example,\n", "Old");
    const { importId } = await bring("email,city\nana@kai.example,Faro\n", "New");
    world.app.db.exec("UPDATE prospects SET city = 'Lagos'");
    undoImport(world.app, null, importId);
    expect(rows(world, "SELECT city FROM prospects")).toEqual([{ city: "Lagos" }]);
  });
});
