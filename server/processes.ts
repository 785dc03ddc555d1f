/** Starts and stops the processes that make up a running Saudade. */
import { type ChildProcess, spawn } from "node:child_process";
import { createServer } from "node:net";
import { join } from "node:path";
import { projectRoot } from "./config.ts";
import { AppError } from "./errors.ts";

export interface Started {
  child: ChildProcess;
  stop(): Promise<void>;
}

/** A busy machine takes long to start six processes at once. */
const START_PATIENCE = 180_000;
const STOP_PATIENCE = 8_000;

/**
 * Where the build has put a program: a process or a thread, named by its source (`PROGRAMS` in vite.config.ts). They are
 * started from the build only, by the program and by its tests: nothing is compiled while somebody waits.
 */
export const built = (source: string): string =>
  join(projectRoot, "build/server", source.replace(/\.ts$/, ".js"));

/** Memory rather than speed: half as much in an import of 100,000 rows, which takes as long. */
export const SPARING = ["--optimize-for-size"];
/** Where somebody waits: what is sparing costs a page twice the time. What a page leaves behind goes in few sweeps. */
export const QUICK = ["--max-semi-space-size=4"];
const QUICK_ONES = ["server/web/main.ts", "server/engine/main.ts"];

/** Starts a program as a process of its own and waits until it says that it is ready. */
export function startProcess(name: string, file: string, env: Record<string, string>): Promise<Started> {
  const child = spawn(process.execPath, [...(QUICK_ONES.includes(file) ? QUICK : SPARING), built(file)], {
    cwd: projectRoot,
    env: { ...process.env, NODE_ENV: "production", ...env },
    stdio: ["ignore", "inherit", "inherit", "ipc"],
  });
  const exited = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  const stop = async () => {
    if (child.exitCode !== null || child.signalCode !== null) return;
    child.kill("SIGTERM");
    const late = setTimeout(() => child.kill("SIGKILL"), STOP_PATIENCE);
    await exited;
    clearTimeout(late);
  };
  return new Promise((resolve, reject) => {
    const tooLate = setTimeout(() => {
      child.kill("SIGKILL");
      reject(new Error(`${name} did not start within three minutes.`));
    }, START_PATIENCE);
    child.once("message", () => {
      clearTimeout(tooLate);
      resolve({ child, stop });
    });
    child.once("exit", (code) => {
      clearTimeout(tooLate);
      reject(new Error(`${name} ended while starting (code ${code}).`));
    });
  });
}

/** Says to whoever started this process that it is ready. It ends with them, also where they have gone already. */
export function sayReady(): void {
  const end = () => process.exit(0);
  process.on("disconnect", end);
  process.send?.("ready", undefined, undefined, (error) => error && end());
}

/** Throws `port_taken` if something listens on the port already. */
export async function requireFreePort(port: number, host: string, setting: string): Promise<void> {
  if (!(await isPortFree(port, host)))
    throw new AppError(
      "port_taken",
      `Port ${port} on ${host} is busy. Choose another with ${setting}=… and start again.`,
    );
}

export function isPortFree(port: number, host = "127.0.0.1"): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(false));
    probe.listen(port, host, () => probe.close(() => resolve(true)));
  });
}
