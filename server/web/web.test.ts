/** The web server and the supervisor as processes: what programs that knock at the door are told. */
import { execFileSync, spawn } from "node:child_process";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openSession } from "../accounts/session.ts";
import { built, type Started, startProcess } from "../processes.ts";
import { formOfList, saveForm } from "../prospects/forms/forms.ts";
import { signLink } from "../secrets.ts";
import { freePort } from "../tests/free-port.ts";
import { addPeople, createWorld, rows, type World } from "../tests/world.ts";

let world: World;
let running: Started;
let url: string;
let cookie: string;

beforeAll(async () => {
  const port = await freePort();
  url = `http://127.0.0.1:${port}`;
  world = await createWorld({
    standin: false,
    env: { SAUDADE_PORT: String(port), SAUDADE_TICK: "0.2", SAUDADE_LEASE: "1" },
  });
  addPeople(world, ["ana", "bia"]);
  running = await startProcess("Saudade", "server/web/main.ts", world.env);
  cookie = await signInCookie();
});
afterAll(async () => {
  await running.stop();
  await world.close();
});

/** Signs in with the form as a browser would, and gives back the cookie. */
async function signInCookie(): Promise<string> {
  const answer = await fetch(`${url}/sign-in`, {
    method: "POST",
    body: new URLSearchParams({ email: "marta@quillwater.example", password: "salt-and-paper" }),
    redirect: "manual",
  });
  const set = answer.headers.get("set-cookie") ?? "";
  expect(set).toMatch(/^saudade_session=.*HttpOnly.*SameSite=Lax/);
  return set.split(";")[0] ?? "";
}
const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(url + path, { headers, redirect: "manual" });

