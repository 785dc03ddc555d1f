/**
 * `npm run screenshots`: takes the pictures of docs/screenshots from a fresh demo, or from one that runs at SAUDADE_AT,
 * and tells how much each page shifted while it was loading (https://web.dev/articles/cls); fails above the limit.
 */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, type Page } from "@playwright/test";
import { projectRoot } from "../server/config.ts";
import { CHROMIUM } from "./chromium.ts";
import { portsFrom } from "./ports.ts";
import { startDemo } from "./start-demo.ts";

/** Nothing jumps: below what an eye notices. */
const MOST_SHIFT = 0.02;

const VIEWS: { name: string; path: string; prepare?: (page: Page) => Promise<unknown> }[] = [
  { name: "today", path: "/" },
  {
    name: "prospects",
    path: "/prospects?list=7",
    prepare: (page) => page.getByRole("row").nth(3).getByRole("gridcell").nth(2).click(),
  },
  { name: "find", path: "/prospects/find" },
  { name: "cleaning", path: "/lists/7/cleaning?rule=legal_form" },
  { name: "research", path: "/lists/6/research" },
  { name: "import", path: "/prospects/import", prepare: chooseFile },
  { name: "sequences", path: "/sequences" },
  {
    name: "sequence",
    path: "/sequences/3",
    prepare: (page) => page.getByRole("button", { name: /^One thing left out/ }).click(),
  },
  { name: "start", path: "/sequences/6/start", prepare: chooseReady },
  {
    name: "rehearsal",
    path: "/sequences/6/rehearsal",
    prepare: (page) => page.getByRole("slider", { name: "Day" }).waitFor(),
  },
  {
    name: "email",
    path: "/emails/new?to=1540",
    prepare: async (page) => {
      await page.getByLabel("It leaves").fill("Monday 8:00 my time");
      await page.getByText(/where they are/).waitFor();
      await page.getByLabel("Subject").first().fill("The sheet that a lender gets");
      await page.getByRole("button", { name: "Add a follow-up" }).click();
    },
  },
  { name: "sending", path: "/sending" },
  {
    name: "page",
    path: "/pages/1",
    prepare: async (page) => {
      await page.getByLabel("As", { exact: true }).selectOption({ index: 40 });
      await page.getByRole("button", { name: "Wide" }).click();
      await page.getByRole("img", { name: /as we see it/ }).waitFor();
    },
  },
  { name: "replies", path: "/replies" },
  { name: "prospect", path: "/replies?show=people", prepare: openStopped },
  { name: "results", path: "/results/2" },
  { name: "results-all", path: "/results?show=senders" },
  {
    name: "rules",
    path: "/connections/rules/new?from=2",
    prepare: async (page) => {
      await page.getByLabel("Rui Abrantes").check();
      await page.getByText(/would have acted/).waitFor();
    },
  },
  { name: "settings", path: "/settings?show=booking" },
];

async function chooseFile(page: Page): Promise<void> {
  const csv =
    "Given name,Surname,Work email,Organisation,Town,Land\nILSE,BRANDT,ilse@kai.example,Kaimuseum Nord GmbH,Hamburg,Germany\nDr. Owain,Pryce,owain@slate.example,The Slate Coast Archive Ltd,Bangor,UK\nFrieda,Harms,frieda.harms@elbmarsch.example,Stadtarchiv,Altona,DE\n,Tietz,broken,Kaimuseum Nord,Hamburg,DE\n";
  await page
    .getByLabel("CSV or vCard file")
    .setInputFiles({ name: "northern-museums.csv", mimeType: "text/csv", buffer: Buffer.from(csv) });
  await page.getByRole("button", { name: "Look through 4 rows" }).click();
  await page.getByRole("button", { name: "Import 3 people" }).waitFor();
}

async function chooseReady(page: Page): Promise<void> {
  await page.goto(`${page.url()}?standing=ready`);
  await page.getByTestId("preview").waitFor();
}

async function openStopped(page: Page): Promise<void> {
  await page.getByRole("navigation", { name: "Replies" }).getByRole("button").nth(5).click();
  await page.waitForURL(/reply=/);
  await page.locator('main a[href^="/prospects/"]').first().click();
  await page.getByRole("heading", { name: "Conversation" }).waitFor();
}

async function freshDemo(): Promise<{ url: string; stop: () => Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), "saudade-pictures-"));
  const place = { folder, url: "http://127.0.0.1:3950", ports: portsFrom(4850) };
  const stop = await startDemo(place);
  return {
    url: place.url,
    stop: async () => {
      await stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

const only = process.argv.slice(2);
const target = process.env.SAUDADE_PICTURES ?? join(projectRoot, "docs/screenshots");
const demo = process.env.SAUDADE_AT
  ? { url: process.env.SAUDADE_AT, stop: async () => {} }
  : await freshDemo();
const browser = await chromium.launch(CHROMIUM);
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, timezoneId: "Europe/Lisbon" });
  page.on("console", (message) => message.type() === "error" && console.error(message.text()));
  await page.addInitScript(() => {
    const seen = window as unknown as { shifted: number };
    seen.shifted = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & {
        value: number;
        hadRecentInput: boolean;
      })[])
        if (!entry.hadRecentInput) seen.shifted += entry.value;
    }).observe({ type: "layout-shift", buffered: true });
  });
  await page.goto(`${demo.url}/sign-in`);
  await page.getByRole("button", { name: "Open the demo as Marta" }).click();
  await page.getByTestId("clock").waitFor();
  for (const { name, path, prepare } of VIEWS) {
    if (only.length > 0 && !only.includes(name)) continue;
    await page.goto(demo.url + path);
    await page.waitForTimeout(900);
    const shift = await page.evaluate(() => (window as unknown as { shifted: number }).shifted);
    console.log(`${name}: ${shift.toFixed(3)} shifted`);
    if (shift > MOST_SHIFT) process.exitCode = 1;
    await prepare?.(page);
    await page.waitForTimeout(500); // lets transitions end; a picture, not a test
    await page.screenshot({ path: join(target, `${name}.png`) });
  }
} finally {
  await browser.close();
  await demo.stop();
}
