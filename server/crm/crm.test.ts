/** A CRM that renews its tokens, asks us to go slower, changes under our hands, deletes and lies: nothing is doubled, lost or overruled unasked. */
import { mkdtempSync, rmSync } from "node:fs";
import type { Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import { type CrmSettings, USUAL_SETTINGS } from "../../core/crm/settings.ts";
import { createCrm } from "../../standins/crm/crm-server.ts";
import type { Kind, Thing } from "../../standins/crm/things.ts";
import { setDemoClock } from "../clock.ts";
import { isBlocked } from "../db/block-list.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { followRules } from "../rules/follow-rules.ts";
import { saveRule, switchRule } from "../rules/rules.ts";
import { unseal } from "../secrets.ts";
import { addPeople, addUnasked, createWorld, MARTA, rows, TUESDAY, type World } from "../tests/world.ts";
import { signedHeaders } from "../webhooks/sign.ts";
import { CrmCarrier } from "./carry.ts";
import {
  connectCrm,
  crmOf,
  partFromCrm,
  pokeCrm,
  readAnew,
  renewKey,
  saveCrm,
  switchCrm,
  tryCrm,
} from "./crm.ts";
import { decideConflicts, decideDeletion, openConflicts, openDeletions, toldLast } from "./decide.ts";

let world: World;
let server: Server;
let url: string;
let folder: string;
let carrier: CrmCarrier;
let now = TUESDAY;

/** In the CRM: a saved filter, two stages of deals, Rui, and two companies with somebody each; ana is known here, too. */
const SEED: { kind: Kind; body: Record<string, unknown> }[] = [
  { kind: "views", body: { name: "Museums", where: { segment: "museum" } } },
  { kind: "deal-stages", body: { name: "Talks" } },
  { kind: "deal-stages", body: { name: "Won" } },
  { kind: "owners", body: { name: "Marta", email: "MARTA@quillwater.example" } },
  { kind: "companies", body: { name: "Ana Museum", domain: "ana-museum.example" } },
  { kind: "companies", body: { name: "Zoo House", domain: "zoo.example" } },
  {
    kind: "people",
    body: {
      ...{ segment: "museum", email: "Ana@ana-museum.example", name: { first: "Ana", last: "Reis" } },
      ...{
        job_title: "Registrar",
        company_id: "$4",
        status: "new",
        address: { city: "Porto", country: "Portugal" },
      },
    },
  },
  {
    kind: "people",
    body: {
      ...{ segment: "museum", email: "zoe@zoo.example", name: { first: "Zoe", last: "Adler" } },
      ...{ job_title: "Curator", company_id: "$5", status: "customer", owner_id: "$3" },
    },
  },
  {
    kind: "people",
    body: { segment: "shop", email: "sam@shop.example", name: { first: "Sam", last: "Ota" } },
  },
  { kind: "deals", body: { name: "Zoo loans", person_id: "$7", stage_id: "$1", value: "4200" } },
];

const post = async (path: string, body: unknown) => {
  const answer = await fetch(`${url}${path}`, { method: "POST", body: JSON.stringify(body) });
  if (!answer.ok) throw new Error(await answer.text());
  return (await answer.json()) as { ids: string[] };
};
const form = (path: string, fields: Record<string, string>) =>
  fetch(`${url}${path}`, { method: "POST", body: new URLSearchParams(fields), redirect: "manual" });
const there = async (): Promise<Record<Kind, Thing[]>> =>
  (await (await fetch(`${url}/all`)).json()) as Record<Kind, Thing[]>;
const personThere = async (email: string) =>
  (await there()).people.filter((each) => String(each.email).toLowerCase() === email && !each.deleted);
let ids: string[];

beforeEach(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana", "bia"]);
  world.app.db.exec(`
    UPDATE users SET role = 'manager' WHERE id = 1;
    INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
      VALUES (2, 'rui@quillwater.example', 'Rui Abrantes', '', 'Europe/Lisbon', 'rui', 'rep', 0);
  `);
  folder = mkdtempSync(join(tmpdir(), "saudade-crm-"));
  server = createCrm({ state: join(folder, "crm.db"), rate: 1_000 });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  now = TUESDAY;
  await post("/clock", { now, runs: false });
  ({ ids } = await post("/seed", { refreshToken: "first", things: SEED }));
  carrier = new CrmCarrier(world.app, (error) => {
    throw error;
  });
});
afterEach(async () => {
  await carrier.rest();
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  rmSync(folder, { recursive: true, force: true });
  await world.close();
});

