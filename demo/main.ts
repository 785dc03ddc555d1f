/**
 * `npm run demo`: makes the demo's world, starts everything around it, stops it all on Ctrl C. `--keep` goes on with the
 * world that is there, `--only-make` ends when it is made. `--record-seasons` makes the seasons before it anew, which are
 * shipped (seasons.ts).
 */
import { spawn } from "node:child_process";
import { mkdirSync, rmSync } from "node:fs";
import { join } from "node:path";
import { type App, openApp } from "../server/app.ts";
import { setDemoClock } from "../server/clock.ts";
import { projectRoot, readConfig } from "../server/config.ts";
import { migrate, sql } from "../server/db/open.ts";
import { AppError } from "../server/errors.ts";
import { built, QUICK, requireFreePort, type Started, startProcess } from "../server/processes.ts";
import { traceOf } from "../server/trace.ts";
import { everyPort, portsFrom } from "./ports.ts";
import { LISTED_DOMAIN, SENDING_DOMAINS } from "./scenario.ts";

const say = (words: string) => process.stdout.write(`${words}\n`);
const folder = process.env.SAUDADE_DEMO_FOLDER ?? join(projectRoot, "data/demo");
const host = process.env.SAUDADE_HOST ?? "127.0.0.1";
const port = Number(process.env.SAUDADE_PORT ?? 3000);
const ports = portsFrom(Number(process.env.SAUDADE_STANDIN_PORT ?? 4200));

const env = {
  SAUDADE_DB: join(folder, "demo.db"),
  SAUDADE_HOST: host,
  SAUDADE_PORT: String(port),
  SAUDADE_DEMO: "1",
  SAUDADE_STANDIN: `http://127.0.0.1:${ports.http}`,
  SAUDADE_SOCIAL_STANDIN: `http://127.0.0.1:${ports.social}`,
  SAUDADE_CRM_STANDIN: `http://127.0.0.1:${ports.crm}`,
  SAUDADE_DNS: `127.0.0.1:${ports.dns}`,
  SAUDADE_MX_PORT: String(ports.exchanger),
  SAUDADE_DIRECTORY: `http://127.0.0.1:${ports.directory}`,
  SAUDADE_SITES_PORT: String(ports.sites),
  SAUDADE_ASSISTANT: `http://127.0.0.1:${ports.assistant}`,
  SAUDADE_TICK: "1",
  // The stand-in answers at once, so an email without a trace need not wait ten minutes.
  SAUDADE_SETTLE: "5",
};

const running: Started[] = [];
let stopping = false;
async function stop(code: number): Promise<never> {
  if (stopping) return new Promise(() => {});
  stopping = true;
  await Promise.all(running.toReversed().map((each) => each.stop()));
  process.exit(code);
}
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => void stop(0));

/** Starts a process that the demo cannot do without. */
async function start(name: string, file: string, extra: Record<string, string> = {}): Promise<void> {
  const started = await startProcess(name, file, { ...env, ...extra });
  running.push(started);
  started.child.once("exit", (code) => {
    if (stopping) return;
    say(`The ${name} ended (code ${code}), so the demo stops. Start it again with: npm run demo -- --keep`);
    void stop(1);
  });
}

/** Makes the world in a process that ends with it: three weeks leave much in memory that nobody needs afterwards. */
function makeApart(): Promise<void> {
  const child = spawn(process.execPath, [...QUICK, built("demo/main.ts"), "--only-make", "--keep"], {
    env: process.env,
    stdio: ["ignore", "inherit", "inherit"],
  });
  const ended = new Promise<number | null>((resolve) => child.once("exit", resolve));
  const making: Started = {
    child,
    async stop() {
      child.kill("SIGTERM");
      await ended;
    },
  };
  running.push(making);
  return ended.then((code) => {
    running.splice(running.indexOf(making), 1);
    // What went wrong, it has said.
    if (code !== 0 && !stopping) return stop(1);
  });
}

