/** Social touches made by a connected account, against the network's stand-in over HTTP, through simulated weeks. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE, OpenHours } from "../../core/calendar.ts";
import type { Path, RepStep } from "../../core/sequence/path.ts";
import { advance } from "../engine/advance.ts";
import { Engine } from "../engine/tick.ts";
import { startProcess } from "../processes.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { stopByRep } from "../sequences/stop-by-rep.ts";
import { freePort } from "../tests/free-port.ts";
import { addPeople, addSequence, createWorld, rows, TUESDAY, type World } from "../tests/world.ts";
import { ownTouches } from "../today/own-touches.ts";
import { accountStandings, connectAccount, removeAccount } from "./accounts.ts";

const TOKEN = "a-token";
const PROFILES = "https://vitrine.example/people";

interface Act {
  kind: string;
  profile: string;
  text: string;
  at: number;
}

let folder: string;
let url: string;
let network: Awaited<ReturnType<typeof startProcess>>;
let start: () => Promise<void>;
let world: World;
let engine: Engine;
let accountId: number;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "saudade-social-"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

let nth = 0;
beforeEach(async () => {
  const port = await freePort();
  const state = join(folder, `${++nth}.db`);
  url = `http://127.0.0.1:${port}`;
  start = async () => {
    network = await startProcess("social network", "standins/social/main.ts", {
      SOCIAL_PORT: String(port),
      SOCIAL_STATE: state,
    });
  };
  await start();
  world = await createWorld({ standin: false, env: { SAUDADE_SOCIAL_STANDIN: url } });
  world.app.config.standin = null;
  await tell("/clock", { now: TUESDAY, runs: false });
  await tell("/accounts", { token: TOKEN, name: "Marta Quintela" });
  const connected = await connectAccount(world.app, world.user, { url, token: TOKEN });
  if (!connected.ok) throw new Error(JSON.stringify(connected.errors));
  accountId = connected.value;
  engine = new Engine(world.app);
});
afterEach(async () => {
  await engine.close();
  await world.close();
  await network.stop();
});

async function tell(path: string, body: unknown): Promise<void> {
  const answer = await fetch(url + path, { method: "POST", body: JSON.stringify(body) });
  if (!answer.ok) throw new Error(await answer.text());
}
const acts = async (): Promise<Act[]> =>
  ((await (await fetch(`${url}/acts`)).json()) as { acts: Act[] }).acts;
const until = (at: number) => advance(engine, { id: 0, kind: "until", until: at }, () => true, false);

const touch = (id: string, kind: RepStep["kind"], wait: RepStep["wait"], text = ""): RepStep => ({
  id,
  kind,
  name: id,
  note: "",
  wait,
  text,
  journey: "waits",
  skipAfter: null,
  asNote: false,
});
const PATH: Path = [
  touch("look", "profile_view", { days: 0, working: true }),
  touch("invite", "invitation", { days: 1, working: true }, "Hello {{ first_name }}"),
  {
    id: "fork",
    kind: "fork",
    name: "",
    ask: { about: "accepted" },
    patience: { days: 8, working: true },
    yes: [touch("thanks", "social_message", { days: 0, working: true }, "Thank you, {{ first_name }}")],
    no: [{ id: "end", kind: "end" }],
  },
];

/** People with profiles of these names, started on the path; returns the sequence. */
function started(names: string[], path: Path = PATH): number {
  const list = addPeople(world, names);
  for (const name of names)
    world.app.db.exec(`UPDATE prospects SET profile = '${PROFILES}/${name}' WHERE first_name = '${name}'`);
  const settings = { accountId, holidays: false, holdsCompany: false };
  const id = addSequence(world, list, [], { path, settings });
  const report = startSequence(world.app, world.userId, id);
  if (!report.ok) throw new Error(JSON.stringify(report.errors));
  return id;
}
const names = (count: number) => Array.from({ length: count }, (_, each) => `p${each}`);
const forkWays = () =>
  rows<{ outcome: string; count: number }>(
    world,
    "SELECT outcome, count(*) AS count FROM decisions WHERE kind = 'fork' GROUP BY outcome ORDER BY outcome",
  );

