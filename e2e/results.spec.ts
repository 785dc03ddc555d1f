/** The questions of a Monday morning, answered in Results without a calculator. */

import type { Page } from "@playwright/test";
import { open } from "./desk.ts";
import { expect, test } from "./world.ts";

/** The figures of a table's row, by its first cell. */
const row = (page: Page, table: string, name: string | RegExp) =>
  page
    .getByRole("group", { name: table })
    .getByRole("row")
    .filter({ has: page.getByRole("cell", { name }) });
const numbersOf = (text: string) => text.match(/\d+/g)?.map(Number) ?? [];

/** The lines of the table that the page's download gives, the names of its columns first. */
async function linesOfFile(page: Page): Promise<string[]> {
  const [loaded] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Download", exact: true }).click(),
  ]);
  let file = "";
  for await (const chunk of await loaded.createReadStream()) file += String(chunk);
  return file.trim().split(/\r?\n/);
}

/** The steps of the drawing, as they are read out, with the numbers that open people. */
const drawn = (page: Page, name: string) =>
  page.getByRole("list", { name: new RegExp(`What came of ${name}`) });

test("which sequence: each with its shares of those reached, and as many in all as the heading says", async ({
  page,
}) => {
  await open(page, "/results");
  const [liked = 0, reached = 0] = numbersOf(
    (await page.getByRole("heading", { level: 1 }).textContent()) ?? "",
  );
  const sums = { liked: 0, reached: 0 };
  for (const name of ["Loan season", "Reading rooms", "Conservators abroad"]) {
    const cells = await row(page, "Sequences", name).getByRole("cell").allTextContents();
    sums.reached += numbersOf(cells[2] ?? "")[0] ?? 0;
    sums.liked += numbersOf(cells[4] ?? "")[0] ?? 0;
  }
  expect(sums).toEqual({ liked, reached });
  expect(reached).toBeGreaterThan(300);
  await page.getByRole("combobox", { name: "Green counts" }).selectOption({ label: "an answer" });
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/reached answered$/);
  await page.getByRole("tab", { name: "Senders" }).click();
  await expect(row(page, "Senders", /m\.quintela@quillwater-loans/)).toContainText("%");
  await page.getByRole("tab", { name: "Week by week" }).click();
  await expect(row(page, "Week by week", "1 Jun")).toContainText("%");
});

test("which step: every number of the drawing opens as many people as it says", async ({ page }) => {
  await open(page, "/results");
  await page.getByRole("link", { name: "Conservators abroad" }).first().click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/want to talk/);
  const opening = drawn(page, "Conservators abroad").getByRole("listitem").first();
  await expect(opening).toContainText("Opening");
  for (const says of [/came to it$/, /left after it$/]) {
    const link = opening.getByRole("link", { name: says });
    const [many] = numbersOf((await link.textContent()) ?? "");
    await link.click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText(new RegExp(`^${many} (people|person)`));
    expect(await linesOfFile(page)).toHaveLength(1 + (many ?? 0));
    await page.goBack();
    await expect(opening.getByRole("link").first()).toBeVisible();
  }
  const cell = row(page, "Steps", "Opening").getByRole("link");
  expect(numbersOf((await cell.first().textContent()) ?? "")).toEqual(
    numbersOf((await opening.getByRole("link", { name: /came to it$/ }).textContent()) ?? ""),
  );
});

test("whom it is about: a filter stands in the address and narrows every number", async ({ page }) => {
  await open(page, "/results/3");
  const all = numbersOf((await page.getByRole("heading", { level: 1 }).textContent()) ?? "");
  await page.getByRole("button", { name: "More filters" }).click();
  await page.getByRole("combobox", { name: "Country" }).selectOption({ index: 1 });
  await expect(page).toHaveURL(/country=[A-Z]{2}/);
  await expect
    .poll(async () => numbersOf((await page.getByRole("heading", { level: 1 }).textContent()) ?? "")[1])
    .toBeLessThan(all[1] ?? 0);
  await page.reload();
  await expect(page.getByRole("combobox", { name: "Country" })).not.toHaveValue("");
});

