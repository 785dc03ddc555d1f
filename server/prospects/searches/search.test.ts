/** Searches against a directory that is slow to answer, changes its mind, or fails. */
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { profileSchema } from "../../../core/prospects/profile.ts";
import { unwatched } from "../../jobs/report.ts";
import { addPeople, createWorld, rows, type World } from "../../tests/world.ts";
import { eraseProspect } from "../privacy/erase-prospect.ts";
import { askDirectory } from "./directory.ts";
import { saveProfile } from "./profiles.ts";
import { foundPeople, keepFound, searchById } from "./review-search.ts";
import { runSearch, startSearch } from "./search.ts";

/** What the directory answers next; asked with the page's address. */
let answer: (url: URL) => { status?: number; body: unknown };
let asked: URL[] = [];
let server: Server;
let world: World;

beforeAll(async () => {
  server = createServer((request, response) => {
    const url = new URL(request.url ?? "", "http://directory.example");
    asked.push(url);
    const { status = 200, body } = answer(url);
    response.writeHead(status).end(typeof body === "string" ? body : JSON.stringify(body));
  });
  await new Promise<void>((listening) => server.listen(0, "127.0.0.1", listening));
});
afterAll(() => server.close());
beforeEach(async () => {
  asked = [];
  const { port } = server.address() as AddressInfo;
  world = await createWorld({ standin: false, env: { SAUDADE_DIRECTORY: `http://127.0.0.1:${port}` } });
});
afterEach(() => world.close());

const person = (id: string, change: Record<string, unknown> = {}) => ({
  id,
  firstName: "ANA",
  lastName: `Reis${id}`,
  title: "Registrar",
  email: `${id}@kai.example`,
  company: {
    name: "Kaimuseum GmbH",
    domain: "kai.example",
    industry: "Museums",
    employees: 80,
    country: "Norway",
  },
  ...change,
});
const page = (people: unknown[], pages = 1) => ({ total: people.length, pages, people });

function search(definition: Record<string, unknown> = {}): number {
  const saved = saveProfile(world.app, world.userId, {
    id: null,
    name: "North",
    description: "",
    definition: profileSchema.parse({ titles: ["registrar"], countries: ["NO"], ...definition }),
  });
  const started = startSearch(world.app, world.userId, saved.ok ? saved.value : 0);
  if (!started.ok) throw new Error("not started");
  return started.value;
}
const found = (id: number) =>
  rows<{ reference: string; fits: number; reason: string | null; known_id: number | null }>(
    world,
    `SELECT reference, fits, reason, known_id FROM found_people WHERE search_id = ${id} ORDER BY id`,
  );

