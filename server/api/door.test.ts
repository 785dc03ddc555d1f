/** The door of the API against those who mean it no good, and against bad luck: nobody gets in, nothing is done twice. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { type Api, startApi } from "../../app/tests/api.ts";
import { DAY } from "../../core/calendar.ts";
import { bearerOf, keysOf, makeKey, revokeKey } from "./keys.ts";

let api: Api;
beforeAll(async () => {
  api = await startApi();
});
afterAll(() => api.close());

const person = (email: string) => ({ email, firstName: "Nele", list: "Quay" });
const count = (query: string) => (api.world.app.db.prepare(query).get() as { n: number }).n;
const people = () => count("SELECT count(*) AS n FROM prospects");
let before = 0;
beforeEach(() => {
  before = people();
});

describe("a key", () => {
  it("that is none, was revoked, has ended, or whose user has left opens nothing", async () => {
    const { app } = api.world;
    for (const authorization of [
      "",
      "Bearer",
      "Bearer x",
      "Basic bWFydGE6eA==",
      `Bearer saudade_${"x".repeat(32)}`,
      "Bearer ' OR 1=1",
    ]) {
      const answer = await api.ask("GET", "/prospects", { key: "", headers: { authorization } });
      expect(answer, authorization).toMatchObject({
        status: 401,
        body: { type: "urn:saudade:problem:no_key" },
      });
      expect(answer.headers.get("www-authenticate")).toContain("Bearer");
    }
    const make = (user: number, days: number | null) => {
      const made = makeKey(app, user, { name: "Short", scopes: ["prospects:read"], days });
      if (!made.ok) throw new Error("no key");
      return made.value;
    };
    const revoked = make(1, null);
    expect((await api.ask("GET", "/prospects", { key: revoked })).status).toBe(200);
    const [{ id } = { id: 0 }] = keysOf(app, 1);
    expect(revokeKey(app, 2, id)).toMatchObject({ ok: false });
    expect((await api.ask("GET", "/prospects", { key: revoked })).status).toBe(200);
    expect(revokeKey(app, 1, id).ok).toBe(true);
    expect((await api.ask("GET", "/prospects", { key: revoked })).status).toBe(401);
    const short = make(1, 1);
    expect(bearerOf(app, short)).toMatchObject({ user: { id: 1 } });
    expect(bearerOf(app, short, Date.now() + DAY + 1)).toBeNull();
    const gone = make(2, null);
    app.db.exec("UPDATE users SET removed_at = 1 WHERE id = 2");
    expect(bearerOf(app, gone)).toBeNull();
    app.db.exec("UPDATE users SET removed_at = NULL WHERE id = 2");
  });

  it("is nowhere in the database, and the role of its user is read with each request", async () => {
    const key = api.keyOf("colleague");
    expect(api.world.app.db.serialize().includes(key)).toBe(false);
    const change = () => api.ask("PATCH", "/prospects/1", { key, body: { city: "Faro" } });
    expect((await change()).status).toBe(403);
    api.world.app.db.exec("UPDATE users SET role = 'manager' WHERE id = 2");
    expect((await change()).status).toBe(200);
    api.world.app.db.exec("UPDATE users SET role = 'rep' WHERE id = 2");
    expect((await change()).status).toBe(403);
  });
});

describe("a request", () => {
  it("assigns nothing that is not its to assign", async () => {
    for (const extra of [
      { id: 1 },
      { ownerId: 2 },
      { owner: "2" },
      { stage: "won" },
      { origin: "form" },
      { created_at: 0 },
      { verdict: "good" },
    ])
      expect(
        await api.ask("POST", "/prospects", { body: { ...person("x@quay.example"), ...extra } }),
      ).toMatchObject({ status: 422 });
    const polluted = '{"email":"y@quay.example","list":"Quay","__proto__":{"isAdmin":true}}';
    expect((await api.ask("POST", "/prospects", { body: polluted })).status).not.toBe(500);
    expect(({} as { isAdmin?: boolean }).isAdmin).toBeUndefined();
    expect(await api.ask("GET", "/prospects?owner=2")).toMatchObject({ status: 422 });
    expect(await api.ask("GET", "/prospects?fields=id,password_hash")).toMatchObject({ status: 422 });
    expect(await api.ask("GET", "/prospects?limit=5&limit=6")).toMatchObject({ status: 422 });
  });

  it("that is too much, too deep or no JSON is told so, and changes nothing", async () => {
    const many = Array.from({ length: 1_001 }, (_, nth) => person(`p${nth}@quay.example`));
    expect(await api.ask("POST", "/prospects/bulk", { body: { items: many } })).toMatchObject({
      status: 422,
    });
    expect(await api.ask("POST", "/prospects/bulk", { body: { items: [] } })).toMatchObject({ status: 422 });
    expect(
      await api.ask("POST", "/sequences/1/journeys", { body: { prospectIds: many.map((_, nth) => nth) } }),
    ).toMatchObject({ status: 422 });
    expect(
      await api.ask("POST", "/prospects", { body: `{"email":"${"x".repeat(1_200_000)}"}` }),
    ).toMatchObject({ status: 413 });
    const deep = `${"[".repeat(200_000)}${"]".repeat(200_000)}`;
    expect((await api.ask("POST", "/prospects/bulk", { body: `{"items":[${deep}]}` })).body).toMatchObject({
      results: [{ status: 422 }],
    });
    for (const body of ["", "{", "null", '"text"', "\u0000", '{"email":'])
      expect([400, 422], body).toContain((await api.ask("POST", "/prospects", { body })).status);
    expect(people()).toBe(before);
  });

  it("for what is not there is told so, whatever its path says", async () => {
    for (const path of [
      "/prospects/0",
      "/prospects/-1",
      "/prospects/1e9",
      "/prospects/9007199254740993",
      "/prospects/..%2f..",
      "/nothing",
      "/touches/99",
      "/meetings/%00",
    ])
      expect(await api.ask("GET", path), path).toMatchObject({ status: 404, body: { status: 404 } });
  });

  it("sees nothing of what a colleague keeps to themselves", async () => {
    const { db } = api.world.app;
    db.exec(
      "SAVEPOINT own; UPDATE sequences SET is_personal = 1 WHERE id = 1; UPDATE lists SET sharing = 'mine' WHERE id = 1",
    );
    const key = api.keyOf("colleague");
    for (const path of ["/sequences/1", "/journeys/1", "/touches/2"])
      expect((await api.ask("GET", path, { key })).status, path).toBe(404);
    for (const path of [
      "/sequences?state=running",
      "/journeys",
      "/lists",
      "/prospects?list=1",
      "/touches?state=open",
    ])
      expect((await api.ask("GET", path, { key })).body.data, path).toEqual([]);
    expect((await api.ask("POST", "/lists/1/prospects", { key, body: { prospectIds: [1] } })).status).toBe(
      404,
    );
    expect((await api.ask("GET", "/journeys/1")).status).toBe(200);
    db.exec("ROLLBACK TO own; RELEASE own");
  });
});

describe("an Idempotency-Key", () => {
  const once = { "idempotency-key": "order-66" };

  it("has the same request carried out once, and another refused", async () => {
    const ask = (email: string, headers: Record<string, string> = once, key?: string) =>
      api.ask("POST", "/prospects", {
        body: { firstName: "No", lastName: email, company: "Quay", list: "Quay" },
        headers,
        ...(key ? { key } : {}),
      });
    const first = await ask("Address");
    expect(first.status).toBe(200);
    expect((await ask("Address")).body).toEqual(first.body);
    expect(people()).toBe(before + 1);
    expect(await ask("Other")).toMatchObject({
      status: 422,
      body: { type: "urn:saudade:problem:key_reused" },
    });
    // Another's key is another's memory.
    expect((await ask("Other", once, api.keyOf("manager"))).status).toBe(200);
  });

  it("lets a request in bulk that broke off go on where it was", async () => {
    const { db } = api.world.app;
    const items = Array.from({ length: 45 }, (_, nth) => ({
      ...{
        lastName: `Ba${String.fromCharCode(97 + (nth % 26))}${nth > 25 ? "o" : "a"}`,
        company: "Quay",
        city: "Bulkton",
        list: "Quay",
      },
    }));
    const headers = { "idempotency-key": "bulk" };
    const whole = await api.ask("POST", "/prospects/bulk", { body: { items }, headers });
    expect(whole.body.results).toHaveLength(45);
    // As after a death behind the first part: the later ones were not done, and are not remembered.
    db.exec(`DELETE FROM list_prospects WHERE prospect_id IN (SELECT id FROM prospects WHERE city = 'Bulkton' ORDER BY id DESC LIMIT 25);
      DELETE FROM prospects WHERE id IN (SELECT id FROM prospects WHERE city = 'Bulkton' ORDER BY id DESC LIMIT 25);
      UPDATE api_answers SET status = NULL, body = json_object('results', (SELECT json_group_array(json(value)) FROM
        (SELECT value FROM json_each(body, '$.results') LIMIT 20))) WHERE idempotency_key = 'bulk'`);
    const again = await api.ask("POST", "/prospects/bulk", { body: { items }, headers });
    expect(again.body.results?.map(({ status }) => status)).toEqual(items.map(() => 200));
    expect(again.body.results?.slice(0, 20)).toEqual(whole.body.results?.slice(0, 20));
    expect(count("SELECT count(*) AS n FROM prospects WHERE city = 'Bulkton'")).toBe(45);
    expect(count("SELECT count(DISTINCT last_name) AS n FROM prospects WHERE city = 'Bulkton'")).toBe(45);
  });

  it("leaves a refused one to be tried again", async () => {
    const headers = { "idempotency-key": "later" };
    const ask = () => api.ask("PATCH", "/lists/1", { body: { name: "Quay" }, headers });
    expect((await ask()).status).toBe(422);
    api.world.app.db.exec("UPDATE lists SET name = 'Moved' WHERE name = 'Quay'");
    expect((await ask()).status).toBe(200);
  });
});

it("each of many has an answer of its own, and what is refused of one leaves nothing", async () => {
  const { body } = await api.ask("POST", "/prospects/bulk", {
    body: {
      items: [
        person("a1@quay.example"),
        person("nonsense"),
        { nothing: 1 },
        { ...person("a2@quay.example"), list: "" },
        person("a1@quay.example"),
      ],
    },
  });
  expect(body.results?.map(({ index, status }) => [index, status])).toEqual([
    [0, 200],
    [1, 422],
    [2, 422],
    [3, 422],
    [4, 200],
  ]);
  expect(body.results?.[0]).toMatchObject({ value: { isNew: true } });
  expect(body.results?.[4]).toMatchObject({ value: { isNew: false } });
  expect(people()).toBe(before + 1);
});

it("a tag tells whether something changed: a read is spared, a change on an old state refused", async () => {
  const first = await api.ask("GET", "/prospects/2");
  const tag = first.headers.get("etag") ?? "";
  expect(
    await api.ask("GET", "/prospects/2", { headers: { "if-none-match": `W/"x", ${tag}` } }),
  ).toMatchObject({ status: 304 });
  const change = (city: string, match: string) =>
    api.ask("PATCH", "/prospects/2", { body: { city }, headers: { "if-match": match } });
  expect((await change("Faro", tag)).status).toBe(200);
  expect(await change("Porto", tag)).toMatchObject({ status: 412 });
  expect((await api.ask("GET", "/prospects/2")).body).toMatchObject({ city: "Faro" });
  expect((await api.ask("GET", "/prospects/2", { headers: { "if-none-match": tag } })).status).toBe(200);
});

it("a collection is read to its end while others come and go: nobody twice, nobody who stayed left out", async () => {
  const all = new Set(
    (await api.ask("GET", "/prospects?limit=100")).body.data?.map((each) => (each as { id: number }).id),
  );
  const seen: number[] = [];
  let next: unknown = null;
  let nth = 0;
  do {
    const { body } = await api.ask(
      "GET",
      `/prospects?limit=7&fields=email${next === null ? "" : `&cursor=${next}`}`,
    );
    for (const each of body.data ?? []) expect(Object.keys(each as object)).toEqual(["id", "email"]);
    seen.push(...(body.data ?? []).map((each) => (each as { id: number }).id));
    next = body.next;
    await api.ask("POST", "/prospects", { body: person(`late${nth++}@quay.example`) });
  } while (next !== null && nth < 30);
  expect(new Set(seen).size).toBe(seen.length);
  for (const id of all) expect(seen).toContain(id);
  const down =
    (await api.ask("GET", "/prospects?limit=100&order=desc&fields=id")).body.data?.map(
      (each) => (each as { id: number }).id,
    ) ?? [];
  expect(down).toEqual([...down].sort((a, b) => b - a));
});

it("people are found as on their page: by filter, search, stage and list", async () => {
  const filter = encodeURIComponent(
    JSON.stringify({
      match: "all",
      groups: [{ match: "all", conditions: [{ field: "lastName", op: "is", value: "sá" }] }],
    }),
  );
  const ids = async (query: string) =>
    (await api.ask("GET", `/prospects?limit=100&fields=id&${query}`)).body.data?.map(
      (each) => (each as { id: number }).id,
    );
  expect(await ids(`filter=${filter}`)).toEqual([3, 4]);
  expect(await ids(`filter=${filter}&stage=won`)).toEqual([]);
  const { body: list } = await api.ask("POST", "/lists", { body: { name: "Only Bia" } });
  await api.ask("POST", `/lists/${list.id}/prospects`, { body: { prospectIds: [2] } });
  expect(await ids(`list=${list.id}`)).toEqual([2]);
  const { body } = await api.ask("POST", "/prospects", {
    body: { ...person("q1@quay.example"), firstName: "Zdenka" },
  });
  expect(await ids("q=zDENK")).toEqual([(body.prospect as { id: number }).id]);
  expect(await ids(`list=${list.id}&q=zdenka`)).toEqual([]);
  expect(await api.ask("GET", "/prospects?filter=nonsense")).toMatchObject({ status: 422 });
});

it("how much a key may still ask stands in the headers", async () => {
  const { headers } = await api.ask("GET", "/stages");
  expect(headers.get("ratelimit-policy")).toMatch(/"requests"; ?q=\d+; ?w=60/);
  expect(headers.get("ratelimit")).toMatch(/r=\d+/);
});
