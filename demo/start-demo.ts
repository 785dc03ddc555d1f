/** Starts a demo the same way as `npm run demo`: for the browser tests, and for the pictures of the views. */
import { spawn } from "node:child_process";
import { built } from "../server/processes.ts";
import type { Place } from "./copy-world.ts";

/** Resolves when the demo runs, or with `--only-make` when it has ended. Returns what stops it. */
export function startDemo(place: Place, option?: "--keep" | "--only-make"): Promise<() => Promise<void>> {
  const child = spawn(process.execPath, [built("demo/main.ts"), ...(option ? [option] : [])], {
    env: {
      ...process.env,
      SAUDADE_DEMO_FOLDER: place.folder,
      SAUDADE_PORT: new URL(place.url).port,
      SAUDADE_STANDIN_PORT: String(place.ports.http),
    },
    stdio: ["ignore", "pipe", "inherit"],
  });
  const gone = new Promise<number | null>((resolve) => child.once("exit", resolve));
  const stop = async () => {
    child.kill("SIGINT");
    await gone;
  };
  let said = "";
  return new Promise((resolve, reject) => {
    child.stdout.on("data", (chunk) => {
      said += String(chunk);
      if (said.includes("runs at")) resolve(stop);
    });
    void gone.then((code) =>
      code === 0 && option === "--only-make"
        ? resolve(stop)
        : reject(new Error(`The demo did not start:\n${said}`)),
    );
  });
}