const later = async (ms: number) => {
  now += ms;
  setDemoClock(world.app.db, now, false);
  await post("/clock", { now, runs: false });
};
const turn = async () => {
  carrier.look();
  await carrier.rest();
};
/** The next pass, ten minutes on by both clocks. */
const pass = async (after = 11 * MINUTE) => {
  await later(after);
  world.app.db.exec("UPDATE crms SET next_wall = 0");
  await turn();
};
const connect = async (more: object = {}) => {
  const outcome = await connectCrm(world.app, 1, { name: "Ledgerhouse", url, key: "first", ...more });
  expect(outcome).toMatchObject({ ok: true });
};
type Given = Omit<Partial<CrmSettings>, "deals"> & { deals?: Partial<CrmSettings["deals"]> };
const settings = (more: Given = {}) => {
  const outcome = saveCrm(world.app, 1, { ...USUAL_SETTINGS, view: ids[0], ...more });
  expect(outcome).toMatchObject({ ok: true });
};
/** Connected, tried, and switched on; the first pass is over. */
const begin = async (more: Given = {}) => {
  await connect();
  settings(more);
  tryCrm(world.app, 1);
  await turn();
  expect(switchCrm(world.app, 1, true)).toMatchObject({ ok: true });
  await turn();
};
const here = (email: string) =>
  rows<Record<string, unknown>>(world, "SELECT * FROM prospects WHERE live = 1").find(
    (each) => each.email === email,
  );
const wins = (field: string, side: "here" | "there" | "later" | "ask") => ({
  fields: USUAL_SETTINGS.fields.map((each) => (each.field === field ? { ...each, wins: side } : each)),
});
const event = (kind: string, more: Record<string, unknown> = {}) =>
  world.app.db
    .prepare(
      `INSERT INTO events (at, kind, prospect_id, journey_id, touch_id, reply_id, detail) VALUES (@at, @kind, @prospectId, NULL, @touchId, NULL, @detail)`,
    )
    .run({ at: now, kind, prospectId: 1, touchId: null, detail: null, ...more });

describe("connecting", () => {
  it("asks it at once, and says at the field what is wrong", async () => {
    const refusals = await Promise.all([
      connectCrm(world.app, 1, { name: "", url: "ledger", key: "" }),
      connectCrm(world.app, 1, { name: "L", url, key: "wrong" }),
      connectCrm(world.app, 1, { name: "L", url: "http://127.0.0.1:9", key: "first" }),
      connectCrm(world.app, 1, { name: "L", url, key: "first", dialect: "{" }),
      connectCrm(world.app, 1, {
        name: "L",
        url,
        key: "first",
        dialect: '{"people":{"items":"a.__proto__"}}',
      }),
      connectCrm(world.app, 2, { name: "L", url, key: "first" }),
    ]);
    expect(refusals.map((each) => (each.ok ? "ok" : Object.keys(each.errors)))).toEqual([
      ...[["name", "url", "key"], ["key"], ["url"], ["dialect"], ["dialect"], ["form"]],
    ]);
    expect(crmOf(world.app)).toBeNull();
  });

  it("never leads inside the network, by a typed address or by what a name leads to", async () => {
    const app = { ...world.app, config: { ...world.app.config, demo: false, inside: [] } };
    for (const inside of [
      "http://127.0.0.1:80",
      "http://[::1]",
      "http://localhost:1",
      "http://169.254.169.254",
      "http://10.0.0.8/api",
    ])
      expect(await connectCrm(app, 1, { name: "L", url: inside, key: "first" })).toMatchObject({
        ok: false,
        errors: { url: expect.stringContaining("inside") },
      });
  });

  it("keeps its tokens sealed, and the one that came in place of the first", async () => {
    await connect();
    const [row] = rows<{ key: string; all: string }>(
      world,
      "SELECT key_sealed AS key, json_group_array(key_sealed || access_sealed || url || settings) AS 'all' FROM crms",
    );
    expect(row?.all).not.toMatch(/refresh-|access-|"first"/);
    expect(unseal(row?.key ?? "", world.app.key)).toMatch(/^refresh-/);
    expect(crmOf(world.app)?.choices).toMatchObject({
      views: [{ name: "Museums" }],
      stages: [{ name: "Talks" }, { name: "Won" }],
      owners: [{ name: "marta@quillwater.example" }],
    });
  });
});

