import { spawn } from "node:child_process";
import { once } from "node:events";
import { expect, it } from "vitest";
import { projectRoot } from "./config.ts";

/** A process that is ready once it is told so, and ends by itself only after half a minute. */
const CHILD = `
  const { sayReady } = await import("./server/processes.ts");
  process.stdin.once("data", () => { sayReady(); console.log("said"); });
  console.log("here");
  setTimeout(() => process.exit(3), 30_000);`;

it.each([
  ["before it was ready", true],
  ["afterwards", false],
])("a process ends quietly with whoever started it, gone %s", async (_, isGoneFirst) => {
  const child = spawn(process.execPath, ["--import", "tsx", "--input-type=module", "-e", CHILD], {
    cwd: projectRoot,
    stdio: ["pipe", "pipe", "pipe", "ipc"],
  });
  let said = "";
  child.stderr?.on("data", (chunk) => {
    said += chunk;
  });
  const ended = once(child, "exit");
  await once(child.stdout as NonNullable<typeof child.stdout>, "data");
  if (isGoneFirst) child.disconnect();
  const ready = isGoneFirst ? null : once(child, "message");
  child.stdin?.write("now\n");
  if (ready) {
    expect(await ready).toEqual(["ready", undefined]);
    child.disconnect();
  }
  expect(await ended).toEqual([0, null]);
  expect(said).toBe("");
});
