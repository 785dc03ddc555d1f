/** `npm start`: the supervisor of the web server, the engine and the worker; one that dies is started again. */
import { openApp } from "./app.ts";
import { readConfig } from "./config.ts";
import { migrate } from "./db/open.ts";
import { AppError } from "./errors.ts";
import { log } from "./log.ts";
import { requireFreePort, type Started, startProcess } from "./processes.ts";

/** After each failure in a row the next try waits twice as long. */
const FIRST_REST = 1_000;
const LONGEST_REST = 60_000;
/** Whoever ran so long has recovered: the next failure is a first one again. */
const RECOVERED_AFTER = 60_000;

const running = new Map<string, Started>();
let stopping = false;

async function stop(code: number): Promise<void> {
  if (stopping) return;
  stopping = true;
  await Promise.all([...running.values()].map((each) => each.stop()));
  process.exit(code);
}
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => void stop(0));

/** Starts a process and, once it has started, starts it again for ever. Throws if it does not start. */
async function keepRunning(name: string, file: string, failures = 0): Promise<void> {
  const started = await startProcess(name, file, {});
  running.set(name, started);
  const began = Date.now();
  started.child.once("exit", (code) => {
    if (stopping) return;
    log.error({ process: name, code }, "ended; starting it again");
    restart(name, file, Date.now() - began > RECOVERED_AFTER ? 0 : failures + 1);
  });
}

function restart(name: string, file: string, failures: number): void {
  const rest = Math.min(LONGEST_REST, FIRST_REST * 2 ** failures);
  setTimeout(() => {
    if (stopping) return;
    keepRunning(name, file, failures).catch((error) => {
      log.error({ process: name, error: String(error) }, "did not start; trying again");
      restart(name, file, failures + 1);
    });
  }, rest);
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
  // Only the very first start gives up: somebody looks at it, and a mistake in the settings does not mend itself.
  process.stderr.write(`${error instanceof AppError ? error.message : String(error)}\n`);
  await stop(1);
}
