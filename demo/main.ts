/** `npm run demo`: makes the demo's world, starts everything around it, stops it all on Ctrl C. */
import { mkdirSync, rmSync } from "node:fs";
import { join } from "node:path";
import { openApp } from "../server/app.ts";
import { setDemoClock } from "../server/clock.ts";
import { projectRoot, readConfig } from "../server/config.ts";
import { migrate, sql } from "../server/db/open.ts";
import { AppError } from "../server/errors.ts";
import { requireFreePort, type Started, startProcess } from "../server/processes.ts";
import { makeWorld } from "./make-world.ts";
import { LISTED_DOMAIN, MAILBOXES, SENDING_DOMAINS } from "./scenario.ts";

const say = (words: string) => process.stdout.write(`${words}\n`);
const folder = process.env.SAUDADE_DEMO_FOLDER ?? join(projectRoot, "data/demo");
const host = process.env.SAUDADE_HOST ?? "127.0.0.1";
const port = Number(process.env.SAUDADE_PORT ?? 3000);
/** The stand-ins' ports: HTTP, SMTP, then one IMAP port for each mailbox, and those of the other stand-ins. */
const standinPort = Number(process.env.SAUDADE_STANDIN_PORT ?? 4200);
const ports = { http: standinPort, smtp: standinPort + 1, imap: standinPort + 2 };
const other = (nth: number) => ports.imap + MAILBOXES.length + nth;
const [exchanger, dns, directory, assistant, social, newImap] = [0, 1, 2, 3, 4, 5].map(other) as [
  number,
  number,
  number,
  number,
  number,
  number,
];

const env = {
  SAUDADE_DB: join(folder, "demo.db"),
  SAUDADE_HOST: host,
  SAUDADE_PORT: String(port),
  SAUDADE_DEMO: "1",
  SAUDADE_STANDIN: `http://127.0.0.1:${ports.http}`,
  SAUDADE_SOCIAL_STANDIN: `http://127.0.0.1:${social}`,
  SAUDADE_DNS: `127.0.0.1:${dns}`,
  SAUDADE_MX_PORT: String(exchanger),
  SAUDADE_DIRECTORY: `http://127.0.0.1:${directory}`,
  SAUDADE_ASSISTANT: `http://127.0.0.1:${assistant}`,
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

try {
  await requireFreePort(port, host, "SAUDADE_PORT");
  for (let each = ports.http; each <= newImap; each++)
    await requireFreePort(each, "127.0.0.1", "SAUDADE_STANDIN_PORT");

  const keep = process.argv.includes("--keep");
  if (!keep) rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const app = openApp(readConfig({ ...process.env, ...env }));
  migrate(app.db);
  const isNew = sql<[], unknown>(app.db, "SELECT 1 FROM users").get([]) === undefined;
  if (!isNew) {
    // Time stood still while nothing ran.
    const base = sql<[], { base: number }>(app.db, "SELECT base FROM demo_clock").get([])?.base;
    if (base) setDemoClock(app.db, base, true);
  }
  await Promise.all([
    start("mail stand-in", "standins/mail/main.ts", {
      STANDIN_STATE: join(folder, "standin.db"),
      STANDIN_HTTP_PORT: String(ports.http),
      STANDIN_SMTP_PORT: String(ports.smtp),
      STANDIN_EXCHANGER_PORT: String(exchanger),
    }),
    start("DNS stand-in", "standins/dns/main.ts", {
      DNS_PORT: String(dns),
      DNS_SENDERS: JSON.stringify(
        Object.fromEntries(SENDING_DOMAINS.map((domain) => [domain, { smtp: ports.smtp, imap: newImap }])),
      ),
      DNS_LISTED: LISTED_DOMAIN,
    }),
    start("social network", "standins/social/main.ts", {
      SOCIAL_PORT: String(social),
      SOCIAL_STATE: join(folder, "social.db"),
    }),
    start("directory", "standins/directory/main.ts", { DIRECTORY_PORT: String(directory) }),
    start("writing assistant", "standins/assistant/main.ts", { ASSISTANT_PORT: String(assistant) }),
    start("web server", "server/web/main.ts"),
  ]);
  if (isNew) {
    say("Three weeks of the demo's world pass, by the real engine on a simulated clock …");
    const began = Date.now();
    await makeWorld(app, { ...ports, newImap }, (words) => {
      if (process.stdout.isTTY) process.stdout.write(`\r  ${words}   `);
    });
    setDemoClock(app.db, app.clock.now(), true);
    if (process.stdout.isTTY) process.stdout.write("\r");
    say(`  done in ${Math.round((Date.now() - began) / 1000)} seconds`);
  }
  app.db.close();
  await start("engine", "server/engine/main.ts");
  await start("worker", "server/workers/main.ts");
  say(
    `\nSaudade's demo runs at http://${host}:${port}\nCtrl C stops it. The next start begins afresh; with --keep it goes on from here.`,
  );
} catch (error) {
  say(error instanceof AppError ? error.message : String(error instanceof Error ? error.stack : error));
  await stop(1);
}
