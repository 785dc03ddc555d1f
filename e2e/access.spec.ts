import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { SESSION_FILE } from "./addresses.ts";

// One page for all of them, which fetches the scripts once.
let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await browser.newPage({ storageState: SESSION_FILE });
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
  "/sending",
  "/replies?show=people",
  "/results",
  "/prospects/import",
  "/prospects/find",
  "/searches/1",
  "/prospects?list=5",
  "/lists/5/cleaning",
  "/lists/5/duplicates",
  "/lists/5/addresses",
  "/lists/5/form",
  "/block-list",
  "/sending/mailboxes/1",
  "/sending/mailboxes/new",
  "/sending/mailboxes/import",
  "/sending/domains",
  "/settings?show=sending",
  "/settings",
];

for (const path of PAGES)
  test(`${path} can be used by everybody (WCAG 2.2 AA, as far as a program can tell)`, async () => {
    await page.goto(path);
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    const { violations } = await new AxeBuilder({ page })
      .withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"])
      // Without the second page that it opens for frames of other origins, of which there are none.
      .setLegacyMode()
      .analyze();
    const found = violations.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .map(({ html }) => html)
          .slice(0, 3)
          .join(" | ")}`,
    );
    expect(found).toEqual([]);
  });