test("which wording, who, when, how long: each question has its table, and the file says the same", async ({
  page,
}) => {
  await open(page, "/results/1");
  await page.getByRole("tab", { name: "Wordings" }).click();
  await expect(page.getByRole("heading", { level: 2, name: /^Opening: / })).toBeVisible();
  await expect(row(page, "Wordings of Opening", /^B/)).toContainText("in 1,000");
  await page.getByRole("tab", { name: "Hours" }).click();
  await expect(
    page
      .getByRole("img", { name: /By weekday and hour/ })
      .locator(".main-svg")
      .first(),
  ).toBeVisible();
  await expect(page.getByRole("group", { name: "Times" }).getByRole("row").nth(1)).toBeVisible();
  await page.getByRole("tab", { name: "How long" }).click();
  await expect(row(page, "How long to go on", /^1$/)).toContainText("±");
  await page.getByRole("tab", { name: "Who answers" }).click();
  const first = page.getByRole("group", { name: "Who answers" }).getByRole("row").nth(1).getByRole("cell");
  await expect(first.nth(1)).toHaveText(/^\d+$/);
  const cells = await first.allTextContents();
  const [head, line] = await linesOfFile(page);
  expect(head).toMatch(/attribute,value,reached,brought/);
  expect(line).toContain(`,${numbersOf(cells[1] ?? "")[0]},${numbersOf(cells[2] ?? "")[0]},`);
});

test("what to change: a finding is set aside and comes back; a proposal opens as a change that is not saved", async ({
  page,
}) => {
  await open(page, "/results/1");
  const finding = page.getByRole("article").first();
  await expect(finding).toContainText("Opening");
  await finding.getByRole("button", { name: "Not again here" }).click();
  await expect(page.getByText("Nothing yet that could not be chance")).toBeVisible();
  await page.getByRole("button", { name: /^Say 1 finding again/ }).click();
  await expect(finding).toContainText("Opening");

  await open(page, "/sequences/1?end_after=1");
  const steps = page.getByRole("list", { name: "Steps of the sequence" });
  await expect(steps.getByRole("button", { name: /^Opening/ })).toBeVisible();
  await expect(steps.getByRole("button", { name: /^Close the file/ })).toBeHidden();
  await page.getByRole("button", { name: "Undo (Ctrl Z)" }).click();
  await expect(steps.getByRole("button", { name: /^Close the file/ })).toBeVisible();
});

test("two beside each other: the same drawing twice, and how sure the difference is", async ({ page }) => {
  await open(page, "/results/3");
  await page.getByRole("combobox", { name: "Set beside another" }).selectOption({ label: "Loan season" });
  await expect(drawn(page, "Conservators abroad")).toBeVisible();
  await expect(drawn(page, "Loan season")).toBeVisible();
  await expect(row(page, "Differences", "Answered")).toContainText(
    /Conservators abroad, in \d+ of 100\s*yes/,
  );
});

test("what to aim at: a target stands beside what is booked, and a look that was kept opens again", async ({
  page,
}) => {
  await open(page, "/results?show=weeks");
  const week = page.getByRole("region", { name: "Calls booked this week" });
  const mine = week.getByRole("listitem").filter({ hasText: "Marta Quintela" });
  await mine.getByRole("button", { name: "Set a target for Marta Quintela" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("spinbutton", { name: "Calls to be booked in a week" }).fill("0");
  await dialog.getByRole("button", { name: "Set it" }).click();
  await expect(dialog.getByText("At least one; leave it empty for none.")).toBeVisible();
  await dialog.getByRole("spinbutton", { name: "Calls to be booked in a week" }).fill("4");
  await dialog.getByRole("button", { name: "Set it" }).click();
  await expect(dialog).toBeHidden();
  await expect(mine).toContainText(/^Marta Quintela\d of 4/);

  await open(page, "/results/3?country=US");
  await page.getByRole("button", { name: "Keep this look" }).click();
  await dialog.getByRole("textbox", { name: "Name of the look as it is now" }).fill("Across the ocean");
  await dialog.getByRole("button", { name: "Keep this look" }).click();
  await expect(dialog).toBeHidden();
  await open(page, "/results");
  await page.getByRole("button", { name: "Looks (1)" }).click();
  await dialog.getByRole("link", { name: "Across the ocean" }).click();
  await expect(page).toHaveURL(/\/results\/3\?country=US$/);
  await expect(page.getByRole("combobox", { name: "Country" })).toHaveValue("US");
});

test("what to write: what worked stands in the piece's own list, with of how many", async ({ page }) => {
  await open(page, "/sequences/3");
  await expect(
    page.getByText(/^\d+ of \d+ wants? to talk \(likely \d+–\d+ %\), \d+ answered$/),
  ).toBeVisible();
  await page.getByRole("button", { name: "Pieces" }).click();
  const before = page.getByRole("dialog").getByRole("region", { name: "Written before" });
  const lines = before.getByText(/want to talk \(likely/);
  await expect(lines.nth(2)).toBeVisible();
  const least = (await lines.allTextContents()).map((each) => Number(/likely (\d+)/.exec(each)?.[1]));
  expect(least).toEqual(least.toSorted((a, b) => b - a));
});