describe("a trial", () => {
  it("counts and shows what would follow, and changes nothing on either side", async () => {
    await connect();
    settings({ makesPeople: true, ...wins("title", "ask") });
    saveProspect(world.app, 1, { id: 1, title: "Head of loans" });
    const before = [rows(world, "SELECT * FROM prospects"), await there()];
    expect(switchCrm(world.app, 1, true)).toMatchObject({ ok: false });
    expect(tryCrm(world.app, 1)).toMatchObject({ ok: true });
    await turn();
    const crm = crmOf(world.app);
    expect(crm?.state).toBe("looked");
    expect(
      Object.fromEntries(Object.entries(crm?.report ?? {}).map(([finding, line]) => [finding, line?.count])),
    ).toMatchObject({
      ...{ new: 1, known: 1, conflict: 1, out: 1 },
    });
    expect(crm?.report?.new?.examples).toEqual([
      { name: "Zoe Adler", words: "Curator, Zoo House, zoe@zoo.example" },
    ]);
    expect(crm?.report?.conflict?.examples[0]?.words).toBe("Job title: “Head of loans” → “Registrar”");
    expect(crm?.report?.out?.examples[0]?.words).toBe("bia@bia-museum.example");
    expect([rows(world, "SELECT * FROM prospects"), await there()]).toEqual(before);
  });
});

