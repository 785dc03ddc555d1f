/** Columns over the stand-ins' web and assistant: what is found, what is not believed, what leaves unread (nothing), and runs that are cut off. */
import { createServer, type Server } from "node:http";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { DAY, MINUTE } from "../../core/calendar.ts";
import { READY_COLUMNS } from "../../core/research/column.ts";
import { bombPng, logoSvg } from "../../standins/sites/pictures.ts";
import { saidBy } from "../../standins/sites/said.ts";
import type { AppTx } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { latestJob } from "../db/jobs.ts";
import { sql } from "../db/open.ts";
import { prospectById, unreadFields } from "../db/prospects.ts";
import { type Started, startProcess } from "../processes.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { planAhead } from "../sending/plan.ts";
import { sendFrom } from "../sending/send.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { openDoors } from "../tests/doors.ts";
import { freePort } from "../tests/free-port.ts";
import {
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  email,
  rows,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { forgetTyped, markRead, typeValue } from "./column-values.ts";
import { changeColumn, createColumn, deleteColumn } from "./columns.ts";
import { redrawn } from "./pictures.ts";
import { readSite, stopReadingPages } from "./read-site.ts";
import { askRun, runColumn, sweepPictures } from "./run-column.ts";

const running: Started[] = [];
let world: World;
let app: AppTx;
let listId: number;
/** Sites that are read as they are found in the list; the first word of each says what is odd about it. */
const USUAL = ["design-00", "design-01", "design-06", "design-13", "kestrel", "harbour"];
const ODD = [
  "slow",
  "endless",
  "huge",
  "circle",
  "inward",
  "closed",
  "shy",
  "broken",
  "liar",
  "latin",
  "kanji",
  "moved",
  "gone",
  "failing",
  "limited",
  "paper",
  "no-domain",
];
let env: Record<string, string>;
let factsPort: number;

beforeAll(async () => {
  const [dns, sites, assistant] = [await freePort(), await freePort(), await freePort()];
  factsPort = await freePort();
  const start = async (file: string, settings: Record<string, string>) => {
    running.push(await startProcess(file, file, settings));
  };
  await Promise.all([
    start("standins/dns/main.ts", { DNS_PORT: String(dns) }),
    start("standins/sites/main.ts", { SITES_PORT: String(sites) }),
    start("standins/assistant/main.ts", { ASSISTANT_PORT: String(assistant) }),
  ]);
  env = {
    SAUDADE_DNS: `127.0.0.1:${dns}`,
    SAUDADE_SITES_PORT: String(sites),
    SAUDADE_ASSISTANT: `http://127.0.0.1:${assistant}`,
    // Their names may lead to this machine, where the stand-ins are; an address of it may not.
    SAUDADE_INSIDE: [
      ...[...USUAL, ...ODD, "new-home-of"].map((name) => `${name}-museum.example`),
      `127.0.0.1:${factsPort}`,
    ].join(","),
  };
  world = await createWorld({ standin: false, env });
  app = world.app;
  listId = addPeople(world, USUAL);
});
afterAll(async () => {
  await stopReadingPages();
  await world.close();
  await Promise.all(running.map((each) => each.stop()));
});

const ready = (id: string) => READY_COLUMNS.find((each) => each.id === id) as (typeof READY_COLUMNS)[number];
function column(id: string, name = ready(id).name, list = listId): number {
  const made = createColumn(app, 1, list, { name, settings: ready(id).settings });
  if (!made.ok) throw new Error(JSON.stringify(made.errors));
  return made.value;
}
/** Asks for a run and carries it out as the worker does; `stopAfter`: it is cancelled behind so many. */
async function run(
  columnId: number,
  wants: string,
  stopAfter = Number.POSITIVE_INFINITY,
  list = listId,
): Promise<number> {
  const asked = askRun(app, 1, { listId: list, columnId, wants });
  if (!asked.ok) throw new Error(JSON.stringify(asked.errors));
  const runId = (
    JSON.parse(
      (
        sql(app.db, "SELECT input FROM jobs WHERE id = @id").get<{ input: string }>({ id: asked.value }) as {
          input: string;
        }
      ).input,
    ) as { runId: number }
  ).runId;
  await runColumn(app, runId, (finished) => finished >= stopAfter);
  app.db.exec("UPDATE jobs SET state = 'done'");
  return runId;
}
const valuesOf = (columnId: number) =>
  rows<{
    id: number;
    domain: string;
    state: string;
    value: string;
    problem: string | null;
    sourceUrl: string;
    sourceText: string;
    readAt: number | null;
    runId: number;
    sureness: string;
    said: string;
  }>(
    world,
    `SELECT v.id, c.domain, v.state, v.value, v.problem, v.source_url AS sourceUrl, v.source_text AS sourceText, v.read_at AS readAt,
       v.run_id AS runId, v.sureness, v.said FROM column_values v
     LEFT JOIN prospects p ON p.id = v.prospect_id JOIN companies c ON c.id = coalesce(v.company_id, p.company_id)
     WHERE v.column_id = ${columnId} ORDER BY c.id`,
  );
const customOf = (firstName: string) =>
  JSON.parse(
    rows<{ custom: string }>(world, `SELECT custom FROM prospects WHERE first_name = '${firstName}'`)[0]
      ?.custom ?? "{}",
  ) as Record<string, string>;

describe("reading sites", () => {
  it("each odd one gets a clear word, and none holds up another", async () => {
    const read = Object.fromEntries(
      await Promise.all(
        ODD.map(async (kind) => {
          const site = await readSite(app, `${kind}-museum.example`, app.clock.now());
          return [kind, site.ok ? `read ${site.reading.pages.length}: ${site.reading.name}` : site.problem];
        }),
      ),
    );
    const shown = (name: string) => saidBy(`${name}-museum.example`).name;
    expect(read).toMatchObject({
      endless: expect.stringMatching(/did not answer in time/),
      huge: expect.stringMatching(/more than 2 MB/),
      circle: expect.stringMatching(/leads on and on/),
      inward: expect.stringMatching(/leads inside this network/),
      closed: expect.stringMatching(/asks programs not to read it/),
      broken: expect.stringMatching(/nested too deep/),
      kanji: "read 1: 紙の港資料館",
      gone: expect.stringMatching(/nothing at .*410/),
      failing: expect.stringMatching(/503/),
      limited: expect.stringMatching(/429/),
      paper: expect.stringMatching(/no web page \(application\/pdf\)/),
      "no-domain": expect.stringMatching(/no host/),
    });
    expect(read.slow).toContain(shown("slow"));
    expect(read.moved).toContain(saidBy("new-home-of-museum.example").name);
    // Without the two pages that it asks not to read.
    expect(Number(read.shy?.match(/\d/)?.[0])).toBeLessThan(5);
    for (const kind of ["liar", "latin"]) expect(read[kind]).toContain("Évora");
  });

  it("what did not answer is not asked again for the next column, and what was read is shared", async () => {
    const began = performance.now();
    expect((await readSite(app, "endless-museum.example", app.clock.now())).ok).toBe(false);
    const again = await readSite(app, "slow-museum.example", app.clock.now() - DAY);
    expect(again).toMatchObject({ ok: true, isFresh: false });
    expect(performance.now() - began).toBeLessThan(5_000);
  });
});

describe("pictures", () => {
  it("are made anew: a drawing without its script, and none that unfolds to more than is shown", async () => {
    const said = saidBy("trap-museum.example");
    const drawn = await redrawn(Buffer.from(logoSvg(said, "<script>alert(1)</script>")), "logo");
    expect(drawn).toMatchObject({ type: "image/png" });
    if ("bytes" in drawn) expect(drawn.bytes.includes("script")).toBe(false);
    expect(await redrawn(bombPng(), "logo")).toHaveProperty("problem");
    expect(await redrawn(Buffer.from(`<svg><!ENTITY a "b"></svg>`), "logo")).toHaveProperty("problem");
    expect(await redrawn(Buffer.from("GIF89a, and nothing more"), "logo")).toHaveProperty("problem");
    expect(await redrawn(Buffer.alloc(3 * 1024 * 1024), "picture")).toHaveProperty("problem");
  });
});

describe("a column of what sites say", () => {
  let line: number;
  beforeAll(async () => {
    line = column("line");
  });

  it("is tried on five first, then worked out for the rest, and each value says on what it rests", async () => {
    await run(line, "try");
    expect(valuesOf(line)).toHaveLength(5);
    await run(line, "missing");
    const values = valuesOf(line);
    expect(values).toHaveLength(USUAL.length);
    const first = values.find(({ domain }) => domain === "design-00-museum.example");
    expect(first).toMatchObject({
      state: "found",
      value: saidBy("design-00-museum.example").line,
      sureness: "sure",
    });
    expect(first?.sourceText).toContain(first?.value);
    expect(first?.sourceUrl).toContain("http://design-00-museum.example/");
    expect(customOf("design-00").what_they_do).toBe(first?.value);
  });

  it("what a person typed stays, whoever looks again; a new colleague of theirs has it, whoever leaves does not", async () => {
    const companyId = rows<{ id: number }>(
      world,
      "SELECT id FROM companies WHERE domain = 'kestrel-museum.example'",
    )[0]?.id as number;
    expect(typeValue(app, 1, line, { companyId }, "They keep kestrels.").ok).toBe(true);
    await run(line, "all");
    expect(customOf("kestrel").what_they_do).toBe("They keep kestrels.");
    app.db.exec(
      `INSERT INTO prospects (email, first_name, company_id, created_at) VALUES ('new@kestrel-museum.example', 'newcomer', ${companyId}, 1)`,
    );
    expect(customOf("newcomer").what_they_do).toBe("They keep kestrels.");
    const other = rows<{ id: number }>(
      world,
      "SELECT id FROM companies WHERE domain = 'harbour-museum.example'",
    )[0]?.id as number;
    app.db.exec(`UPDATE prospects SET company_id = ${other} WHERE first_name = 'newcomer'`);
    expect(customOf("newcomer").what_they_do).toBe(customOf("harbour").what_they_do);
    app.db.exec("UPDATE prospects SET company_id = NULL WHERE first_name = 'newcomer'");
    expect(customOf("newcomer")).not.toHaveProperty("what_they_do");
    app.db.exec("DELETE FROM prospects WHERE first_name = 'newcomer'");
    expect(forgetTyped(app, 1, line, { companyId }).ok).toBe(true);
    expect(customOf("kestrel")).not.toHaveProperty("what_they_do");
  });

  it("what stands in the field by another hand is never written over", async () => {
    const id = rows<{ id: number }>(world, "SELECT id FROM prospects WHERE first_name = 'harbour'")[0]
      ?.id as number;
    saveProspect(app, 1, { id, "custom:what_they_do": "Mine." });
    await run(line, "all");
    expect(customOf("harbour").what_they_do).toBe("Mine.");
  });

  it("a run that is stopped keeps what it found; going on asks for nobody twice", async () => {
    const name = column("line", "Called");
    expect(changeColumn(app, 1, name, { name: "Called", settings: { kind: "site", piece: "name" } }).ok).toBe(
      true,
    );
    const runId = await run(name, "missing", 2);
    const kept = valuesOf(name).length;
    expect(kept).toBeLessThan(USUAL.length + 1);
    await runColumn(app, runId, () => false);
    expect(valuesOf(name)).toHaveLength(USUAL.length);
    expect(valuesOf(name).every((value) => value.runId === runId)).toBe(true);
    // The sites had been read for another column.
    expect(rows(world, `SELECT asked FROM column_runs WHERE id = ${runId}`)).toEqual([{ asked: 0 }]);
  });

  it("one column is not worked out twice at a time", () => {
    expect(askRun(app, 1, { listId, columnId: line, wants: "all" }).ok).toBe(true);
    expect(askRun(app, 1, { listId, columnId: line, wants: "all" })).toMatchObject({ ok: false });
    expect(latestJob(app.db, "research")).not.toBeNull();
    app.db.exec("UPDATE jobs SET state = 'done'");
  });

  it("pictures are kept once, and go when nothing shows them", async () => {
    const logo = column("logo");
    await run(logo, "missing");
    const shown = valuesOf(logo).filter(({ value }) => value.startsWith("/pictures/"));
    expect(shown.length).toBeGreaterThan(3);
    app.db.exec("UPDATE pictures SET at = 1");
    expect(sweepPictures(app)).toBe(0);
    expect(deleteColumn(app, 1, logo).ok).toBe(true);
    expect(customOf("kestrel")).not.toHaveProperty("logo");
    expect(sweepPictures(app)).toBeGreaterThan(0);
  });
});

describe("a line that the assistant wrote", () => {
  let opening: number;
  let sequenceId: number;
  let people: { id: number; firstName: string }[];
  const NOW = TUESDAY + 30 * MINUTE;
  const standing = (prospectId: number) =>
    prospectById(app.db, prospectId) as NonNullable<ReturnType<typeof prospectById>>;

  beforeAll(async () => {
    const list = addPeople(world, ["ledger", "vellum", "anchor", "lintel", "gable"], "To be written to");
    // Some lines say more than their source: enough people that a few are refused, and most are not.
    opening = column("opening", "Opening line", list);
    changeColumn(app, 1, opening, {
      name: "Opening line",
      settings: { ...ready("opening").settings, question: "Write one opening sentence to {{ first_name }}" },
    });
    app.config.inside.push(
      ...["ledger", "vellum", "anchor", "lintel", "gable"].map((name) => `${name}-museum.example`),
    );
    await run(opening, "missing", Number.POSITIVE_INFINITY, list);
    people = rows(
      world,
      "SELECT id, first_name AS firstName FROM prospects WHERE first_name IN ('ledger','vellum','anchor','lintel','gable') ORDER BY id",
    );
    sequenceId = addSequence(world, list, [addUnasked(world)], {
      path: [
        email("one", 0, {
          subject: "Loans",
          body: "Hello {{ first_name }}, {{ opening_line | default: 'I write to you' }}",
        }),
      ],
    });
    startSequence(app, 1, sequenceId);
  }, 120_000);

  async function sent(): Promise<string[]> {
    const box = openDoors();
    const { touches } = planAhead(app.db, NOW, NOW + DAY);
    for (const touch of touches)
      await sendFrom(
        app,
        box.doors,
        touch.senderId,
        [{ ...touch, at: NOW }],
        NOW + sentSoFar++ * 20 * MINUTE,
      );
    return rows<{ recipient: string }>(world, "SELECT recipient FROM touches WHERE state = 'sent'").map(
      ({ recipient }) => recipient,
    );
  }
  let sentSoFar = 0;

  it("rests on a sentence of their site, and costs what the assistant counted", () => {
    const values = valuesOf(opening);
    expect(values).toHaveLength(5);
    const found = values.filter(({ state }) => state === "found");
    expect(found.length).toBeGreaterThan(0);
    for (const { value, sourceText, readAt } of found) {
      expect(readAt).toBeNull();
      for (const number of value.match(/\d+/g) ?? []) expect(sourceText).toContain(number);
    }
    expect(
      rows<{ tokens: number }>(
        world,
        `SELECT sum(tokens) AS tokens FROM column_runs WHERE column_id = ${opening}`,
      )[0]?.tokens,
    ).toBeGreaterThan(100);
  });

  it("never leaves unread: not even where the text has a fallback", async () => {
    const unread = people.filter(({ id }) => unreadFields(standing(id)).length > 0);
    expect(unread.length).toBeGreaterThan(0);
    const gone = await sent();
    for (const { firstName } of unread) expect(gone.some((to) => to.startsWith(firstName))).toBe(false);
    expect(
      rows(world, "SELECT DISTINCT wait_detail AS detail FROM journeys WHERE wait_reason = 'line_unread'"),
    ).toEqual([{ detail: "opening_line" }]);
  });

  it("is written anew between the plan and the claim: what was read was another", async () => {
    const [first] = valuesOf(opening).filter(({ readAt, state }) => readAt === null && state === "found");
    if (!first) throw new Error("nothing is unread");
    const person = people.find(({ firstName }) => first.domain.startsWith(firstName)) as { id: number };
    expect(markRead(app, 1, [first.id])).toEqual({ ok: true, value: 1 });
    expect(unreadFields(standing(person.id))).toEqual([]);
    const journey = rows<{ id: number; reason: string | null }>(
      world,
      `SELECT id, wait_reason AS reason FROM journeys WHERE prospect_id = ${person.id}`,
    )[0] as { id: number; reason: string | null };
    expect(journey.reason).toBeNull();
    const at = NOW + DAY;
    const planned = planAhead(app.db, at, at + DAY).touches.find(({ journeyId }) => journeyId === journey.id);
    if (!planned) throw new Error("nothing is planned");
    app.db.exec(`UPDATE column_values SET value = 'Another line.', read_at = NULL WHERE id = ${first.id}`);
    const box = openDoors();
    await sendFrom(app, box.doors, planned.senderId, [{ ...planned, at }], at);
    expect(box.sent).toHaveLength(0);
    expect(rows(world, `SELECT wait_reason AS reason FROM journeys WHERE id = ${journey.id}`)).toEqual([
      { reason: "line_unread" },
    ]);
    expect(markRead(app, 1, [first.id]).ok).toBe(true);
    await sendFrom(app, box.doors, planned.senderId, [{ ...planned, at }], at);
    expect(box.sent).toHaveLength(1);
  });

  it("leaves once the sequence says that it may, or once somebody has put it in their own words", async () => {
    const left = people.filter(({ id }) => unreadFields(standing(id)).length > 0);
    const [one] = left;
    if (!one) throw new Error("nobody is left");
    saveProspect(app, 1, { id: one.id, "custom:opening_line": "In my words." });
    expect(unreadFields(standing(one.id))).toEqual([]);
    app.db.exec(`UPDATE sequences SET settings = json_set(settings, '$.sendsUnread', json('true')), revision = revision + 1 WHERE id = ${sequenceId};
      UPDATE journeys SET wait_reason = NULL, wait_detail = NULL`);
    sentSoFar += 100;
    const before = rows(world, "SELECT 1 FROM touches WHERE state = 'sent'").length;
    const box = openDoors();
    const at = NOW + 2 * DAY;
    const { touches } = planAhead(app.db, at, at + DAY);
    for (const [nth, touch] of touches.entries())
      await sendFrom(app, box.doors, touch.senderId, [{ ...touch, at }], at + nth * 20 * MINUTE);
    expect(before + box.sent.length).toBe(people.length);
  });

  it("a field that a sequence's text names cannot be deleted under it", () => {
    expect(deleteColumn(app, 1, opening)).toMatchObject({
      ok: false,
      errors: { form: expect.stringContaining("Loans") },
    });
  });
});

describe("a column from other fields", () => {
  it("is put together for each person, and is empty where a field is", async () => {
    const made = createColumn(app, 1, listId, {
      name: "Greeting",
      settings: {
        kind: "formula",
        formula: "{{ company }}{% if employees %}, {{ employees }} people{% endif %}: {{ city }}",
      },
    });
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    app.db.exec("UPDATE prospects SET city = iif(first_name = 'kestrel', 'Porto', '')");
    app.db.exec(
      "UPDATE companies SET name = 'Kestrel & Sons', employees = 12 WHERE domain = 'kestrel-museum.example'",
    );
    await run(made.value, "missing");
    expect(customOf("kestrel").greeting).toBe("Kestrel & Sons, 12 people: Porto");
    const others = valuesOf(made.value).filter(({ domain }) => domain !== "kestrel-museum.example");
    expect(others).toHaveLength(USUAL.length - 1);
    for (const { state, problem } of others)
      expect([state, problem]).toEqual(["nothing", "There is no city."]);
    // What it is made of has changed: it is made anew when it is asked for, and by age.
    app.db.exec("UPDATE prospects SET city = 'Lisboa' WHERE first_name = 'kestrel'");
    await run(made.value, "old");
    expect(customOf("kestrel").greeting).toContain("Porto");
    setDemoClock(app.db, app.clock.now() + 91 * DAY, false);
    await run(made.value, "old");
    expect(customOf("kestrel").greeting).toBe("Kestrel & Sons, 12 people: Lisboa");
  });
});

describe("a column of an own service", () => {
  const asked: { url: string; authorization: string | undefined }[] = [];
  let service: Server;
  let address: string;
  /** Asked to be slower once. */
  let isBusyOnce = true;
  const ANSWERS: Record<string, [status: number, body: string]> = {
    "design-00": [200, JSON.stringify({ facts: [{ staff: 140, page: "https://facts.example/140" }] })],
    "design-01": [200, JSON.stringify({ facts: [{ staff: "some" }] })],
    "design-06": [200, "<html>"],
    "design-13": [500, "{}"],
    harbour: [404, "{}"],
  };
  beforeAll(async () => {
    service = createServer(({ url = "", headers }, response) => {
      asked.push({ url, authorization: headers.authorization });
      const who = /d=([\w-]+?)-museum/.exec(decodeURIComponent(url))?.[1] ?? "";
      if (who === "kestrel" && isBusyOnce) {
        isBusyOnce = false;
        response.writeHead(429, { "retry-after": "1" }).end();
        return;
      }
      const [status, body] = ANSWERS[who] ?? [200, JSON.stringify({ facts: [{ staff: "1,200" }] })];
      response.writeHead(status, { "content-type": "application/json" }).end(body);
    });
    await new Promise<void>((resolve) => service.listen(factsPort, "127.0.0.1", resolve));
    address = `http://127.0.0.1:${factsPort}`;
  });
  afterAll(() => new Promise((resolve) => service.close(resolve)));

  it("gives numbers with their source, says why where it does not, waits where it is asked to, and its key stays sealed", async () => {
    const made = createColumn(app, 1, listId, {
      name: "Staff",
      gives: "number",
      key: "secret-of-ours",
      settings: {
        ...{
          kind: "service",
          url: `${address}/?d={{ company_domain }}&n={{ company }}`,
          header: "authorization",
        },
        ...{ valueAt: "facts.0.staff", sourceAt: "facts.0.page" },
      },
    });
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    await run(made.value, "missing");
    const stands = Object.fromEntries(
      valuesOf(made.value).map(({ domain, state, value, problem }) => [
        domain.replace("-museum.example", ""),
        [state, value || problem],
      ]),
    );
    expect(stands).toEqual({
      "design-00": ["found", "140"],
      "design-01": ["refused", "It is no number."],
      "design-06": ["failed", "The service's answer is no JSON."],
      "design-13": ["failed", "The service answered 500."],
      kestrel: ["found", "1,200"],
      harbour: ["nothing", "The service knows nothing of it."],
    });
    expect(valuesOf(made.value)[0]).toMatchObject({ sourceUrl: "https://facts.example/140" });
    expect(asked.map(({ authorization }) => authorization)).toEqual(asked.map(() => "Bearer secret-of-ours"));
    // What goes into the address is encoded.
    expect(asked.find(({ url }) => url.includes("kestrel"))?.url).toContain("n=Kestrel%20%26%20Sons");
    expect(asked).toHaveLength(USUAL.length + 1);
    expect(JSON.stringify(rows(world, "SELECT * FROM columns"))).not.toContain("secret-of-ours");
    // What failed is asked for again, and nothing else.
    asked.length = 0;
    await run(made.value, "missing");
    expect(asked).toHaveLength(2);
  });
});

describe("bad input", () => {
  it.each([
    ["a name that is another field's", { name: "First name", settings: ready("line").settings }, "name"],
    [
      "a question with a field that nobody has",
      { name: "Odd", settings: { kind: "ask", question: "{{ nonsense_xyz }}", reads: "site" } },
      "settings.question",
    ],
    [
      "a service inside this network",
      {
        name: "Odd",
        settings: { kind: "service", url: "http://169.254.169.254/{{ company_domain }}", valueAt: "a" },
      },
      "settings.url",
    ],
    [
      "a service without an address",
      { name: "Odd", settings: { kind: "service", url: "ftp://x", valueAt: "a" } },
      "settings.url",
    ],
    [
      "a path that JavaScript keeps for itself",
      { name: "Odd", settings: { kind: "service", url: "https://x.example/", valueAt: "__proto__.x" } },
      "settings.valueAt",
    ],
  ])("%s is refused at its field", (_, input, field) => {
    expect(createColumn(app, 1, listId, input)).toMatchObject({
      ok: false,
      errors: { [field]: expect.any(String) },
    });
  });

  it("nobody corrects what stands at a colleague's person", () => {
    app.db.exec(
      "INSERT INTO users (id, name, email, password_hash, time_zone, role, booking_slug, created_at) SELECT 2, 'Rui', 'rui@quillwater.example', password_hash, time_zone, 'rep', 'rui', 1 FROM users WHERE id = 1",
    );
    const id = rows<{ id: number }>(world, "SELECT id FROM prospects WHERE first_name = 'gable'")[0]
      ?.id as number;
    app.db.exec(`UPDATE prospects SET owner_id = 1 WHERE id = ${id}`);
    const columnId = rows<{ id: number }>(world, "SELECT id FROM columns WHERE code = 'opening_line'")[0]
      ?.id as number;
    expect(typeValue(app, 2, columnId, { prospectId: id }, "Not mine to say.")).toMatchObject({
      ok: false,
      code: "not_yours",
    });
    expect(changeColumn(app, 2, columnId, {})).toMatchObject({ ok: false, code: "not_yours" });
    // Nor does a look anew at all take from a colleague what they have read.
    app.db.exec(`INSERT INTO column_runs (id, column_id, list_id, wants, user_id, at)
      SELECT 900, ${columnId}, list_id, 'all', 2, 1 FROM list_prospects WHERE prospect_id = ${id}`);
    const runOf = () =>
      rows<{ runId: number | null }>(
        world,
        `SELECT run_id AS runId FROM column_values WHERE column_id = ${columnId} AND prospect_id = ${id}`,
      );
    const before = runOf();
    return runColumn(app, 900, () => false).then(() => {
      expect(runOf()).toEqual(before);
      expect(rows(world, "SELECT 1 FROM column_values WHERE run_id = 900").length).toBeGreaterThan(0);
    });
  });
});
