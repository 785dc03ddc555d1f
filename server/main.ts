/** `npm start`: the web server, the engine and the worker under one supervisor. */
import { openApp } from "./app.ts";
import { readConfig } from "./config.ts";
import { migrate } from "./db/open.ts";
import { AppError } from "./errors.ts";
import { requireFreePort } from "./processes.ts";
import { Supervisor } from "./supervisor.ts";

const supervisor = new Supervisor();
let ending = false;

async function end(code: number): Promise<void> {
  if (ending) return;
  ending = true;
  await supervisor.stop();
  process.exit(code);
}
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => void end(0));

try {
  const config = readConfig();
  await requireFreePort(config.port, config.host, "SAUDADE_PORT");
  const app = openApp(config);
  migrate(app.db);
  app.db.close();
  await Promise.all([
    supervisor.keep("web server", "server/web/main.ts"),
    supervisor.keep("engine", "server/engine/main.ts"),
    supervisor.keep("worker", "server/workers/main.ts"),
  ]);
  process.stdout.write(
    `Saudade runs at ${config.url}\nIts database is ${config.database}. Ctrl C stops it.\n`,
  );
} catch (error) {
  process.stderr.write(`${error instanceof AppError ? error.message : String(error)}\n`);
  await end(1);
}