describe("people", () => {
  it("come in by the saved filter, once, with their company, stage and owner, on a list", async () => {
    await begin();
    expect(here("zoe@zoo.example")).toMatchObject({
      ...{ first_name: "Zoe", title: "Curator", company: "Zoo House", stage: "won", owner_id: 1 },
    });
    expect(here("ana@ana-museum.example")).toMatchObject({
      city: "Porto",
      country: "PT",
      title: "Registrar",
    });
    expect(here("sam@shop.example")).toBeUndefined();
    readAnew(world.app, 1);
    await pass();
    expect(rows(world, "SELECT email FROM prospects WHERE live = 1")).toHaveLength(3);
    expect(
      rows(
        world,
        "SELECT p.email FROM list_prospects lp JOIN lists l ON l.id = lp.list_id AND l.name = 'From the CRM' JOIN prospects p ON p.id = lp.prospect_id",
      ),
    ).toEqual([{ email: "zoe@zoo.example" }]);
  });

  it("stay in step both ways, and what was told comes back to nobody as news", async () => {
    await begin();
    saveProspect(world.app, 1, { id: 1, title: "Head of loans", city: "Braga" });
    await later(MINUTE);
    await turn();
    expect((await personThere("ana@ana-museum.example"))[0]).toMatchObject({
      job_title: "Head of loans",
      address: { city: "Braga", country: "Portugal" },
    });
    await later(MINUTE);
    await form(`/page/people/${ids[6]}`, { job_title: "Director" });
    await pass();
    expect(here("ana@ana-museum.example")).toMatchObject({ title: "Director", city: "Braga" });
    const changes = rows(world, "SELECT * FROM changes").length;
    await pass();
    await pass();
    expect(rows(world, "SELECT * FROM changes")).toHaveLength(changes);
    expect(rows(world, "SELECT 1 FROM crm_links WHERE is_dirty != 0")).toEqual([]);
  });

  it("a stage that comes from there has its consequences here", async () => {
    await begin();
    await later(MINUTE);
    await form(`/page/people/${ids[6]}`, { status: "Customer" });
    await pass();
    expect(rows(world, "SELECT detail FROM events WHERE kind = 'stage_set' AND prospect_id = 1")).toEqual([
      { detail: "won" },
    ]);
  });

  it.each([
    ["here", "Head of loans", "Head of loans"],
    ["there", "Director", "Director"],
    ["later", "Director", "Director"],
  ] as const)("where both changed the same, it is as was chosen: %s", async (side, ours, theirs) => {
    await begin(wins("title", side));
    await later(MINUTE);
    saveProspect(world.app, 1, { id: 1, title: "Head of loans" });
    await later(MINUTE);
    await form(`/page/people/${ids[6]}`, { job_title: "Director" });
    await pass();
    await pass();
    expect(here("ana@ana-museum.example")?.title).toBe(ours);
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe(theirs);
  });

  it("or it is asked, and both are left as they are until somebody says", async () => {
    await begin(wins("title", "ask"));
    saveProspect(world.app, 1, { id: 1, title: "Head of loans" });
    await form(`/page/people/${ids[6]}`, { job_title: "Director" });
    await pass();
    await pass();
    expect(openConflicts(world.app, 1)).toMatchObject({
      total: 1,
      shown: [{ name: "Ana Reis", field: "Job title", here: "Head of loans", there: "Director" }],
    });
    expect(here("ana@ana-museum.example")?.title).toBe("Head of loans");
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe("Director");
    expect(decideConflicts(world.app, 2, { side: "here" })).toMatchObject({ ok: false });
    expect(decideConflicts(world.app, 1, { side: "here" })).toMatchObject({ ok: true, value: 1 });
    await turn();
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe("Head of loans");
    expect(openConflicts(world.app, 1).total).toBe(0);
  });

  it("are made there where they are to be, once, with their company, whatever breaks off", async () => {
    await connect();
    settings({ makesPeople: true });
    tryCrm(world.app, 1);
    await turn();
    switchCrm(world.app, 1, true);
    // The answer to the first is lost: we do not know that they were made.
    await turn();
    world.app.db.exec("DELETE FROM crm_links WHERE prospect_id = 2");
    await pass();
    const [bia, ...more] = await personThere("bia@bia-museum.example");
    expect(more).toEqual([]);
    expect(bia).toMatchObject({ status: "new", external_id: expect.stringMatching(/^saudade-/) });
    const { companies } = await there();
    expect(companies.filter(({ domain }) => domain === "bia-museum.example")).toHaveLength(1);
    expect(bia?.company_id).toBe(companies.find(({ domain }) => domain === "bia-museum.example")?.id);
  });

  it("a company that is called otherwise here by now is called so there, too, and not made again", async () => {
    await begin();
    saveProspect(world.app, 1, { id: 1, company: "Ana Museum of Glass" });
    await turn();
    await pass();
    await pass();
    expect((await there()).companies.map(({ name }) => name)).toEqual(["Ana Museum of Glass", "Zoo House"]);
    expect(here("ana@ana-museum.example")?.company).toBe("Ana Museum of Glass");
  });

  it("who stands there outside of the filter is found by the address, and not made again", async () => {
    await post("/seed", {
      refreshToken: "x",
      things: [{ kind: "people", body: { email: "BIA@bia-museum.example", job_title: "Clerk" } }],
    });
    await begin({ makesPeople: true });
    expect(await personThere("bia@bia-museum.example")).toMatchObject([{ job_title: "Clerk" }]);
    expect(here("bia@bia-museum.example")?.title).toBe("Clerk");
  });

  it("one whom it refuses holds up nobody, and is shown with its words", async () => {
    world.app.db.exec("UPDATE prospects SET email = 'bia@refused.example' WHERE id = 2");
    await begin({ makesPeople: true });
    await pass();
    expect(toldLast(world.app, 1, 1)).toMatchObject([
      { state: "failed", answer: expect.stringContaining("not taken here") },
    ]);
    // Letters of a colleague's own sequence can be among them: a rep is not shown what was told.
    expect(toldLast(world.app, 2, 1)).toEqual([]);
    saveProspect(world.app, 1, { id: 1, title: "Head" });
    await turn();
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe("Head");
  });

  it("who wants no mail there gets none from here", async () => {
    await begin();
    expect(isBlocked(world.app.db, "ana@ana-museum.example")).toBe(false);
    await later(MINUTE);
    await form(`/page/people/${ids[6]}`, { no_mail: "true" });
    await pass();
    expect(isBlocked(world.app.db, "ana@ana-museum.example")).toBe(true);
  });

  it("who was erased here does not come back from there", async () => {
    const zoe = { email: "zoe@zoo.example", firstName: "Zoe", listName: "x" };
    const { addProspect } = await import("../prospects/people/add-prospect.ts");
    const added = addProspect(world.app, 1, zoe);
    if (!added.ok) throw new Error();
    eraseForGood(world.app, added.value.id);
    await begin();
    expect(here("zoe@zoo.example")).toBeUndefined();
    expect(crmOf(world.app)?.report?.refused?.count).toBe(1);
  });

  it("an untrusted record is cleaned or refused, and none stops the others", async () => {
    await post("/seed", {
      refreshToken: "x",
      things: [
        { kind: "people", body: { segment: "museum", email: "no address", name: { first: 5 } } },
        { kind: "people", body: { segment: "museum", email: `${"x".repeat(400)}@long.example` } },
        {
          kind: "people",
          body: {
            segment: "museum",
            email: "kim@late.example",
            name: { first: "KIM\u0000", last: "x".repeat(900) },
            role: "manager",
          },
        },
      ],
    });
    await begin();
    expect(here("kim@late.example")).toBeDefined();
    expect(crmOf(world.app)?.report?.refused?.count).toBe(2);
  });
});