describe("a social sequence", () => {
  it("runs by itself over weeks: viewed, invited, and thanked only where they accepted", async () => {
    started(names(16));
    await until(TUESDAY + 30 * DAY);
    const made = await acts();
    const of = (kind: string) => made.filter((each) => each.kind === kind);
    expect(of("view")).toHaveLength(16);
    expect(of("invitation")).toHaveLength(16);
    const ways = Object.fromEntries(forkWays().map(({ outcome, count }) => [outcome, count]));
    expect((ways.yes ?? 0) + (ways.no ?? 0)).toBe(16);
    expect(ways.yes).toBeGreaterThan(2);
    expect(of("message")).toHaveLength(ways.yes ?? 0);
    expect(rows(world, "SELECT DISTINCT state FROM journeys")).toEqual([{ state: "finished" }]);
    expect(ownTouches(world.app, world.user).total).toBe(0);
    // Minutes apart, within the hours, each person once.
    const times = made.map(({ at }) => at).sort((a, b) => a - b);
    for (let each = 1; each < times.length; each++)
      expect((times[each] as number) - (times[each - 1] as number)).toBeGreaterThanOrEqual(4 * MINUTE - 1000);
    for (const at of times) {
      const hours = new OpenHours(
        { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" },
        "Europe/Lisbon",
        at,
      );
      expect(hours.windowFrom(at).opens).toBeLessThanOrEqual(at);
    }
    expect(new Set(made.map(({ kind, profile }) => `${kind} ${profile}`)).size).toBe(made.length);
  });

  it("keeps the weekly limit over any seven days", async () => {
    world.app.db.exec(`UPDATE social_accounts SET weekly_invitations = 5`);
    started(names(12), [touch("invite", "invitation", { days: 0, working: true }, "Hello")]);
    await until(TUESDAY + 20 * DAY);
    const times = (await acts()).map(({ at }) => at);
    expect(times).toHaveLength(12);
    for (const from of times)
      expect(times.filter((at) => at >= from && at < from + 7 * DAY).length).toBeLessThanOrEqual(5);
  });

  it("waits where the network says enough, and goes on when it may", async () => {
    await tell("/accounts", { token: TOKEN, name: "Marta Quintela", views: 2 });
    started(names(3), [touch("look", "profile_view", { days: 0, working: true })]);
    await until(TUESDAY + DAY);
    expect(await acts()).toHaveLength(2);
    expect(rows(world, "SELECT wait_reason AS reason FROM journeys WHERE state = 'active'")).toEqual([
      { reason: "account_limit" },
    ]);
    await until(TUESDAY + 9 * DAY);
    expect(await acts()).toHaveLength(3);
  });

  it("stops where it is signed out, says so, and does nothing twice once it is signed in again", async () => {
    started(names(4), [touch("look", "profile_view", { days: 0, working: true })]);
    await until(TUESDAY + 12 * MINUTE);
    const before = (await acts()).length;
    await tell("/expire", { token: TOKEN, expired: true });
    await until(TUESDAY + 2 * HOUR);
    expect(await acts()).toHaveLength(before);
    expect(accountStandings(world.app, world.user)[0]).toMatchObject({ state: "signed_out" });
    expect(
      rows<{ reason: string }>(
        world,
        "SELECT DISTINCT wait_reason AS reason FROM journeys WHERE state = 'active'",
      ),
    ).toEqual([{ reason: "account_signed_out" }]);
    await tell("/expire", { token: TOKEN, expired: false });
    const again = await connectAccount(world.app, world.user, { id: accountId, url, token: "" });
    expect(again.ok).toBe(true);
    await until(TUESDAY + DAY);
    expect(await acts()).toHaveLength(4);
  });

  it("does each touch once, though the network is killed in the middle again and again", async () => {
    started(names(8), [touch("look", "profile_view", { days: 0, working: true })]);
    for (let hour = 1; hour <= 6; hour++) {
      await network.stop();
      await engine.tick();
      await start();
      await until(TUESDAY + hour * HOUR);
    }
    await until(TUESDAY + 3 * DAY);
    const made = await acts();
    expect(made).toHaveLength(8);
    expect(new Set(made.map(({ profile }) => profile)).size).toBe(8);
  });

  it("leaves out whom the network does not know, and nobody after a stop", async () => {
    started(
      ["gone", "ana", "bia"],
      [
        touch("look", "profile_view", { days: 0, working: true }),
        touch("invite", "invitation", { days: 1, working: true }),
      ],
    );
    await until(TUESDAY + HOUR);
    const ana = rows<{ id: number }>(world, "SELECT id FROM prospects WHERE first_name = 'ana'")[0]
      ?.id as number;
    stopByRep(world.app, ana);
    await until(TUESDAY + 4 * DAY);
    const made = (await acts()).map(({ kind, profile }) => `${kind} ${profile.split("/").at(-1)}`);
    expect(made.toSorted()).toEqual(["invitation bia", "view ana", "view bia"]);
    expect(
      rows(
        world,
        "SELECT state, note FROM touches t JOIN prospects p ON p.id = t.prospect_id WHERE p.first_name = 'gone' LIMIT 1",
      ),
    ).toEqual([{ state: "skipped", note: "The network knows no such profile." }]);
  });

  it("hands what is open back to the rep when the account is disconnected", async () => {
    started(names(2), [touch("look", "profile_view", { days: 0, working: true })]);
    world.app.db.exec("UPDATE social_accounts SET state = 'paused'");
    await until(TUESDAY + HOUR);
    expect(ownTouches(world.app, world.user).total).toBe(0);
    expect(removeAccount(world.app, world.user, accountId).ok).toBe(true);
    expect(ownTouches(world.app, world.user).total).toBe(2);
  });
});

describe("connecting an account", () => {
  it.each([
    ["a token the network does not know", { token: "wrong" }, "does not know this token"],
    ["an address without encryption elsewhere", { url: "http://social.example" }, "beginning with https"],
    ["a network that does not answer", { url: "http://127.0.0.1:9" }, "cannot be reached"],
  ])("refuses %s, with what to do", async (_, change, words) => {
    const made = await connectAccount(world.app, world.user, { url, token: TOKEN, ...change });
    expect(made.ok ? "" : Object.values(made.errors).join()).toContain(words);
  });

  it("never gives the stored token to another address", async () => {
    const moved = await connectAccount(world.app, world.user, {
      id: accountId,
      url: "http://127.0.0.1:9",
      token: "",
    });
    expect(moved.ok ? null : moved.errors).toHaveProperty("token");
  });
});
