/** `test` for what happens in the demo: each file has a world of its own, a copy of the one that was made for all. */
import { rmSync } from "node:fs";
import { type BrowserContextOptions, test as base, request } from "@playwright/test";
import { copyWorld, type Place } from "../demo/copy-world.ts";
import { startDemo } from "../demo/start-demo.ts";
import { HERE, MADE } from "./addresses.ts";

export { expect } from "@playwright/test";

type Session = Exclude<BrowserContextOptions["storageState"], string | undefined>;

interface World extends Place {
  /** Marta's, as a browser keeps it. */
  session: Session;
}

export const test = base.extend<{ signedIn: boolean }, { world: World }>({
  // Each file is a project of its own (playwright.config.ts), and a worker serves one project only.
  world: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright reads from the pattern what a fixture needs
    async ({}, use) => {
      rmSync(HERE.folder, { recursive: true, force: true });
      await copyWorld(MADE, HERE);
      const stop = await startDemo(HERE, "--keep");
      const door = await request.newContext({ baseURL: HERE.url });
      await door.post("/sign-in", { form: { demo: "marta@quillwater.example" } });
      const session = await door.storageState();
      await door.dispose();
      await use({ ...HERE, session });
      await stop();
    },
    { scope: "worker", timeout: 240_000 },
  ],
  signedIn: [true, { option: true }],
  baseURL: ({ world }, use) => use(world.url),
  storageState: ({ world, signedIn }, use) => use(signedIn ? world.session : undefined),
});