describe("deletions", () => {
  it("there change nothing here until somebody says so", async () => {
    await begin();
    await later(MINUTE);
    await form(`/page/people/${ids[6]}`, { remove: "1" });
    await form(`/page/people/${ids[7]}`, { remove: "1" });
    await pass();
    expect(here("ana@ana-museum.example")).toBeDefined();
    const { shown } = openDeletions(world.app, 1);
    expect(shown).toMatchObject([
      { name: "Ana Reis", where: "there" },
      { name: "Zoe Adler", where: "there" },
    ]);
    const rui = { ...MARTA, id: 2, role: "rep" as const };
    expect(decideDeletion(world.app, rui, { id: shown[0]?.id, what: "erase" })).toMatchObject({ ok: false });
    expect(decideDeletion(world.app, MARTA, { id: shown[0]?.id, what: "keep" })).toMatchObject({ ok: true });
    expect(decideDeletion(world.app, MARTA, { id: shown[1]?.id, what: "erase" })).toMatchObject({ ok: true });
    expect(here("ana@ana-museum.example")).toBeDefined();
    expect(here("zoe@zoo.example")).toBeUndefined();
    await pass();
    expect(openDeletions(world.app, 1).total).toBe(0);
  });

  it("here change nothing there until somebody says so", async () => {
    await begin();
    eraseForGood(world.app, 1);
    await pass();
    await pass();
    expect(await personThere("ana@ana-museum.example")).toHaveLength(1);
    const { shown } = openDeletions(world.app, 1);
    expect(shown).toMatchObject([{ where: "here", name: "Somebody who was erased here" }]);
    decideDeletion(world.app, MARTA, { id: shown[0]?.id, what: "erase" });
    await turn();
    expect(await personThere("ana@ana-museum.example")).toHaveLength(0);
    expect(openDeletions(world.app, 1).total).toBe(0);
  });
});

describe("what was done", () => {
  it("is logged there once for whoever is there, in order", async () => {
    await begin();
    addUnasked(world);
    world.app.db.exec(
      "INSERT INTO replies (id, mailbox_id, message_id, prospect_id, kind, certainty, from_address, from_name, answer_to, subject, text, at) VALUES (9, 1, '<9>', 1, 'person', 'sure', 'ana@ana-museum.example', 'Ana', '', 'Re: Loans', 'Tell me more.', 1)",
    );
    event("replied", { touchId: null });
    world.app.db.exec("UPDATE happenings SET reply_id = 9 WHERE kind = 'reply.received'");
    event("booked");
    event("replied", { prospectId: 2 });
    event("opened");
    await turn();
    world.app.db.exec("UPDATE crm_outbox SET state = 'due'");
    await turn();
    const { activities } = await there();
    expect(activities).toMatchObject([
      {
        kind: "reply",
        subject: "Re: Loans",
        text: "Tell me more.",
        person_id: ids[6],
        url: expect.stringContaining("/prospects/1"),
      },
      { kind: "meeting", subject: "A call was booked" },
    ]);
    expect(activities).toHaveLength(2);
  });

  it("is told once however often a copy is restored", async () => {
    await begin();
    event("booked");
    const copy = rows(world, "SELECT * FROM happenings");
    await turn();
    world.app.db.exec("DELETE FROM crm_outbox; UPDATE crms SET seen_happening = 0");
    expect(copy).not.toEqual([]);
    await turn();
    expect((await there()).activities).toHaveLength(1);
  });
});