describe("the web server", () => {
  it("shows pages to who is signed in, and the sign-in to everybody else", async () => {
    expect((await get("/prospects")).headers.get("location")).toBe("/sign-in?to=%2Fprospects");
    const page = await get("/prospects", { cookie });
    expect(page.status).toBe(200);
    expect(await page.text()).toContain("ana@ana-museum.example");
    expect((await get("/prospects", { cookie: `${cookie}x` })).status).toBe(302);
  });

  it("tells who is signed in what changed as it changes, and nobody else", async () => {
    expect((await get("/live")).status).toBe(401);
    const stop = new AbortController();
    const answer = await fetch(`${url}/live`, { headers: { cookie }, signal: stop.signal });
    expect(answer.headers.get("content-type")).toContain("text/event-stream");
    const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
    let heard = "";
    const until = async (words: RegExp) => {
      while (!words.test(heard)) heard += (await reader?.read())?.value ?? "";
    };
    await until(/"plan":0/);
    world.app.db.exec("UPDATE plan_revision SET number = 7");
    await until(/"plan":7/);
    world.app.db.exec("UPDATE reply_revision SET number = 9");
    await until(/"replies":9/);
    stop.abort();
  });

  it("gives machines its counts, and no address with them", async () => {
    const text = await (await get("/metrics")).text();
    expect(text).toContain("saudade_engine_tick_age_seconds");
    expect(text).toMatch(/saudade_jobs|saudade_journeys/);
    expect(text).not.toContain("@");
    // A proxy in front says who is from elsewhere.
    expect((await get("/metrics", { "x-forwarded-for": "192.0.2.1" })).status).toBe(404);
  });

  it("keeps others from framing its pages and from guessing their type", async () => {
    const { headers } = await get("/sign-in");
    expect(headers.get("x-frame-options")).toBe("DENY");
    expect(headers.get("x-content-type-options")).toBe("nosniff");
    expect(headers.get("x-powered-by")).toBeNull();
  });

  it("says at /healthz that no engine works", async () => {
    const answer = await get("/healthz");
    expect(answer.status).toBe(503);
    expect(await answer.json()).toEqual({
      ok: false,
      database: true,
      engine: false,
      problem: null,
      mailboxes: { total: 0, late: [] },
      backup: { on: false, ageHours: null },
      failures: [],
    });
  });

  it("tells strangers at /healthz that something is wrong, and no address and no word of it", async () => {
    world.app.db.exec(
      `INSERT INTO failures VALUES ('job', 'import', 2, ${Date.now()}, 'no such column: secret of ana@ana-museum.example')`,
    );
    const here = await (await get("/healthz")).text();
    expect(here).toContain("secret");
    const far = await (await get("/healthz", { "x-forwarded-for": "192.0.2.1" })).text();
    expect(far).toContain('"count":2');
    expect(far).not.toMatch(/secret|@/);
    expect(await (await get("/metrics")).text()).toMatch(
      /saudade_failures_total\{kind="job",name="import"\} 2/,
    );
    world.app.db.exec("DELETE FROM failures");
  });

  it("gives a person's data and the export to who is signed in only, as files", async () => {
    for (const path of ["/prospects/export", "/prospects/1/data"]) {
      const outside = await get(path);
      expect(outside.status).toBe(302);
      expect(await outside.text()).not.toContain("ana@");
      const inside = await get(path, { cookie });
      expect(inside.headers.get("content-disposition")).toMatch(/^attachment; filename=/);
      expect(await inside.text()).toContain("ana@ana-museum.example");
    }
    expect((await get("/prospects/export?as=vcf", { cookie })).headers.get("content-type")).toMatch(
      /^text\/vcard/,
    );
    expect((await get("/prospects/999/data", { cookie })).status).toBe(404);
  });

  it("takes a web form's entries from anywhere, as a form or as JSON, and only so many a minute", async () => {
    const listId = addPeople(world, ["caio"], "Visitors");
    saveForm(world.app, world.userId, { listId });
    const path = `/f/${formOfList(world.app, null, listId)?.token}`;
    const post = (body: unknown) =>
      fetch(url + path, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(body),
      });
    const refused = await post({ email: "broken" });
    expect([refused.status, await refused.json()]).toEqual([
      400,
      { ok: false, problem: "Type your email address." },
    ]);
    const form = new URLSearchParams({ email: "dora@dora.example", first_name: "<b>Dora</b>" });
    const thanks = await fetch(url + path, { method: "POST", body: form });
    expect(thanks.status).toBe(200);
    expect(await thanks.text()).toContain("Thank you");
    expect(rows(world, "SELECT email FROM prospects WHERE origin = 'form'")).toEqual([
      { email: "dora@dora.example" },
    ]);
    expect((await fetch(`${url}/f/closed`, { method: "POST", body: form })).status).toBe(400);
    const statuses = await Promise.all(
      Array.from({ length: 6 }, async () => (await post({ email: "x@y.example" })).status),
    );
    expect(statuses.filter((status) => status === 429).length).toBeGreaterThanOrEqual(3);
  });

  it("opts nobody out who only looks, and everybody who posts, with one click or the button (RFC 8058)", async () => {
    const blocked = () =>
      rows<{ value: string }>(world, "SELECT value FROM block_list ORDER BY id").map(({ value }) => value);
    const path = (id: number) => `/opt-out/${signLink("opt-out", String(id), world.app.key)}`;
    const page = await (await get(path(1))).text();
    expect(page).toContain("a…@ana-museum.example");
    expect(page).not.toContain("ana@ana");
    expect(blocked()).toEqual([]);
    const click = await fetch(url + path(1), {
      method: "POST",
      body: new URLSearchParams({ "List-Unsubscribe": "One-Click" }),
    });
    expect(click.status).toBe(200);
    expect((await fetch(url + path(2), { method: "POST" })).status).toBe(200);
    expect(blocked()).toEqual(["ana@ana-museum.example", "bia@bia-museum.example"]);
  });

  it("counts an open with a pixel that is never cached, and leads clicks only where a signed link says", async () => {
    const pixel = await get(`/t/o/${signLink("open", "1", world.app.key)}.gif`);
    expect(pixel.headers.get("content-type")).toBe("image/gif");
    expect(pixel.headers.get("cache-control")).toBe("no-store");
    const link = signLink("click", "1 https://quillwater.example/sheet?a=1&b=2", world.app.key);
    const click = await get(`/t/c/${link}`);
    expect(click.headers.get("location")).toBe("https://quillwater.example/sheet?a=1&b=2");
    expect((await get(`/t/c/${link.slice(0, -1)}x`)).status).toBe(404);
  });

  it("answers what does not exist with 404 and a way back", async () => {
    for (const path of [
      "/prospects/999999",
      "/sequences/77",
      "/sending/mailboxes/77",
      "/booked/none",
      "/nowhere",
    ]) {
      const answer = await get(path, { cookie });
      expect(`${path} ${answer.status}`).toBe(`${path} 404`);
      expect(await answer.text()).toContain("Go to Today");
    }
  });

  it("refuses a file that is larger than it may be before reading it", async () => {
    const form = new FormData();
    form.set("intent", "preview");
    form.set("file", new Blob([new Uint8Array(51 * 1024 * 1024)]), "huge.csv");
    const answer = await fetch(`${url}/prospects/import`, {
      method: "POST",
      body: form,
      headers: { cookie },
    });
    expect(await answer.text()).toContain("larger than 50 MB");
  });

  it("forgets a session that was signed out", async () => {
    const own = `saudade_session=${(await signInCookie()).split("=")[1]}`;
    await fetch(`${url}/sign-out`, { method: "POST", headers: { cookie: own }, redirect: "manual" });
    expect((await get("/", { cookie: own })).status).toBe(302);
    expect(openSession(world.app, world.userId)).toBeTypeOf("string");
  });
});

