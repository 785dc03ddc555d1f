/** `npm start`: the supervisor of the web server, the engine and the worker; one that dies is started again. */
import { openApp } from "./app.ts";
import { readConfig } from "./config.ts";
import { migrate } from "./db/open.ts";
import { AppError } from "./errors.ts";
import { log } from "./log.ts";
import { requireFreePort, type Started, startProcess } from "./processes.ts";

/** A process that dies at once again and again has a reason that a restart does not mend. */
const REST_BEFORE_RESTART = 2_000;

const running = new Map<string, Started>();
let stopping = false;

async function stop(code: number): Promise<void> {
  if (stopping) return;
  stopping = true;
  await Promise.all([...running.values()].map((each) => each.stop()));
  process.exit(code);
}
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => void stop(0));

async function keepRunning(name: string, file: string): Promise<void> {
  const started = await startProcess(name, file, {});
  running.set(name, started);
  started.child.once("exit", (code) => {
    if (stopping) return;
    log.error({ process: name, code }, "ended; starting it again");
    setTimeout(() => {
      if (!stopping) keepRunning(name, file).catch((error) => void fail(error));
    }, REST_BEFORE_RESTART);
  });
}

async function fail(error: unknown): Promise<void> {
  process.stderr.write(`${error instanceof AppError ? error.message : String(error)}\n`);
  await stop(1);
}

try {
  const config = readConfig();
  await requireFreePort(config.port, config.host, "SAUDADE_PORT");
  const app = openApp(config);
  migrate(app.db);
  app.db.close();
  await keepRunning("web server", "server/web/main.ts");
  await keepRunning("engine", "server/engine/main.ts");
  await keepRunning("worker", "server/workers/main.ts");
  process.stdout.write(
    `Saudade runs at ${config.url}\nIts database is ${config.database}. Ctrl C stops it.\n`,
  );
} catch (error) {
  await fail(error);
}