describe("deals", () => {
  const moments = [
    ["booked", () => event("booked")],
    ["first_email", () => event("email_sent")],
  ] as const;
  it.each(moments)(
    "are made at the moment that was chosen (%s), once, also of somebody who was not there",
    async (at, happen) => {
      await begin({ deals: { at, name: "Loans of {{company}}", stage: ids[1] as string } });
      happen();
      happen();
      event(at === "booked" ? "booked" : "email_sent", { prospectId: 2 });
      await turn();
      await pass();
      const { deals } = await there();
      expect(deals.slice(1)).toMatchObject([
        { name: "Loans of Ana Museum", stage_id: ids[1], person_id: ids[6], company_id: ids[4] },
        { name: "Loans of bia museum", stage_id: ids[1] },
      ]);
      expect(deals).toHaveLength(3);
      expect(await personThere("bia@bia-museum.example")).toHaveLength(1);
    },
  );

  it("whose stage changes there set off rules here, and those that stood there before do not", async () => {
    const tell = { kind: "notify", userId: 1, text: "{{company}} is won" };
    const rule = {
      when: { kind: "deal", to: "Won" },
      isOnce: false,
      steps: [{ after: { kind: "now" }, act: tell }],
    };
    const saved = saveRule(world.app, 1, null, { name: "Won", rule });
    if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
    switchRule(world.app, 1, saved.value, true);
    await begin();
    followRules(world.app);
    expect(rows(world, "SELECT * FROM rule_runs")).toEqual([]);
    await later(MINUTE);
    await form(`/page/deals/${ids[9]}`, { stage_id: ids[2] as string });
    await pass();
    followRules(world.app);
    await pass();
    followRules(world.app);
    expect(rows(world, "SELECT text FROM notices WHERE kind = 'connection'")).toEqual([
      { text: "Zoo House is won" },
    ]);
  });

  it("are made and moved by a rule", async () => {
    await begin();
    const rule = (stage: string, to: string) => ({
      when: { kind: "stage", to },
      isOnce: false,
      steps: [{ after: { kind: "now" }, act: { kind: "deal", name: "{{company}} {{city}}", stage } }],
    });
    for (const [name, stage, to] of [
      ["a", "Talks", "contacted"],
      ["b", "won", "won"],
    ] as const) {
      const saved = saveRule(world.app, 1, null, { name, rule: rule(stage, to) });
      if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
      switchRule(world.app, 1, saved.value, true);
    }
    const to = async (stage: string) => {
      saveProspect(world.app, 1, { id: 1, stage });
      followRules(world.app);
      await turn();
      return (await there()).deals.slice(1).map(({ name, stage_id }) => [name, stage_id]);
    };
    expect(await to("contacted")).toEqual([["Ana Museum Porto", ids[1]]]);
    expect(await to("won")).toEqual([["Ana Museum Porto", ids[2]]]);
  });
});

