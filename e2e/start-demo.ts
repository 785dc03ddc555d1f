/** Starts a fresh demo for the browser tests, the same way as `npm run demo`, and stops it after them. */
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { request } from "@playwright/test";
import { DEMO_PORT, DEMO_URL, SESSION_FILE, STANDIN_PORT } from "./addresses.ts";

export default async function startDemo(): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), "saudade-e2e-"));
  // For the tests, which run in processes of their own (`inDemo`).
  process.env.SAUDADE_DEMO_FOLDER = folder;
  const child = spawn(process.execPath, ["--import", "tsx", "demo/main.ts"], {
    env: {
      ...process.env,
      SAUDADE_PORT: String(DEMO_PORT),
      SAUDADE_STANDIN_PORT: String(STANDIN_PORT),
    },
    stdio: ["ignore", "pipe", "inherit"],
  });
  let said = "";
  await new Promise<void>((resolve, reject) => {
    child.stdout.on("data", (chunk) => {
      said += String(chunk);
      if (said.includes("runs at")) resolve();
    });
    child.once("exit", () => reject(new Error(`The demo did not start:\n${said}`)));
  });
  const door = await request.newContext({ baseURL: DEMO_URL });
  await door.post("/sign-in", { form: { demo: "marta@quillwater.example" } });
  await door.storageState({ path: SESSION_FILE });
  await door.dispose();
  return async () => {
    const gone = new Promise((resolve) => child.once("exit", resolve));
    child.kill("SIGINT");
    await gone;
    rmSync(folder, { recursive: true, force: true });
  };
}
