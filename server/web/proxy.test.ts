/** Behind a TLS reverse proxy, as most installations stand: sign-in, opt-out, booking and an upload, and what attackers try. */
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { request as tlsRequest } from "node:https";
import { connect } from "node:net";
import { join } from "node:path";
import { Readable } from "node:stream";
import { parse as parseDisposition } from "content-disposition";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { usualDefinition } from "../../core/pages/template.ts";
import { projectRoot } from "../config.ts";
import { fileLink } from "../mail/file-links.ts";
import { keepFile } from "../mail/files.ts";
import { pageLink } from "../mail/page-links.ts";
import { lockFile } from "../pages/file-looks.ts";
import { addPart, beginFilm, finishFilm, stopReadingFilms } from "../pages/films.ts";
import { createTemplate, saveTemplate } from "../pages/templates.ts";
import { type Started, startProcess } from "../processes.ts";
import { signLink } from "../secrets.ts";
import { freePort } from "../tests/free-port.ts";
import { startTlsProxy, type TlsProxy } from "../tests/tls-proxy.ts";
import {
  addJourney,
  addPeople,
  addSequence,
  createWorld,
  PASSWORD,
  rows,
  type World,
} from "../tests/world.ts";

const HOST = "outreach.quillwater.example";
const PUBLIC = `https://${HOST}`;

let world: World;
let web: Started;
let proxy: TlsProxy;
let proxyPort: number;
let webPort: number;

beforeAll(async () => {
  [webPort, proxyPort] = [await freePort(), await freePort()];
  world = await createWorld({ standin: false, env: { SAUDADE_PORT: String(webPort), SAUDADE_URL: PUBLIC } });
  addPeople(world, ["ana", "bia", "caio"]);
  web = await startProcess("web server", "server/web/main.ts", world.env);
  proxy = await startTlsProxy(HOST, proxyPort, webPort);
});
afterAll(async () => {
  proxy.stop();
  await web.stop();
  await world.close();
});

interface Answer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  text: string;
}

/** A browser's request through the proxy. */
function ask(
  path: string,
  options: { method?: string; headers?: Record<string, string>; body?: string | Buffer } = {},
): Promise<Answer> {
  const { method = "GET", headers = {}, body } = options;
  return new Promise((resolve, reject) => {
    const request = tlsRequest(
      {
        host: "127.0.0.1",
        port: proxyPort,
        path,
        method,
        rejectUnauthorized: false,
        headers: {
          host: HOST,
          ...(body === undefined ? {} : { "content-length": Buffer.byteLength(body) }),
          ...headers,
        },
      },
      (answer) => {
        let text = "";
        answer.on("data", (chunk) => (text += chunk));
        answer.on("end", () => resolve({ status: answer.statusCode ?? 0, headers: answer.headers, text }));
      },
    );
    request.on("error", reject);
    request.end(body);
  });
}
const FORM = { "content-type": "application/x-www-form-urlencoded", origin: PUBLIC };
const post = (path: string, fields: Record<string, string>, headers: Record<string, string> = {}) =>
  ask(path, {
    method: "POST",
    headers: { ...FORM, ...headers },
    body: new URLSearchParams(fields).toString(),
  });

async function signIn(headers: Record<string, string> = {}): Promise<string> {
  const answer = await post("/sign-in", { email: "marta@quillwater.example", password: PASSWORD }, headers);
  const cookies = [answer.headers["set-cookie"] ?? []].flat();
  expect([answer.status, answer.text.slice(0, 200)]).toEqual([302, ""]);
  expect(cookies[0]).toMatch(/^saudade_session=.*; Secure/i);
  return cookies.map((cookie) => cookie.split(";")[0]).join("; ");
}