/** Three weeks by the real engine, so its modules are loaded only where a world is made. */
async function fill(app: App): Promise<void> {
  const { makeWorld } = await import("./make-world.ts");
  say("Three weeks of the demo's world pass, by the real engine on a simulated clock …");
  const began = Date.now();
  await makeWorld(app, ports, (words) => {
    if (process.stdout.isTTY) process.stdout.write(`\r  ${words}   `);
  });
  setDemoClock(app.db, app.clock.now(), true);
  if (process.stdout.isTTY) process.stdout.write("\r");
  say(`  done in ${Math.round((Date.now() - began) / 1000)} seconds`);
}

async function record(app: App): Promise<void> {
  const [{ setUpTeam, martaOf }, { recordSeasons, SEASON_LIMIT, SEASONS_BEGIN }, { packSeasons }] =
    await Promise.all([import("./make-world.ts"), import("./seasons.ts"), import("./seasons-file.ts")]);
  const { users, mailboxIds } = await setUpTeam(app, ports, Date.parse(SEASONS_BEGIN), SEASON_LIMIT);
  await recordSeasons(app, martaOf(users), mailboxIds, (words) => say(`  ${words}`));
  const { bytes } = packSeasons(app.db, join(folder, "seasons.db"));
  say(`  recorded: ${Math.round(bytes / 1024)} kB`);
}

try {
  await requireFreePort(port, host, "SAUDADE_PORT");
  for (const each of everyPort(ports)) await requireFreePort(each, "127.0.0.1", "SAUDADE_STANDIN_PORT");

  const wants = (option: string) => process.argv.includes(option);
  if (!wants("--keep")) rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  let app = openApp(readConfig({ ...process.env, ...env }));
  migrate(app.db);
  const isEmpty = () => sql(app.db, "SELECT 1 FROM users").get<unknown>([]) === undefined;
  if (isEmpty() && !wants("--only-make") && !wants("--record-seasons")) {
    app.db.close();
    await makeApart();
    app = openApp(readConfig({ ...process.env, ...env }));
  }
  const isNew = isEmpty();
  const records = wants("--record-seasons");
  if (isNew && !records && process.env.SAUDADE_DEMO_SEASONS !== "off") {
    app.db.close();
    const { unpackSeasons } = await import("./seasons-file.ts");
    unpackSeasons(env.SAUDADE_DB);
    app = openApp(readConfig({ ...process.env, ...env }));
    migrate(app.db);
  }
  if (!isNew) {
    // Time stood still while nothing ran.
    const base = sql(app.db, "SELECT base FROM demo_clock").get<{ base: number }>([])?.base;
    if (base) setDemoClock(app.db, base, true);
  }
  await Promise.all([
    start("stand-ins", "standins/main.ts", {
      STANDIN_STATE: join(folder, "standin.db"),
      STANDIN_HTTP_PORT: String(ports.http),
      STANDIN_SMTP_PORT: String(ports.smtp),
      STANDIN_EXCHANGER_PORT: String(ports.exchanger),
      DNS_PORT: String(ports.dns),
      DNS_SENDERS: JSON.stringify(
        Object.fromEntries(
          SENDING_DOMAINS.map((domain) => [domain, { smtp: ports.smtp, imap: ports.newImap }]),
        ),
      ),
      DNS_LISTED: LISTED_DOMAIN,
      SOCIAL_PORT: String(ports.social),
      SOCIAL_STATE: join(folder, "social.db"),
      DIRECTORY_PORT: String(ports.directory),
      ASSISTANT_PORT: String(ports.assistant),
      RECEIVER_PORT: String(ports.receiver),
      CRM_PORT: String(ports.crm),
      SITES_PORT: String(ports.sites),
      CRM_STATE: join(folder, "crm.db"),
    }),
    start("web server", "server/web/main.ts"),
  ]);
  if (isNew) await (records ? record(app) : fill(app));
  app.db.close();
  if (wants("--only-make") || records) await stop(0);
  await Promise.all([start("engine", "server/engine/main.ts"), start("worker", "server/workers/main.ts")]);
  say(
    `\nSaudade's demo runs at http://${host}:${port}\nCtrl C stops it. The next start begins afresh; with --keep it goes on from here.`,
  );
} catch (error) {
  // What fails while everything ends has no news in it.
  if (!stopping) say(error instanceof AppError ? error.message : traceOf(error));
  await stop(1);
}
