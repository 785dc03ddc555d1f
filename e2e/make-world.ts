/** Makes the demo's world once, for all files of browser tests: each works on a copy (world.ts). */
import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

export default async function makeWorld(): Promise<() => void> {
  // For the workers, which are processes of their own. Where the worlds are depends on it, so it is said first.
  process.env.SAUDADE_E2E_FOLDER ??= mkdtempSync(join(tmpdir(), "saudade-e2e-"));
  const { MADE } = await import("./addresses.ts");
  const { startDemo } = await import("../demo/start-demo.ts");
  // Without the seasons before, which no file needs: each copies this world.
  process.env.SAUDADE_DEMO_SEASONS = "off";
  // `npm test` has it made while others are tested.
  if (!existsSync(MADE.folder)) await startDemo(MADE, "--only-make");
  return () => rmSync(process.env.SAUDADE_E2E_FOLDER as string, { recursive: true, force: true });
}
