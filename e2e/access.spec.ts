import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { inDemo } from "./desk.ts";
import { expect, test } from "./world.ts";

// One page for all of them, which fetches the scripts once.
let page: Page;
test.beforeAll(async ({ browser, world }) => {
  page = await browser.newPage({ baseURL: world.url, storageState: world.session });
});
test.afterAll(() => page.close());

const PAGES = [
  "/",
  "/prospects",
  "/prospects/1",
  "/sequences",
  "/sequences/1",
  "/sequences/new",
  "/sequences/4/start",
  "/sequences/1/people",
  "/sequences/4/rehearsal",
  "/sequences/1/versions",
  "/pages",
  "/pages/1",
  "/sending",
  "/replies?show=people",
  "/results",
  "/results?show=senders",
  "/results?show=files&file=1",
  "/results/1",
  "/results/3?show=hours&beside=sequence 1",
  "/results/1/people?pick=answered",
  "/prospects/import",
  "/prospects/find",
  "/searches/1",
  "/prospects?list=5",
  "/lists/5/cleaning",
  "/lists/5/duplicates",
  "/lists/5/addresses",
  "/lists/4/research",
  "/lists/5/research",
  "/lists/5/form",
  "/block-list",
  "/sending/mailboxes/1",
  "/sending/mailboxes/new",
  "/sending/mailboxes/import",
  "/sending/domains",
  "/settings?show=sending",
  "/settings",
  "/undo",
];

const WIDTHS = [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
];

/** Looks at the page that is open as wide as a desk and a phone. */
async function canBeUsed(page: Page): Promise<void> {
  for (const viewport of WIDTHS) {
    await page.setViewportSize(viewport);
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    const { violations } = await new AxeBuilder({ page })
      // Without the second page that it opens for frames of other origins, of which there are none.
      .setLegacyMode()
      // What is in order is not described.
      .options({ resultTypes: ["violations"] })
      .analyze();
    const found = violations.map(
      ({ id, nodes }) =>
        `${viewport.width}: ${id}: ${nodes
          .map(({ html }) => html)
          .slice(0, 3)
          .join(" | ")}`,
    );
    expect(found).toEqual([]);
    // Nothing stands beside the page, where nobody looks for it.
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(
      viewport.width,
    );
  }
}

for (const path of PAGES)
  test(`${path} can be used by everybody, at a desk and on a phone, as far as a program can tell`, async () => {
    await page.setViewportSize(WIDTHS[0] as (typeof WIDTHS)[number]);
    await page.goto(path);
    await canBeUsed(page);
  });

test("a file that somebody was given can be used by everybody, as far as a program can tell", async () => {
  const [given] = inDemo<{ id: number }>("SELECT prospect_id AS id FROM file_looks");
  await page.goto(`/prospects/${given?.id}`);
  const files = page.getByRole("region", { name: "Files they were sent" });
  // In English, whatever its reader's language.
  await page.goto(`${await files.getByRole("link").first().getAttribute("href")}?lang=en`);
  await expect(page.getByRole("region", { name: "Page 1 of 4" })).toContainText("A lender's sheet");
  await canBeUsed(page);
});

test("keys go past the places to the page, and to what is beside it", async () => {
  await page.setViewportSize(WIDTHS[0] as (typeof WIDTHS)[number]);
  await page.goto("/prospects");
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await page.keyboard.press("Tab");
  await expect(page.getByRole("link", { name: "To the page" })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.locator("#page")).toBeFocused();
  await page.getByRole("complementary").focus();
  await expect(page.getByRole("complementary")).toBeFocused();
});

test("on a phone every place is in sight, with what waits there, and the search", async () => {
  await page.setViewportSize(WIDTHS[1] as (typeof WIDTHS)[number]);
  await page.goto("/");
  for (const name of ["Today", "Prospects", "Sequences", "Sending", "Results"])
    await expect(page.getByRole("link", { name, exact: true })).toBeInViewport({ ratio: 1 });
  await expect(
    page.getByRole("navigation", { name: "Places" }).getByRole("link", { name: /^Replies/ }),
  ).toBeInViewport({ ratio: 1 });
  await page.getByLabel("Find a prospect, company, sequence or mailbox").fill("loan season");
  await page
    .getByRole("option", { name: /Loan season/ })
    .first()
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Loan season");
});

/** Opens Today without its scripts, which come when `answer` is called. */
async function openWithoutScripts(): Promise<() => void> {
  let answer = () => {};
  const typed = new Promise<void>((resolve) => {
    answer = resolve;
  });
  await page.route(/entry\.client/, async (route) => {
    await typed;
    await route.continue();
  });
  await page.goto("/", { waitUntil: "commit" });
  return answer;
}

test("what is typed before the scripts have come is searched for once they are there", async () => {
  const answer = await openWithoutScripts();
  await page.getByLabel("Find a prospect, company, sequence or mailbox").fill("loan season");
  answer();
  await page
    .getByRole("option", { name: /Loan season/ })
    .first()
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Loan season");
  await page.unroute(/entry\.client/);
});

test("who went into the search before the scripts have come is heard when they type", async () => {
  const answer = await openWithoutScripts();
  const search = page.getByLabel("Find a prospect, company, sequence or mailbox");
  await search.focus();
  answer();
  await page.waitForFunction(() => "answers" in document.documentElement.dataset);
  await page.keyboard.type("loan season");
  await expect(search).toHaveValue("loan season");
  await expect(page.getByRole("option", { name: /Loan season/ }).first()).toBeVisible();
  await page.unroute(/entry\.client/);
});

test("at twice the size everything is still there, one below the other", async () => {
  // 1280 x 800 at 200 % has the room of half of both.
  await page.setViewportSize({ width: 640, height: 400 });
  for (const path of ["/", "/prospects", "/replies?show=people", "/sequences/1", "/results"]) {
    await page.goto(path);
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(640);
  }
});
