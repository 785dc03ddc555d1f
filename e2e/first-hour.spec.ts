/** The first hour of a stranger: an empty installation, a mailbox, a list of 300 messy rows, a sequence, the first email. */
import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page, test } from "@playwright/test";
import { built, type Started, startProcess } from "../server/processes.ts";
import { freePort } from "../server/tests/free-port.ts";
import { type Standin, startStandin } from "../server/tests/world.ts";
import { addressOf, choose, csvFile, emailText, open, typeMoment } from "./desk.ts";
import { BROKEN, messyList, ROWS } from "./messy-list.ts";

const ADDRESS = "ines@oficina-house.example";
const PASSWORD = "a drawer of brass keys";

let folder: string;
let server: ChildProcess;
let standin: Standin;
let dns: Started;
let imapPort: number;
let url: string;
let said = "";

test.beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "saudade-hour-"));
  standin = await startStandin();
  imapPort = await freePort();
  await standin.tell("/clock", { now: Date.now(), runs: true });
  await standin.tell("/mailboxes", { address: ADDRESS, password: PASSWORD, imapPort });
  const dnsPort = await freePort();
  dns = await startProcess("DNS stand-in", "standins/dns/main.ts", {
    DNS_PORT: String(dnsPort),
    DNS_SENDERS: JSON.stringify({ "oficina-house.example": { smtp: standin.smtpPort, imap: imapPort } }),
  });
  const port = await freePort();
  url = `http://127.0.0.1:${port}`;
  server = spawn(process.execPath, [built("server/main.ts")], {
    env: {
      ...process.env,
      SAUDADE_DB: join(folder, "saudade.db"),
      SAUDADE_PORT: String(port),
      SAUDADE_URL: "https://outreach.oficina-house.example",
      SAUDADE_DNS: `127.0.0.1:${dnsPort}`,
      SAUDADE_TICK: "1",
      SAUDADE_BACKUPS: "off",
    },
    stdio: ["ignore", "pipe", "pipe"],
  });
  for (const stream of [server.stdout, server.stderr]) stream?.on("data", (chunk) => (said += String(chunk)));
});
test.afterAll(async () => {
  if (server.exitCode === null) {
    const gone = new Promise((resolve) => server.once("exit", resolve));
    server.kill("SIGTERM");
    await gone;
  }
  await dns.stop();
  await standin.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** What a stranger presses on the way; more would be a labyrinth. */
const MOST_PRESSES = 60;

const presses = (page: Page) => page.evaluate(() => Number(localStorage.getItem("presses") ?? 0));

test("leads from nothing to the first email, with a next step on every page", async ({ browser }) => {
  await expect.poll(() => said, { timeout: 180_000 }).toContain("runs at");
  const context = await browser.newContext({ baseURL: url });
  const page = await context.newPage();
  await page.addInitScript(() =>
    addEventListener(
      "click",
      (event) => {
        // A label's click comes a second time, from what it belongs to.
        if (event.detail > 0)
          localStorage.setItem("presses", String(Number(localStorage.getItem("presses") ?? 0) + 1));
      },
      true,
    ),
  );
  const heading = page.getByRole("heading", { level: 1 });

  await test.step("who begins", async () => {
    await page.goto("/");
    await page.getByLabel("Your name").fill("Inês Prado");
    await page.getByLabel("Email address").fill("ines@oficina-house.example");
    await page.getByLabel("Password").fill("long enough now");
    await page.getByRole("button", { name: "Begin" }).click();
    await expect(heading).toContainText("Four steps to your first email");
  });

  await test.step("the mailbox", async () => {
    await page.getByRole("link", { name: "Add a mailbox" }).click();
    await page.getByLabel("Email address").fill(ADDRESS);
    await page.getByLabel("Password").first().fill(PASSWORD);
    // The servers are found by the domain's own records.
    await page.getByRole("button", { name: "Check and add" }).click();
    await expect(page).not.toHaveURL(/mailboxes\/new/);
  });

  await test.step("the list: what is wrong with it is said kind by kind, and the rest comes", async () => {
    // It counts as done once the mailbox has been read.
    await expect(async () => {
      await open(page, "/");
      await expect(heading).toContainText("Three steps to your first email", { timeout: 1_000 });
    }).toPass({ timeout: 60_000 });
    await page.getByRole("link", { name: "Import a file" }).click();
    await page.getByLabel("CSV or vCard file").setInputFiles(csvFile("fair.csv", messyList()));
    await expect(page.getByRole("combobox", { name: "Function is" })).toHaveText("Job title");
    await page.getByRole("button", { name: `Look through ${ROWS - BROKEN} rows` }).click();
    await expect(page.getByText(`${BROKEN} rows cannot be read`)).toBeVisible();
    await expect(page.getByText("12 rows hold several addresses")).toBeVisible();
    await expect(page.getByText("12 rows have no address")).toBeVisible();
    await expect(page.getByText("12 rows have more cells than columns")).toBeVisible();
    await expect(page.getByText("12 rows are shorter than the columns")).toBeVisible();
    const [file] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("link", { name: "Download them to correct" }).click(),
    ]);
    expect(file.suggestedFilename()).toBe("left-out.csv");
    await page.getByRole("button", { name: /^Import \d+ people/ }).click();
    await expect(heading).toContainText(/^\d+ new people on the list/);
    await page.getByRole("link", { name: "See what was cleaned" }).click();
    await expect(heading).toContainText(/were cleaned/);
  });

  await test.step("from station to station, each with the next", async () => {
    // Verification goes on meanwhile, so which station is next can change from one moment to the other.
    const next = page.getByRole("link", { name: /^(Decide|Find|Check) \d+|^Write to these/ }).first();
    for (let stations = 0; stations < 4 && !(await addressOf(page)).includes("/sequences/new"); stations++) {
      const before = await addressOf(page);
      // The address changes a moment before the page does, whose link led here.
      await expect(next).not.toHaveAttribute("href", new URL(before).pathname);
      await next.click();
      await expect.poll(() => addressOf(page)).not.toBe(before);
    }
    await expect(heading).toHaveText("How shall it begin?");
  });

  await test.step("the sequence", async () => {
    await page.getByRole("button", { name: "Begin with an empty page" }).click();
    await page.getByLabel("Subject").fill('Your stores in {{ city | default: "your town" }}');
    await emailText(page).fill("Hello, may I ask how you keep your records of humidity?");
    await page.getByRole("tab", { name: "Who, when, from where" }).click();
    await page.getByRole("checkbox", { name: new RegExp(ADDRESS) }).check();
    // No mail server is asked about anybody, so addresses are likely at best; and it may be night.
    await choose(page, page.getByLabel("Writes to addresses that are"), "good, likely or doubtful");
    for (const day of ["Sat", "Sun"]) await page.getByRole("button", { name: day, exact: true }).click();
    await typeMoment(page, "from", "0000");
    await typeMoment(page, "until", "2359");
    await choose(page, page.getByLabel("Days and hours count"), /^in /);
    await page.getByRole("button", { name: /^Save/ }).click();
    await page.getByRole("link", { name: /^Check and start \d+/ }).click();
    await page.getByRole("button", { name: /^Start for/ }).click();
    await page
      .getByRole("dialog")
      .getByRole("button", { name: /^Start for/ })
      .click();
    await expect(heading).toContainText(/^Started for \d+ prospects/);
  });

  await test.step("the first email is at a server, and Today is about the day", async () => {
    await expect
      .poll(async () => ((await standin.tell("/deliveries")) as unknown[]).length, { timeout: 240_000 })
      .toBeGreaterThan(0);
    await open(page, "/");
    await expect(page.getByText("steps to the first email")).toHaveCount(0);
    const pressed = await presses(page);
    test.info().annotations.push({ type: "presses", description: String(pressed) });
    expect(pressed).toBeLessThanOrEqual(MOST_PRESSES);
  });
  await context.close();
});