describe("a CRM with a bad day", () => {
  it("that ends its tokens is signed into anew; that forgets all of them holds, with words on Today", async () => {
    await begin();
    await post("/forget-tokens", { all: false });
    saveProspect(world.app, 1, { id: 1, title: "Head" });
    await turn();
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe("Head");
    await post("/forget-tokens", { all: true });
    saveProspect(world.app, 1, { id: 1, title: "Chief" });
    await turn();
    expect(crmOf(world.app)).toMatchObject({
      state: "held",
      heldBecause: expect.stringContaining("invalid_grant"),
    });
    expect(rows(world, "SELECT text FROM notices WHERE kind = 'connection'")).toHaveLength(1);
    await post("/seed", { refreshToken: "second", things: [] });
    expect(await renewKey(world.app, 1, { key: "wrong" })).toMatchObject({
      ok: false,
      errors: { key: expect.any(String) },
    });
    expect(await renewKey(world.app, 1, { key: "second" })).toMatchObject({ ok: true });
    await turn();
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe("Chief");
  });

  it("that asks to go slower is left in peace for as long as it says", async () => {
    await begin();
    await post("/misbehave", { status: 429, retryAfter: "120" });
    saveProspect(world.app, 1, { id: 1, title: "Head" });
    await turn();
    expect(crmOf(world.app)).toMatchObject({
      retryAt: now + 2 * MINUTE,
      failingBecause: "It asks us to go slower.",
    });
    await post("/misbehave", { status: 0 });
    await later(MINUTE);
    await turn();
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe("Registrar");
    await later(MINUTE);
    await turn();
    expect((await personThere("ana@ana-museum.example"))[0]?.job_title).toBe("Head");
    expect(crmOf(world.app)?.failingSince).toBeNull();
  });

  it("that answers with an id alone is understood: nobody is doubled, and deals are known", async () => {
    await post("/misbehave", { status: 0, isTerse: true });
    await begin({ makesPeople: true, deals: { at: "booked", name: "{{company}}", stage: ids[1] as string } });
    event("booked", { prospectId: 2 });
    saveProspect(world.app, 1, { id: 2, title: "Head" });
    await turn();
    await pass();
    expect(rows(world, "SELECT email FROM prospects WHERE live = 1")).toHaveLength(3);
    expect(await personThere("bia@bia-museum.example")).toMatchObject([{ job_title: "Head" }]);
    expect((await there()).deals.slice(1)).toMatchObject([{ name: "bia museum", stage_id: ids[1] }]);
    saveProspect(world.app, 1, { id: 2, title: "Chief" });
    await turn();
    expect(await personThere("bia@bia-museum.example")).toMatchObject([{ job_title: "Chief" }]);
  });

  it("that asks to go slower again and again is gone through all the same, and that is no failure", async () => {
    await post("/seed", {
      refreshToken: "x",
      things: Array.from({ length: 220 }, (_, nth) => ({
        kind: "people",
        body: { segment: "museum", email: `p${nth}@crowd.example` },
      })),
    });
    await begin();
    for (let asked = 0; asked < 8; asked++) {
      await post("/misbehave", { status: 429, retryAfter: "1" });
      await later(11 * MINUTE);
      readAnew(world.app, 1);
      await turn();
      expect(crmOf(world.app)).toMatchObject({ tries: 0, failingSince: null, retryAt: now + 1_000 });
      await post("/misbehave", { status: 0 });
      await later(1_000);
      await turn();
      expect(crmOf(world.app)).toMatchObject({ pass: null, retryAt: null });
    }
  });

  it("that fails for an hour hears all of it afterwards, in order; for three days, and it holds", async () => {
    await begin();
    await post("/misbehave", { status: 503 });
    for (const kind of ["booked", "booking_moved", "booking_cancelled"]) {
      event(kind);
      await later(20 * MINUTE);
      await turn();
    }
    await post("/misbehave", { status: 0 });
    await later(2 * HOUR);
    await turn();
    expect((await there()).activities.map(({ subject }) => subject)).toEqual([
      ...["A call was booked", "A call was moved", "A call was cancelled"],
    ]);
    await post("/misbehave", { status: 500 });
    await pass(HOUR);
    await pass(3 * DAY);
    expect(crmOf(world.app)).toMatchObject({
      state: "held",
      heldBecause: expect.stringContaining("three days"),
    });
  });

  it("goes on with the page at which it was killed", async () => {
    const crowd = Array.from({ length: 250 }, (_, nth) => ({
      kind: "people" as const,
      body: { segment: "museum", email: `p${nth}@crowd.example`, name: { first: "P", last: `Nr ${nth}` } },
    }));
    await post("/seed", { refreshToken: "x", things: crowd });
    await connect();
    settings();
    world.app.db.exec("UPDATE crms SET state = 'on'");
    // It ends once the first page of people was looked at; what it wrote down by then stands.
    const ends = setInterval(() => {
      const at = crmOf(world.app)?.pass;
      if (at?.at === "people" && at.cursor !== null) world.app.db.exec("UPDATE crms SET state = 'off'");
    }, 1);
    await turn();
    clearInterval(ends);
    expect(crmOf(world.app)?.pass).toMatchObject({ at: "people", cursor: expect.any(String) });
    world.app.db.exec("UPDATE crms SET state = 'on'");
    await turn();
    expect(rows(world, "SELECT 1 FROM prospects WHERE live = 1")).toHaveLength(2 + 1 + 250);
  });

  it("that always names the same next page is not asked for ever", async () => {
    await connect({ dialect: JSON.stringify({ next: "items.0.id" }) });
    settings();
    tryCrm(world.app, 1);
    await turn();
    expect(crmOf(world.app)?.state).toBe("looked");
  });
});

