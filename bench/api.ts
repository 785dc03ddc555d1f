/**
 * The API at 100,000 people: a web server and an engine that sends, as processes, asked over HTTP: one after the other (a page of a
 * hundred, an enrolment), and then two hundred times a second for some seconds. Against a request that does nothing.
 */
import { setTimeout as pause } from "node:timers/promises";
import { SCOPES } from "../core/team/scopes.ts";
import { makeKey } from "../server/api/keys.ts";
import { listNamed } from "../server/db/lists.ts";
import { startProcess } from "../server/processes.ts";
import { prospectStore } from "../server/prospects/people/store-prospect.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { freePort } from "../server/tests/free-port.ts";
import { addMailbox, addPeople, addSequence, createWorld } from "../server/tests/world.ts";
import type { Figure } from "./figure.ts";
import { inventRows } from "./people.ts";

const PEOPLE = 100_000;
const SENDING_TO = 2_000;
const ROUNDS = 120;
const A_SECOND = 200;
const LASTS_S = 15;

const p95 = (times: readonly number[]) =>
  Math.round((times.toSorted((a, b) => a - b)[Math.floor(times.length * 0.95)] as number) * 10) / 10;

export async function benchApi(): Promise<Figure> {
  const port = await freePort();
  const world = await createWorld({ env: { SAUDADE_PORT: String(port), SAUDADE_TICK: "1" } });
  const { app } = world;
  const made = makeKey(app, world.userId, { name: "Bench", scopes: SCOPES, days: 1 });
  if (!made.ok) throw new Error("no key");
  const listId = listNamed(app.db, "All", app.clock.now(), { ownerId: 1 });
  app.db.transaction(() => {
    const door = {
      origin: "import",
      originId: null,
      ownerId: 1,
      importId: null,
      listId,
      now: app.clock.now(),
    } as const;
    const store = prospectStore(app.db, door);
    for (const { first, last, email, company, website, title, city } of inventRows(PEOPLE))
      store({
        email,
        fields: {
          ...{
            firstName: first,
            lastName: last,
            company,
            companyDomain: new URL(website).hostname.replace("www.", ""),
          },
          ...{ title, city, country: "", timeZone: "", phone: "", profile: "", language: "" },
        },
        custom: {},
        changes: [],
      });
  })();
  const mailbox = await addMailbox(world, "marta@quillwater.example", {
    dailyLimit: 500,
    gapLeast: 0,
    gapMost: 0,
  });
  const names = Array.from({ length: SENDING_TO }, (_, nth) => `sent${nth}`);
  startSequence(app, world.userId, addSequence(world, addPeople(world, names, "Sending"), [mailbox]));
  const sequenceId = addSequence(world, listId, [mailbox], { name: "Enrolled" });
  // It runs, with 100,000 on its list of whom hardly anybody has been started.
  app.db.prepare("UPDATE sequences SET state = 'running' WHERE id = ?").run(sequenceId);
  const web = await startProcess("web server", "server/web/main.ts", world.env);
  const engine = await startProcess("engine", "server/engine/main.ts", world.env);
  const headers = { authorization: `Bearer ${made.value}`, "content-type": "application/json" };
  const timed = async (path: string, body?: unknown) => {
    const began = performance.now();
    const answer = await fetch(`http://127.0.0.1:${port}/api/v1${path}`, {
      headers,
      ...(body === undefined ? {} : { method: "POST", body: JSON.stringify(body) }),
    });
    await answer.arrayBuffer();
    if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
    return performance.now() - began;
  };
  const rounds = async (ask: (nth: number) => Promise<number>) => {
    const times: number[] = [];
    for (let nth = 0; nth < ROUNDS; nth++) times.push(await ask(nth));
    return p95(times);
  };
  try {
    await rounds(() => timed("/stages"));
    const nothing = await rounds(() => timed("/stages"));
    let next = 0;
    const cursor = () => Buffer.from(String(700 * ++next)).toString("base64url");
    const read = await rounds(() => timed(`/prospects?limit=100&cursor=${cursor()}`));
    const found = await rounds((nth) =>
      timed(`/prospects?limit=100&q=${["solheim", "brekke", "museum"][nth % 3]}`),
    );
    const enrol = await rounds((nth) =>
      timed(`/sequences/${sequenceId}/journeys`, { prospectIds: [1_000 + nth] }),
    );
    // At a steady pace, whether the ones before were answered or not.
    const times: number[] = [];
    const under: Promise<void>[] = [];
    const began = performance.now();
    for (let nth = 0; nth < A_SECOND * LASTS_S; nth++) {
      const due = began + (nth * 1_000) / A_SECOND;
      if (due > performance.now()) await pause(due - performance.now());
      const path =
        nth % 20 === 19
          ? "/journeys?limit=25"
          : nth % 4 === 3
            ? `/prospects?limit=25&cursor=${cursor()}`
            : `/prospects/${1 + (nth % PEOPLE)}`;
      under.push(timed(path).then((ms) => void times.push(ms)));
    }
    await Promise.all(under);
    const took = performance.now() - began;
    return {
      bench: "api",
      ratio: Math.round((read / nothing) * 10) / 10,
      limit: 5,
      kind: "most",
      people: PEOPLE,
      nothingP95Ms: nothing,
      read100P95Ms: read,
      search100P95Ms: found,
      enrolP95Ms: enrol,
      asked: times.length,
      aSecond: Math.round((times.length / took) * 1_000),
      beside200P95Ms: p95(times),
    };
  } finally {
    await engine.stop();
    await web.stop();
    await world.close();
  }
}
