/** Webhooks against receivers that take, refuse, fail for hours and lie: nothing is lost, nothing out of order, nobody inside is asked. */
import { createServer, type IncomingHttpHeaders, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { Webhook as Verifier } from "standardwebhooks";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import { setDemoClock } from "../clock.ts";
import { apply } from "../consequences/apply.ts";
import { transact } from "../db/open.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { addPeople, createWorld, rows, TUESDAY, type World } from "../tests/world.ts";
import { Carrier, sweepHappenings } from "./carry.ts";
import { payloadSchema } from "./payload.ts";
import {
  allWebhooks,
  deliveriesOf,
  makeWebhook,
  pressTest,
  removeWebhook,
  replay,
  rotateSecret,
  saveWebhook,
  switchWebhook,
  webhooksSeenBy,
} from "./webhooks.ts";

interface Got {
  path: string;
  headers: IncomingHttpHeaders;
  body: string;
}

let server: Server;
let origin: string;
let got: Got[];
let answer: (got: Got) => { status: number; body?: string; headers?: Record<string, string> };
beforeAll(async () => {
  server = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on("data", (chunk) => chunks.push(chunk));
    request.on("end", () => {
      const each = {
        path: request.url ?? "",
        headers: request.headers,
        body: Buffer.concat(chunks).toString(),
      };
      got.push(each);
      const { status, body = "", headers = {} } = answer(each);
      response.writeHead(status, headers).end(body);
    });
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

let world: World;
let carrier: Carrier;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana", "bia"]);
  carrier = new Carrier(world.app, (error) => {
    throw error;
  });
  got = [];
  answer = () => ({ status: 204 });
});
afterEach(() => world.close());

const make = (more: object = {}) => {
  const made = makeWebhook(world.app, 1, {
    name: "CRM",
    url: `${origin}/in`,
    kinds: ["prospect.stage_changed", "prospect.added"],
    ...more,
  });
  if (!made.ok) throw new Error(JSON.stringify(made.errors));
  return made.value;
};
const setStage = (id: number, stage: string) => saveProspect(world.app, 1, { id, stage });
const carry = async () => {
  await carrier.look();
  await carrier.rest();
};
let now = TUESDAY;
const later = (ms: number) => {
  now += ms;
  setDemoClock(world.app.db, now, false);
};
beforeEach(() => {
  now = TUESDAY;
});
const told = () => got.map(({ body }) => payloadSchema.parse(JSON.parse(body)));

it("what happens is told once, signed as the standard says, with the resources of the API", async () => {
  const { secret } = make();
  setStage(1, "contacted");
  await carry();
  await carry();
  expect(told()).toMatchObject([
    {
      type: "prospect.stage_changed",
      version: 1,
      data: {
        from: "new",
        to: "contacted",
        prospect: { id: 1, stage: "contacted", email: "ana@ana-museum.example" },
      },
    },
  ]);
  const [{ headers, body } = { headers: {}, body: "" }] = got;
  const verifier = new Verifier(secret);
  expect(verifier.verify(body, headers as unknown as Record<string, string>)).toMatchObject({ version: 1 });
  expect(() =>
    verifier.verify(body.replace("contacted", "won"), headers as unknown as Record<string, string>),
  ).toThrow();
  expect(() =>
    verifier.verify(body, { ...headers, "webhook-id": "evt_0" } as unknown as Record<string, string>),
  ).toThrow();
  // One that is played again later is refused by its time, which is signed.
  const stale = { ...headers, "webhook-timestamp": String(Math.floor(Date.now() / 1_000) - 3_600) };
  expect(() => verifier.verify(body, stale as unknown as Record<string, string>)).toThrow();
});

it("a number that is given again after a restore is another id, since something else is told", async () => {
  make();
  setStage(1, "contacted");
  await carry();
  world.app.db.exec(
    "DELETE FROM happenings; UPDATE sqlite_sequence SET seq = 0; UPDATE webhooks SET seen_happening = 0",
  );
  setStage(1, "won");
  await carry();
  expect(told().map(({ data }) => data.to)).toEqual(["contacted", "won"]);
  expect(new Set(got.map(({ headers }) => headers["webhook-id"])).size).toBe(2);
});

it("nothing is kept while nobody listens, and of what was taken back nothing is told", async () => {
  setStage(1, "contacted");
  expect(rows(world, "SELECT * FROM happenings")).toEqual([]);
  const { id } = make();
  expect(
    transact(world.app, ({ db }) => {
      apply(db, { kind: "stage_set", stage: "won" }, { at: now, prospectId: 1 });
      return { ok: false, errors: {} };
    }),
  ).toMatchObject({ ok: false });
  await carry();
  expect(got).toEqual([]);
  expect(switchWebhook(world.app, 1, id, false).ok).toBe(true);
  setStage(1, "won");
  expect(rows(world, "SELECT * FROM happenings")).toEqual([]);
});

it("a receiver that fails for an hour gets everything then, in order for each person, each id once taken", async () => {
  make();
  let isDown = true;
  answer = () => ({ status: isDown ? 503 : 200 });
  for (const stage of ["contacted", "in_conversation", "won"]) {
    setStage(1, stage);
    setStage(2, stage);
  }
  for (let minute = 0; minute < 60; minute++) {
    await carry();
    later(MINUTE);
  }
  // Tried less and less often, and with one happening at a time once it had failed.
  expect(got.length).toBeLessThan(12);
  isDown = false;
  got = [];
  later(HOUR);
  await carry();
  for (const person of [1, 2])
    expect(
      told()
        .filter(({ data }) => data.prospect?.id === person)
        .map(({ data }) => data.to),
    ).toEqual(["contacted", "in_conversation", "won"]);
  expect(new Set(got.map(({ headers }) => headers["webhook-id"])).size).toBe(6);
  expect(allWebhooks(world.app)).toMatchObject([{ state: "on", failingSince: null, due: 0, told: 6 }]);
});

it("one that takes everything but one thing gets the rest; only that person's later news wait", async () => {
  const { id } = make();
  answer = ({ body }) =>
    body.includes('"to":"in_conversation"') && body.includes("ana@")
      ? { status: 422, body: "no such stage" }
      : { status: 200 };
  for (const stage of ["contacted", "in_conversation", "won"]) {
    setStage(1, stage);
    setStage(2, stage);
  }
  await carry();
  const of = (email: string) =>
    told()
      .filter(({ data }) => data.prospect?.email === email)
      .map(({ data }) => data.to);
  expect(of("bia@bia-museum.example")).toEqual(["contacted", "in_conversation", "won"]);
  expect(of("ana@ana-museum.example")).toEqual(["contacted", "in_conversation"]);
  expect(deliveriesOf(world.app, 1, id).find(({ status }) => status === 422)).toMatchObject({
    state: "due",
    tries: 1,
    answer: "no such stage",
    body: expect.stringContaining("in_conversation"),
  });
  answer = () => ({ status: 200 });
  later(10_000);
  await carry();
  expect(of("ana@ana-museum.example")).toEqual(["contacted", "in_conversation", "in_conversation", "won"]);
});

it("after three days it is switched off with a notice; switched on again it is told what waited", async () => {
  const { id } = make();
  answer = () => ({ status: 500 });
  setStage(1, "contacted");
  for (let hour = 0; hour < 90; hour++) {
    await carry();
    later(HOUR);
  }
  expect(allWebhooks(world.app)).toMatchObject([
    { state: "off", offBecause: expect.stringContaining("three days") },
  ]);
  expect(rows(world, "SELECT kind, user_id AS who, path FROM notices")).toEqual([
    { kind: "connection", who: 1, path: `/connections/webhooks/${id}` },
  ]);
  const tries = got.length;
  expect(tries).toBeLessThan(25);
  later(DAY);
  await carry();
  expect(got).toHaveLength(tries);
  answer = () => ({ status: 200 });
  switchWebhook(world.app, 1, id, true);
  await carry();
  expect(told().at(-1)).toMatchObject({ data: { to: "contacted" } });
  expect(allWebhooks(world.app)).toMatchObject([{ state: "on", due: 0, told: 1 }]);
});

it("“gone” ends it at once, and what a receiver asks to wait is waited", async () => {
  const { id } = make();
  answer = () => ({ status: 429, headers: { "retry-after": "1800" } });
  setStage(1, "contacted");
  await carry();
  later(20 * MINUTE);
  await carry();
  expect(got).toHaveLength(1);
  later(11 * MINUTE);
  answer = () => ({ status: 410 });
  await carry();
  expect(allWebhooks(world.app)).toMatchObject([
    { id, state: "off", offBecause: expect.stringContaining("410") },
  ]);
});

it("a dead receiver slows no other", async () => {
  make({ name: "Dead", url: "http://127.0.0.1:9/" });
  make({ name: "Alive", url: `${origin}/alive` });
  for (const stage of ["contacted", "won"]) setStage(1, stage);
  await carry();
  expect(got.map(({ path }) => path)).toEqual(["/alive", "/alive"]);
  expect(allWebhooks(world.app)).toMatchObject([
    { name: "Dead", due: 2, failingSince: now },
    { name: "Alive", due: 0, told: 2 },
  ]);
});

it("while a secret is changed both sign; a day later only the new one", async () => {
  const { id, secret } = make();
  const rotated = rotateSecret(world.app, 1, id);
  const fresh = rotated.ok ? rotated.value : "";
  setStage(1, "contacted");
  await carry();
  const verify = (by: string) => {
    const { headers, body } = got.at(-1) as Got;
    new Verifier(by).verify(body, headers as unknown as Record<string, string>);
  };
  for (const each of [secret, fresh]) expect(() => verify(each)).not.toThrow();
  later(DAY + 1);
  setStage(1, "won");
  await carry();
  expect(() => verify(fresh)).not.toThrow();
  expect(() => verify(secret)).toThrow();
  expect(world.app.db.serialize().includes(fresh)).toBe(false);
});

it("a test is told like everything else; what was told can be told again, also what happened while it was off", async () => {
  const { id } = make();
  make({ name: "Keeps the outbox open", kinds: ["prospect.stage_changed"], url: `${origin}/other` });
  pressTest(world.app, 1, id);
  await carry();
  expect(told()).toMatchObject([{ type: "test" }]);
  setStage(1, "contacted");
  await carry();
  switchWebhook(world.app, 1, id, false);
  setStage(1, "won");
  await carry();
  switchWebhook(world.app, 1, id, true);
  got = [];
  await carry();
  expect(got).toEqual([]);
  expect(replay(world.app, 1, id, { since: TUESDAY })).toMatchObject({ ok: true });
  await carry();
  expect(told().map(({ type, data }) => data.to ?? type)).toEqual(["test", "contacted", "won"]);
  const [delivery] = deliveriesOf(world.app, 1, id);
  replay(world.app, 1, id, { delivery: delivery?.id });
  await carry();
  expect(told().at(-1)).toMatchObject({ data: { to: "won" } });
});

describe("who is told", () => {
  it("is who fits the filter", async () => {
    make({
      filter: JSON.stringify({
        match: "all",
        groups: [{ match: "all", conditions: [{ field: "city", op: "is", value: "faro" }] }],
      }),
    });
    saveProspect(world.app, 1, { id: 2, city: "Faro" });
    setStage(1, "won");
    setStage(2, "won");
    await carry();
    expect(told().map(({ data }) => data.prospect?.id)).toEqual([2]);
  });

  it("knows nothing of sequences that a colleague keeps to themselves", async () => {
    world.app.db.exec(`INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
      VALUES (2, 'rui@q.example', 'Rui', '', 'UTC', 'rui-2', 'rep', 0);
      INSERT INTO sequences (id, name, user_id, time_zone, state, is_personal, created_at) VALUES (7, 'Own', 1, 'UTC', 'running', 1, 0);`);
    for (const user of [1, 2])
      makeWebhook(world.app, user, {
        name: `Of ${user}`,
        url: `${origin}/${user}`,
        kinds: ["journey.started"],
      });
    world.app.db.exec(`INSERT INTO journeys (id, sequence_id, prospect_id, due_at, started_at) VALUES (1, 7, 1, 0, 0);
      INSERT INTO events (at, kind, prospect_id, journey_id) VALUES (${TUESDAY}, 'journey_started', 1, 1)`);
    await carry();
    expect(got.map(({ path }) => path)).toEqual(["/1"]);
  });

  it("is told nothing more of somebody who was erased", async () => {
    const { id } = make();
    answer = () => ({ status: 500 });
    setStage(1, "contacted");
    setStage(2, "contacted");
    await carry();
    eraseForGood(world.app, 1);
    answer = () => ({ status: 200 });
    got = [];
    later(HOUR);
    await carry();
    expect(told().map(({ data }) => data.prospect?.id)).toEqual([2]);
    expect(JSON.stringify(deliveriesOf(world.app, 1, id))).not.toContain("ana");
  });
});

describe("an address", () => {
  it("inside is refused when it is typed, and not asked where a name or a redirection leads there", async () => {
    const shut = { ...world.app, config: { ...world.app.config, inside: [] } };
    for (const url of [
      "http://127.0.0.1:9/x",
      "http://[::1]/",
      "http://169.254.169.254/latest",
      "http://localhost/",
      "http://2130706433/",
      "http://10.0.0.8/",
      "ftp://x.example/",
      "javascript:1",
      "nonsense",
      "http://u:p@x.example/",
    ])
      expect(makeWebhook(shut, 1, { name: "X", url, kinds: ["email.sent"] }), url).toMatchObject({
        ok: false,
        errors: { url: expect.any(String) },
      });
    // A name whose address changed since, or one saved while it was allowed.
    const { id } = make();
    setStage(1, "contacted");
    const shutCarrier = new Carrier(shut, () => {});
    await shutCarrier.look();
    await shutCarrier.rest();
    expect(got).toEqual([]);
    expect(deliveriesOf(shut, 1, id)).toMatchObject([
      { state: "due", status: null, answer: expect.stringContaining("inside this network") },
    ]);
    answer = () => ({ status: 302, headers: { location: "http://169.254.169.254/" } });
    later(HOUR);
    await carry();
    expect(got).toHaveLength(1);
    expect(deliveriesOf(world.app, 1, id)).toMatchObject([{ state: "due", status: 302 }]);
  });

  it("and what is told of whom are their owner's to change", async () => {
    world.app.db.exec(`INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
      VALUES (2, 'rui@q.example', 'Rui', '', 'UTC', 'rui-2', 'rep', 0)`);
    const { id } = make();
    const form = { name: "Mine now", url: `${origin}/thief`, kinds: ["reply.received"] };
    for (const change of [
      saveWebhook(world.app, 2, id, form),
      removeWebhook(world.app, 2, id),
      rotateSecret(world.app, 2, id),
      pressTest(world.app, 2, id),
      replay(world.app, 2, id, { since: 0 }),
      switchWebhook(world.app, 2, id, false),
    ])
      expect(change).toMatchObject({ ok: false, code: "not_yours" });
    expect(deliveriesOf(world.app, 2, id)).toEqual([]);
    // The address of a chat channel is as good as a key.
    expect(webhooksSeenBy(world.app, 2)).toMatchObject([{ url: origin }]);
    expect(webhooksSeenBy(world.app, 1)).toMatchObject([{ url: `${origin}/in` }]);
    expect(allWebhooks(world.app)).toMatchObject([{ name: "CRM", url: `${origin}/in`, state: "on" }]);
  });
});

describe("a chat channel", () => {
  const channel = (more: object = {}) => ({
    ...{
      words: "{{first_name}} of {{company}} ({{title}}): {{what}}. {{says}}",
      quietFrom: "20:00",
      quietUntil: "08:00",
    },
    ...more,
  });
  const lines = () =>
    got.map(({ body }) => JSON.parse(body) as { text: string; links: { text: string; url: string }[] });

  it("is told in its own words, with links in place of buttons, and signed like the others", async () => {
    const { secret } = make({ channel: channel() });
    setStage(1, "won");
    await carry();
    expect(lines()).toEqual([
      {
        text: "ana of ana museum (–): somebody came to another stage. Now “Won”",
        links: [{ text: "Open ana", url: "https://outreach.quillwater.example/prospects/1" }],
      },
    ]);
    const { body, headers } = got[0] as Got;
    expect(() =>
      new Verifier(secret).verify(body, headers as unknown as Record<string, string>),
    ).not.toThrow();
  });

  it("is left in peace in its quiet hours, where its owner is, and told in the morning", async () => {
    const { id } = make({ channel: channel() });
    later(Date.parse("2026-06-09T20:30:00+01:00") - TUESDAY);
    setStage(1, "won");
    await carry();
    later(6 * HOUR);
    await carry();
    expect(got).toEqual([]);
    expect(allWebhooks(world.app)).toMatchObject([{ id, due: 1, failingSince: null }]);
    later(6 * HOUR);
    await carry();
    expect(lines()).toHaveLength(1);
  });

  it("takes no words that cannot be filled in, and what strangers wrote stays text", async () => {
    for (const words of ["", "{{nobody}}", "{{first_name", "x".repeat(501)])
      expect(
        makeWebhook(world.app, 1, {
          name: "C",
          url: origin,
          kinds: ["email.sent"],
          channel: channel({ words }),
        }),
        words,
      ).toMatchObject({ ok: false });
    make({ channel: channel() });
    saveProspect(world.app, 1, { id: 1, firstName: "{{secret}} {% raw %}", title: "a\nb" });
    setStage(1, "won");
    await carry();
    expect(lines()[0]?.text).toBe(
      "{{secret}} {% raw %} of ana museum (a b): somebody came to another stage. Now “Won”",
    );
  });
});

it("what was told a month ago goes", async () => {
  make();
  setStage(1, "contacted");
  await carry();
  later(31 * DAY);
  sweepHappenings(world.app);
  expect(rows(world, "SELECT * FROM happenings")).toEqual([]);
  expect(rows(world, "SELECT * FROM deliveries")).toEqual([]);
});