it("what changed there is asked for at once when it says so, signed; a forged, stale or foreign word is none", async () => {
  await begin();
  const { address } = crmOf(world.app) ?? { address: "" };
  const [{ secret } = { secret: "" }] = rows<{ secret: string }>(
    world,
    "SELECT hook_secret_sealed AS secret FROM crms",
  );
  const sign = (seconds: number, key = unseal(secret, world.app.key)) =>
    signedHeaders("evt", seconds, "{}", [key]);
  const seconds = Math.floor(Date.now() / 1_000);
  const foreign = `whsec_${Buffer.alloc(32).toString("base64")}`;
  const words = [sign(seconds - 600), sign(seconds, foreign), {}, sign(Number.NaN)];
  expect(words.map((headers) => pokeCrm(world.app, address, headers, "{}"))).toEqual([
    false,
    false,
    false,
    false,
  ]);
  expect(pokeCrm(world.app, address, sign(seconds), '{"a":1}')).toBe(false);
  expect(pokeCrm(world.app, `${address}x`, sign(seconds), "{}")).toBe(false);
  await later(MINUTE);
  await form(`/page/people/${ids[6]}`, { job_title: "Director" });
  await turn();
  expect(here("ana@ana-museum.example")?.title).toBe("Registrar");
  expect(pokeCrm(world.app, address, sign(seconds), "{}")).toBe(true);
  // Right after a pass it waits a moment: what it heard of may be our own doing.
  await turn();
  expect(here("ana@ana-museum.example")?.title).toBe("Registrar");
  world.app.db.exec("UPDATE crms SET passed_wall = 0");
  expect(pokeCrm(world.app, address, sign(seconds), "{}")).toBe(true);
  await turn();
  expect(here("ana@ana-museum.example")?.title).toBe("Director");
});

it("two who are merged here stay one here, and the second one there is said", async () => {
  await post("/seed", {
    refreshToken: "x",
    things: [{ kind: "people", body: { segment: "museum", email: "bia@bia-museum.example" } }],
  });
  await begin();
  world.app.db.exec("UPDATE prospects SET merged_into = 1 WHERE id = 2");
  await form(`/page/people/${ids[6]}`, { job_title: "Director" });
  readAnew(world.app, 1);
  await pass();
  expect(crmOf(world.app)?.report?.refused?.examples[0]?.words).toContain("twice");
  expect(openDeletions(world.app, 1).total).toBe(0);
});

it("is parted from without a trace on either side", async () => {
  await begin();
  expect(partFromCrm(world.app, 2)).toMatchObject({ ok: false });
  expect(partFromCrm(world.app, 1)).toMatchObject({ ok: true });
  await turn();
  expect([
    crmOf(world.app),
    rows(world, "SELECT * FROM crm_links"),
    rows(world, "SELECT * FROM listeners"),
  ]).toEqual([null, [], []]);
  expect(here("zoe@zoo.example")).toBeDefined();
  expect(await personThere("zoe@zoo.example")).toHaveLength(1);
});

it("acts as whoever connected it: what they may not, it does not", async () => {
  await begin();
  world.app.db.exec(
    "UPDATE users SET role = 'rep' WHERE id = 1; UPDATE prospects SET owner_id = 2 WHERE id = 1",
  );
  await later(MINUTE);
  await form(`/page/people/${ids[6]}`, { job_title: "Director" });
  await pass();
  expect(here("ana@ana-museum.example")?.title).toBe("Registrar");
  expect(crmOf(world.app)?.report?.refused?.count).toBe(1);
});