describe("the supervisor", () => {
  it("starts an engine again that was killed, and stops both processes cleanly", async () => {
    await running.stop();
    const supervisor = startSupervisor();
    const healthy = async () => (await get("/healthz").catch(() => null))?.status;
    await expect.poll(healthy, { timeout: 120_000, interval: 200 }).toBe(200);
    const engine = childOf(supervisor.pid, built("server/engine/main.ts"));
    const holder = () => rows<{ holder: string }>(world, "SELECT holder FROM engine_lease")[0]?.holder;
    const killed = holder();
    // 0 would be everybody of this group, the test runner with them.
    expect(engine).toBeGreaterThan(0);
    process.kill(engine, "SIGKILL");
    await expect
      .poll(() => childOf(supervisor.pid, built("server/engine/main.ts")), { timeout: 90_000, interval: 200 })
      .not.toBe(engine);
    await expect
      .poll(() => childOf(supervisor.pid, built("server/engine/main.ts")) > 0, {
        timeout: 90_000,
        interval: 200,
      })
      .toBe(true);
    await expect.poll(holder, { timeout: 60_000, interval: 200 }).not.toBe(killed);
    expect(await healthy()).toBe(200);
    await supervisor.stop();
    await expect.poll(healthy).toBeUndefined();
    expect(rows(world, "SELECT holder FROM engine_lease")).toEqual([]);
  });
});

function startSupervisor() {
  const child = spawn(process.execPath, [built("server/main.ts")], {
    env: { ...process.env, ...world.env },
    stdio: "ignore",
  });
  return {
    pid: child.pid as number,
    stop: () =>
      new Promise<void>((resolve) => {
        child.once("exit", () => resolve());
        child.kill("SIGTERM");
      }),
  };
}

/** The process of the supervisor that runs this file, or 0. */
function childOf(parent: number, file: string): number {
  const lines = execFileSync("ps", ["-eo", "pid,ppid,args"]).toString().split("\n");
  const line = lines.find((each) => each.includes(file) && Number(each.trim().split(/\s+/)[1]) === parent);
  return Number(line?.trim().split(/\s+/)[0] ?? 0);
}
