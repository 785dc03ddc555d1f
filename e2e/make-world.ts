/** Makes the demo's world once, for all files of browser tests: each works on a copy (world.ts). */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

export default async function makeWorld(): Promise<() => void> {
  const folder = mkdtempSync(join(tmpdir(), "saudade-e2e-"));
  // For the workers, which are processes of their own. Where the worlds are depends on it, so it is said first.
  process.env.SAUDADE_E2E_FOLDER = folder;
  const { MADE } = await import("./addresses.ts");
  const { startDemo } = await import("../demo/start-demo.ts");
  await startDemo(MADE, "--only-make");
  return () => rmSync(folder, { recursive: true, force: true });
}