describe("a search", () => {
  it("asks with titles and their synonyms, countries by name and the size, and judges by itself who fits", async () => {
    answer = () => ({ body: page([person("1"), person("2", { title: "Head of Marketing" })]) });
    const id = search({ employeesFrom: 20, employeesTo: 250, industries: ["Museums"] });
    await runSearch(world.app, id, unwatched);
    const [url] = asked as [URL];
    expect(url.searchParams.getAll("country")).toEqual(["Norway"]);
    expect(url.searchParams.getAll("q")).toEqual(expect.arrayContaining(["registrar", "loans registrar"]));
    expect(Object.fromEntries(url.searchParams)).toMatchObject({
      from: "20",
      to: "250",
      industry: "Museums",
    });
    expect(found(id)).toMatchObject([
      { reference: "1", fits: 1, reason: null },
      { reference: "2", fits: 0, reason: "title" },
    ]);
    const [shown] = foundPeople(world.app, null, id, "fits", 0);
    expect(shown?.found.fields).toMatchObject({ firstName: "Ana", company: "Kaimuseum", country: "NO" });
  });

  it("goes on from the page where it was cut off, and has nobody twice though the directory moved", async () => {
    answer = (url) =>
      Number(url.searchParams.get("page")) === 1
        ? { body: page([person("1"), person("2")], 3) }
        : { body: page([person("2"), person(`p${url.searchParams.get("page")}`)], 3) };
    const id = search();
    await runSearch(world.app, id, () => true);
    expect(found(id).map(({ reference }) => reference)).toEqual(["1", "2"]);
    await runSearch(world.app, id, unwatched);
    expect(found(id).map(({ reference }) => reference)).toEqual(["1", "2", "p2", "p3"]);
    expect(asked.map((url) => url.searchParams.get("page"))).toEqual(["1", "2", "3"]);
    await runSearch(world.app, id, unwatched);
    expect(asked).toHaveLength(3);
  });

  it.each([
    ["an error", { status: 503, body: "down" }, /503/],
    ["no JSON", { body: "<html>" }, /JSON|token/i],
    ["JSON of another kind", { body: { people: [{ id: 7 }] } }, /total|expected/i],
  ])(
    "that is answered with %s says so, keeps what it has, and can be asked again",
    async (_, broken, words) => {
      answer = (url) => (url.searchParams.get("page") === "1" ? { body: page([person("1")], 2) } : broken);
      const id = search();
      await expect(runSearch(world.app, id, unwatched)).rejects.toThrow(words);
      await expect(runSearch(world.app, id, unwatched)).rejects.toThrow("Try again in a while.");
      expect(found(id)).toHaveLength(1);
      answer = () => ({ body: page([person("3")], 2) });
      await runSearch(world.app, id, unwatched);
      expect(found(id).map(({ reference }) => reference)).toEqual(["1", "3"]);
    },
  );

  it("that reaches nobody says where it looked and what was wrong", async () => {
    // A port that browsers and their fetch refuse.
    const lost = await createWorld({ standin: false, env: { SAUDADE_DIRECTORY: "http://127.0.0.1:6000" } });
    const profile = profileSchema.parse({ titles: ["registrar"] });
    await expect(askDirectory(lost.app, profile, 1)).rejects.toThrow(
      "At http://127.0.0.1:6000: 127.0.0.1:6000 cannot be reached.",
    );
    await lost.close();
  });

  it("without a directory says which setting names one", async () => {
    const bare = await createWorld({ standin: false });
    const id = (() => {
      const before = world;
      world = bare;
      const started = search();
      world = before;
      return started;
    })();
    await expect(runSearch(bare.app, id, unwatched)).rejects.toThrow("SAUDADE_DIRECTORY");
    await bare.close();
  });
});

describe("whom a search brings", () => {
  it("is known by address or by name at the company, and stays untouched when kept", async () => {
    addPeople(world, ["ana"]);
    world.app.db.exec("UPDATE prospects SET email = '1@kai.example', title = 'Keeper'");
    answer = () => ({ body: page([person("1"), person("2")]) });
    const id = search();
    await runSearch(world.app, id, unwatched);
    expect(found(id).map(({ known_id }) => known_id)).toEqual([1, null]);
    expect(searchById(world.app, id)?.counts).toMatchObject({ known: 1, fits: 1 });
    expect(keepFound(world.app, world.userId, { searchId: id, listName: "North", ids: null })).toMatchObject({
      ok: true,
      value: { kept: 1 },
    });
    expect(rows(world, "SELECT title FROM prospects WHERE id = 1")).toEqual([{ title: "Keeper" }]);
    expect(keepFound(world.app, world.userId, { searchId: id, listName: "North", ids: null }).ok).toBe(false);
  });

  it("is left out without a trace who was erased", async () => {
    addPeople(world, ["ana"]);
    world.app.db.exec("UPDATE prospects SET email = '1@kai.example'");
    expect(eraseProspect(world.app, null, { id: 1, name: "ana" }).ok).toBe(true);
    answer = () => ({ body: page([person("1"), person("2")]) });
    const id = search();
    await runSearch(world.app, id, unwatched);
    expect(found(id).map(({ reference }) => reference)).toEqual(["2"]);
  });

  it("may lack everything but a name; a broken address counts as none", async () => {
    const bare = {
      id: "9",
      firstName: "Ana",
      lastName: "Reis",
      title: "Registrar",
      company: { country: "Norway" },
    };
    answer = () => ({
      body: page([bare, person("8", { email: "not an address", company: { country: "Norway" } })]),
    });
    const id = search();
    await runSearch(world.app, id, unwatched);
    expect(searchById(world.app, id)?.counts).toMatchObject({ fits: 2, withoutAddress: 2 });
  });
});