describe("behind a TLS proxy", () => {
  it("one signs in, and the answer is for https alone and for nobody's cache", async () => {
    const cookie = await signIn();
    const page = await ask("/", { headers: { cookie } });
    expect(page.status).toBe(200);
    expect(page.headers["strict-transport-security"]).toMatch(/max-age=\d+/);
    expect(page.headers["cache-control"]).toBe("no-store");
    const policy = String(page.headers["content-security-policy"]);
    const nonce = policy.match(/'nonce-([^']+)'/)?.[1];
    expect(policy).toContain("frame-ancestors 'none'");
    const scripts = page.text.match(/<script(?![^>]*type="application\/json")[^>]*>/g) ?? [];
    expect(scripts.length).toBeGreaterThan(1);
    for (const script of scripts) expect(script).toContain(`nonce="${nonce}"`);
  });

  it("a prospect opts out, by the page's button and by a mail program's one click", async () => {
    const path = (id: number) => `/opt-out/${signLink("opt-out", String(id), world.app.key)}`;
    expect((await post(path(1), {})).text).toContain("no more email from us");
    expect(
      (
        await ask(path(2), {
          method: "POST",
          body: "List-Unsubscribe=One-Click",
          headers: { "content-type": FORM["content-type"] },
        })
      ).status,
    ).toBe(200);
    expect(rows(world, "SELECT value FROM block_list ORDER BY id")).toHaveLength(2);
  });

  it("a prospect's page is seen, its film is played in ranges, and what is told of it is taken from its own origin only", async () => {
    const film = readFileSync(join(projectRoot, "demo/film/film.webm"));
    const made = createTemplate(world.app, 1, { name: "Page" });
    const begun = beginFilm(world.app, 1, { name: "Film", bytes: film.length });
    if (!made.ok || !begun.ok) throw new Error("no page");
    await addPart(world.app, 1, begun.value.id, 0, Readable.from([film]));
    await finishFilm(world.app, 1, begun.value.id, {}, { poster: null, frames: null });
    await stopReadingFilms();
    const definition = { ...usualDefinition("en"), filmId: begun.value.id };
    saveTemplate(world.app, 1, made.value, { name: "Page", definition });
    const link = pageLink(world.app, made.value, 3);
    expect(link.startsWith(`${PUBLIC}/for/`)).toBe(true);
    const path = link.slice(PUBLIC.length);
    const browser = {
      "user-agent": "Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0",
      "x-test-caller": "203.0.113.9",
    };
    const page = await ask(path, { headers: browser });
    expect([page.status, page.headers["x-robots-tag"]]).toEqual([200, "noindex, nofollow, noarchive"]);
    // A browser that is told to keep its address to itself sends no origin either, and then nothing would be taken.
    expect(page.headers["referrer-policy"]).not.toBe("no-referrer");
    const part = await ask(`${path}/film`, { headers: { ...browser, range: "bytes=10-19" } });
    expect([part.status, part.headers["content-range"]]).toEqual([206, `bytes 10-19/${film.length}`]);
    const behind = await ask(`${path}/film`, { headers: { ...browser, range: `bytes=${film.length}-` } });
    expect(behind.status).toBe(416);
    const tell = (origin: string, body: string) =>
      ask(`${path}/seen`, {
        method: "POST",
        body,
        headers: { ...browser, origin, "content-type": "application/json" },
      });
    const half = JSON.stringify({ what: "watched", share: 50 });
    expect((await tell("https://elsewhere.example", half)).status).toBe(403);
    expect((await tell(PUBLIC, "{")).status).toBe(400);
    expect((await tell(PUBLIC, JSON.stringify({ what: "watched", share: 51 }))).status).toBe(400);
    expect((await tell(PUBLIC, JSON.stringify({ what: "x".repeat(5_000) }))).status).toBe(413);
    expect(rows(world, "SELECT 1 FROM events WHERE kind = 'film_watched'")).toEqual([]);
    expect((await tell(PUBLIC, half)).status).toBe(204);
    expect(rows(world, "SELECT detail FROM events WHERE kind = 'film_watched' ORDER BY id")).toEqual(
      ["0", "25", "50"].map((detail) => ({ detail })),
    );
    // Whoever asks is who the proxy says, as far as their block of addresses.
    expect(rows(world, "SELECT DISTINCT network FROM page_loads")).toEqual([{ network: "203.0.113" }]);
    // Films of the team are for who is signed in, and so are their parts.
    expect((await ask(`/films/${begun.value.id}/file`)).status).toBe(401);
    expect((await tell(PUBLIC, half)).status).toBe(204);
    const stranger = await ask(`/films/${begun.value.id}/part?at=0`, {
      method: "POST",
      body: "x",
      headers: { origin: PUBLIC },
    });
    expect(stranger.status).toBe(401);
  });

  it("a file is looked at by its link, with its password, and what is told of it is taken from its own origin only", async () => {
    const kept = await keepFile(world.app, 1, {
      ...{
        name: "A lender's (own) “größer” sheet.pdf",
        bytes: Buffer.from("%PDF-1.4\n%%EOF"),
        as: "attachment",
      },
    });
    if (!kept.ok) throw new Error("no file");
    const path = fileLink(world.app, kept.value.id, 3);
    const browser = { "user-agent": "Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0" };
    const page = await ask(path, { headers: browser });
    expect([page.status, page.headers["x-robots-tag"]]).toEqual([200, "noindex, nofollow, noarchive"]);
    const shown = await ask(`${path}/file`, { headers: browser });
    expect([shown.status, shown.headers["content-type"], shown.headers["x-content-type-options"]]).toEqual([
      ...[200, "application/pdf", "nosniff"],
    ]);
    // A browser saves it under its name, apostrophe and all (RFC 8187).
    const { parameters } = parseDisposition(String(shown.headers["content-disposition"]));
    expect(parameters.filename).toBe("A lender's (own) “größer” sheet.pdf");
    expect(String(shown.headers["content-disposition"])).not.toMatch(/''[^;]*'/);
    expect(rows(world, "SELECT 1 FROM file_looks")).toEqual([]);
    const tell = (origin: string, body: string, cookie = "") =>
      ask(`${path}/seen`, {
        method: "POST",
        body,
        headers: { ...browser, origin, cookie, "content-type": "application/json" },
      });
    const read = JSON.stringify({ pages: 2, seconds: { 1: 4 } });
    expect((await tell("https://elsewhere.example", read)).status).toBe(403);
    expect((await tell(PUBLIC, "{")).status).toBe(400);
    expect((await tell(PUBLIC, JSON.stringify({ pages: 2, seconds: { x: 1 } }))).status).toBe(400);
    expect((await tell(PUBLIC, "x".repeat(9_000))).status).toBe(413);
    expect((await tell(PUBLIC, read)).status).toBe(204);
    expect(rows(world, "SELECT seconds FROM file_looks")).toEqual([{ seconds: '{"1":4}' }]);
    const locked = await lockFile(world.app, 1, kept.value.id, {
      password: "humid",
      isLocked: true,
      days: null,
    });
    expect(locked.ok).toBe(true);
    for (const part of ["/file", "/file?save"]) expect((await ask(`${path}${part}`)).status).toBe(404);
    expect((await tell(PUBLIC, read)).status).toBe(404);
    expect((await post(path, { password: "damp" })).status).toBe(403);
    const said = await post(path, { password: "humid" });
    const cookie = String(said.headers["set-cookie"]);
    expect([said.status, said.headers.location]).toEqual([302, path]);
    // For this address alone, for no script, and over an encrypted line.
    expect(cookie).toMatch(/Path=\/look\/[\w.-]+; HttpOnly; Secure; SameSite=Lax/);
    const key = cookie.split(";")[0] ?? "";
    expect((await ask(`${path}/file`, { headers: { cookie: key } })).status).toBe(200);
    expect((await tell(PUBLIC, read, key)).status).toBe(204);
    const other = fileLink(world.app, kept.value.id, 2);
    expect((await ask(`${other}/file`, { headers: { cookie: key } })).status).toBe(404);
    // The lock of a file is its owner's.
    expect((await ask(`/files/${kept.value.id}/lock`)).status).toBe(302);
  });

  it("a prospect books, moves and cancels; a typed address stops nobody", async () => {
    const slug = rows<{ slug: string }>(world, "SELECT booking_slug AS slug FROM users")[0]?.slug;
    const sequenceId = addSequence(world, 1, []);
    addJourney(world, sequenceId, 3);
    const state = () => rows<{ state: string }>(world, "SELECT state FROM journeys")[0]?.state;
    const book = async (query: string, email: string) => {
      const page = await ask(`/book/${slug}${query}`);
      const start = page.text.match(/name="start"[^>]*value="(\d+)"/)?.[1] ?? "";
      return post(`/book/${slug}${query}`, {
        start,
        name: "Caio",
        email,
        phone: "+351 210 000 000",
        zone: "UTC",
      });
    };
    world.app.db.exec(
      `INSERT INTO mailboxes (user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security,
         username, password_sealed, daily_limit, gap_least, gap_most, created_at)
       VALUES (1, 'm@quillwater.example', 'M', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 30, 9, 14, 0)`,
    );
    const typed = await book("", "caio@caio-museum.example");
    expect([typed.status, state()]).toEqual([200, "active"]);
    expect(typed.text).toContain("One step more");
    const { body } = rows<{ body: string }>(world, "SELECT body FROM service_mails")[0] ?? { body: "" };
    const link = body.match(/(\/confirm\/\S+)/)?.[1] ?? "";
    expect((await ask(link)).text).toContain("Yes, book it");
    expect(rows(world, "SELECT 1 FROM meetings")).toEqual([]);
    expect((await post(link, {})).status).toBe(302);
    expect([rows(world, "SELECT 1 FROM meetings").length, state()]).toEqual([1, "active"]);
    const known = await book(`?p=${signLink("booking", "3", world.app.key)}`, "other@home.example");
    expect([known.status, state()]).toEqual([302, "stopped"]);
    const page = String(known.headers.location);
    const times = (await ask(`${page}?move`)).text.match(/name="start"[^>]*value="(\d+)"/g) ?? [];
    const start = times[4]?.match(/value="(\d+)"/)?.[1] ?? "";
    expect((await post(page, { intent: "move", start, zone: "UTC" })).status).toBe(302);
    expect(rows(world, "SELECT starts_at FROM meetings WHERE prospect_id = 3")).toEqual([
      { starts_at: Number(start) },
    ]);
    expect((await post(page, { intent: "cancel" })).status).toBe(302);
    expect((await ask(page)).text).toContain("The call is cancelled");
    expect((await ask(`${page}/call.ics`)).text).toContain("STATUS:CANCELLED");
  });

  it("a rep uploads a file", async () => {
    const cookie = await signIn();
    const boundary = "x-boundary";
    const body = `--${boundary}\r\nContent-Disposition: form-data; name="file"; filename="fair.csv"\r\nContent-Type: text/csv\r\n\r\nEmail,First name\nnew@new-museum.example,Nea\n\r\n--${boundary}--\r\n`;
    const answer = await ask("/prospects/import", {
      method: "POST",
      body,
      headers: { cookie, origin: PUBLIC, "content-type": `multipart/form-data; boundary=${boundary}` },
    });
    expect([answer.status, answer.headers.location]).toEqual([302, "/prospects/imports/1"]);
  });

  it("limits count whoever asks, not the proxy", async () => {
    for (let nth = 0; nth < 5; nth++)
      await post(
        "/sign-in",
        { email: "marta@quillwater.example", password: "no" },
        { "x-test-caller": "203.0.113.5" },
      );
    const paused = await post(
      "/sign-in",
      { email: "marta@quillwater.example", password: PASSWORD },
      { "x-test-caller": "203.0.113.5" },
    );
    expect(paused.text).toContain("Too many tries");
    await signIn({ "x-test-caller": "203.0.113.6" });
  });
});

