import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { type AddressInfo, createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { built } from "../server/processes.ts";

const PORT = 3980;
let folder: string;
let child: ChildProcess | undefined;

function start(env: Record<string, string> = {}): { child: ChildProcess; said: () => string } {
  let said = "";
  const started = spawn(process.execPath, [built("server/main.ts")], {
    env: {
      ...process.env,
      SAUDADE_DB: join(folder, "saudade.db"),
      SAUDADE_PORT: String(PORT),
      SAUDADE_TICK: "1",
      ...env,
    },
    stdio: ["ignore", "pipe", "pipe"],
  });
  for (const stream of [started.stdout, started.stderr])
    stream.on("data", (chunk) => (said += String(chunk)));
  return { child: started, said: () => said };
}
const ended = (process: ChildProcess) =>
  new Promise<number | null>((resolve) => process.once("exit", (code) => resolve(code)));

test.beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "saudade-first-"));
});
test.afterAll(async () => {
  if (child && child.exitCode === null) {
    const gone = ended(child);
    child.kill("SIGTERM");
    await gone;
  }
  rmSync(folder, { recursive: true, force: true });
});

test("a new installation makes its first user, says what to do first, and is whole again after kill -9", async ({
  page,
  request,
}) => {
  const first = start();
  child = first.child;
  await expect.poll(first.said, { timeout: 180_000 }).toContain("runs at");
  await page.goto(`http://127.0.0.1:${PORT}/`);
  await expect(page).toHaveURL(/first-run/);
  await page.getByLabel("Your name").fill("Inês Prado");
  await page.getByLabel("Email address").fill("ines@oficina.example");
  await page.getByLabel("Password").fill("short");
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.getByText("At least 10 characters.")).toBeVisible();
  await expect(page.getByLabel("Your name")).toHaveValue("Inês Prado");
  await page.getByLabel("Password").fill("long enough now");
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Inês");
  await expect(page.getByRole("link", { name: "Add a mailbox" })).toBeVisible();
  for (const [path, words] of [
    ["/prospects", "Begin with a list"],
    ["/sequences", "Write the first one"],
    ["/sending", "Add the mailbox you write from"],
    ["/replies", "Nobody has written back yet"],
    ["/results", "No sequence has been started"],
  ] as const) {
    await page.goto(`http://127.0.0.1:${PORT}${path}`);
    await expect(page.getByText(words)).toBeVisible();
  }
  await expect
    .poll(async () => (await request.get(`http://127.0.0.1:${PORT}/healthz`)).status(), { timeout: 60_000 })
    .toBe(200);

  const gone = ended(child);
  child.kill("SIGKILL");
  await gone;
  const second = start();
  child = second.child;
  await expect.poll(second.said, { timeout: 180_000 }).toContain("runs at");
  await page.goto(`http://127.0.0.1:${PORT}/`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Inês");
});

test("a taken port is named, with what to do", async () => {
  const other = createServer().listen(0, "127.0.0.1");
  await once(other, "listening");
  const { port } = other.address() as AddressInfo;
  const refused = start({ SAUDADE_PORT: String(port) });
  expect(await ended(refused.child)).toBe(1);
  other.close();
  expect(refused.said()).toContain(`Port ${port}`);
  expect(refused.said()).toContain("SAUDADE_PORT=");
});