describe("an attacker", () => {
  it("cannot have a browser send what another site's page wants, to pages and to doors for data alike", async () => {
    const cookie = await signIn();
    for (const path of ["/sign-out", "/jobs", "/day-line", "/replies/draft", "/prospects.data", "/settings"])
      for (const headers of [
        { origin: "https://evil.example" },
        { origin: "null" },
        { origin: `https://${HOST}.evil.example` },
      ]) {
        const answer = await post(path, { intent: "read", id: "1" }, { ...headers, cookie });
        expect([path, headers.origin, answer.status]).toEqual([path, headers.origin, 403]);
      }
    const { origin: _origin, ...noOrigin } = FORM;
    const crossSite = await ask("/sign-out", {
      method: "POST",
      body: "x=1",
      headers: { ...noOrigin, cookie, "sec-fetch-site": "cross-site" },
    });
    expect(crossSite.status).toBe(403);
  });

  it("leads nobody elsewhere after the sign-in", async () => {
    for (const to of [
      "https://evil.example",
      "//evil.example",
      "/\\evil.example",
      "/\t/evil.example",
      "javascript:alert(1)",
    ]) {
      const answer = await post(`/sign-in?to=${encodeURIComponent(to)}`, {
        email: "marta@quillwater.example",
        password: PASSWORD,
      });
      expect([to, answer.status, new URL(String(answer.headers.location), PUBLIC).origin]).toEqual([
        to,
        302,
        PUBLIC,
      ]);
    }
    const back = await post("/sign-in?to=%2Fprospects%3Flist%3D1", {
      email: "marta@quillwater.example",
      password: PASSWORD,
    });
    expect(back.headers.location).toBe("/prospects?list=1");
  });

  it("is told at once that a body is too large, announced or not, and fills no memory", async () => {
    const big = Buffer.alloc(3 * 1024 * 1024, "a");
    const announced = await ask("/sign-in", { method: "POST", headers: FORM, body: big });
    expect([announced.status, announced.text]).toEqual([413, expect.stringContaining("1 MB")]);
    // Chunked: 40 MB to the sign-in page, of which the server keeps nothing.
    const before = memoryOf(web);
    const said = await new Promise<string>((resolve, reject) => {
      const socket = connect(webPort, "127.0.0.1", () => {
        socket.write(
          `POST /sign-in HTTP/1.1\r\nHost: ${HOST}\r\nOrigin: ${PUBLIC}\r\nContent-Type: text/plain\r\nTransfer-Encoding: chunked\r\n\r\n`,
        );
        const piece = Buffer.alloc(65_536, "a");
        let left = 640;
        const write = () => {
          while (left-- > 0)
            if (!socket.write(`10000\r\n${piece}\r\n`)) return void socket.once("drain", write);
        };
        write();
      });
      let text = "";
      socket.on("data", (chunk) => (text += chunk));
      socket.on("close", () => resolve(text));
      socket.on("error", (error) => (text === "" ? reject(error) : resolve(text)));
    });
    expect(said).toContain("413");
    expect(memoryOf(web) - before).toBeLessThan(60_000);
  });

  it("gets 400 for what no page of ours sends, 404 for what is not there, never a stack", async () => {
    const cookie = await signIn();
    const sequenceId = addSequence(world, 1, []);
    world.app.db.exec(`UPDATE sequences SET state = 'paused' WHERE id = ${sequenceId}`);
    const json = (path: string, body: string) =>
      ask(path, {
        method: "POST",
        body,
        headers: { cookie, origin: PUBLIC, "content-type": "application/json" },
      });
    const answers = await Promise.all([
      json(`/sequences/${sequenceId}`, '{"intent":"whatever"}'),
      json(`/sequences/${sequenceId}`, "{broken"),
      json("/prospects/find", "[1"),
      post("/prospects", { intent: "unheard-of" }, { cookie }),
      post("/prospects", { intent: "bulk", bulk: "{" }, { cookie }),
      post("/settings", {}, { cookie }),
      post("/replies", { intent: "x" }, { cookie }),
      ask("/prospects", {
        method: "POST",
        body: "--x\r\nbroken",
        headers: { cookie, origin: PUBLIC, "content-type": "multipart/form-data; boundary=x" },
      }),
      ask("/%E0%A4%A", { headers: { cookie } }),
    ]);
    expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 400));
    for (const { text } of answers) expect(text).not.toMatch(/at \S+ \(|node_modules/);
    expect(rows(world, `SELECT state FROM sequences WHERE id = ${sequenceId}`)).toEqual([
      { state: "paused" },
    ]);
    for (const path of ["/prospects/abc", "/sequences/1e9", "/lists/-1/cleaning", "/welcome/none"])
      expect([path, (await ask(path, { headers: { cookie } })).status]).toEqual([
        path,
        path === "/welcome/none" ? 200 : 404,
      ]);
  });

  it("keeps no more than a few loads of a pixel that is loaded two thousand times", async () => {
    world.app.db.exec(`
      INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
        imap_security, username, password_sealed, daily_limit, gap_least, gap_most, created_at)
      VALUES (50, 1, 'm@q.example', 'M', 'h', 1, 'tls', 'h', 1, 'tls', 'u', '', 30, 9, 14, 0);
      INSERT INTO touches (id, kind, prospect_id, mailbox_id, recipient, state, message_id, subject, body)
      VALUES (70, 'answer', 1, 50, 'ana@ana-museum.example', 'sent', '<x@q.example>', 'S', 'B')`);
    const path = `/t/o/${signLink("open", "70", world.app.key)}.gif`;
    for (let nth = 0; nth < 20; nth++)
      await Promise.all(Array.from({ length: 10 }, () => fetch(`http://127.0.0.1:${webPort}${path}`)));
    expect(rows(world, "SELECT count(*) AS loads FROM loads")).toEqual([{ loads: 12 }]);
    expect(rows(world, "SELECT loads FROM load_tallies")).toEqual([{ loads: 200 }]);
  });
});

/** Resident memory in kB. */
function memoryOf({ child }: Started): number {
  return Number(execFileSync("ps", ["-o", "rss=", "-p", String(child.pid)]).toString());
}
