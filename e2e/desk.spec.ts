import { emailText, moveClock, open } from "./desk.ts";
import { expect, test } from "./world.ts";

test("the day line and Sending tell the same numbers, and the clock moves the world on", async ({ page }) => {
  const line = page.getByRole("contentinfo", { name: "The day" });
  // The clock runs: an email may go out between two looks.
  await expect(async () => {
    await page.goto("/sending");
    const numbers =
      (await line.getByText(/sent ·/).textContent())?.match(/(\d+) sent · (\d+) to go/)?.map(Number) ?? [];
    const sub = (await page.getByText(/sent today, \d+ to go/).textContent()) ?? "";
    expect(
      sub
        .match(/(\d+) emails? sent today, (\d+) to go/)
        ?.slice(1)
        .map(Number),
    ).toEqual(numbers.slice(1));
    expect(await line.locator("[data-tick=sent]").count()).toBe(numbers[1]);
  }).toPass();
  await moveClock(page, "Next event");
  await moveClock(page, "Next morning");
  await expect(page.getByTestId("clock")).toContainText("08:30");
});

test("every waiting journey says why, and an empty field is filled in from there", async ({ page }) => {
  await open(page, "/");
  await page
    .getByRole("button", { name: /ha(s|ve) no first name/ })
    .first()
    .click();
  await page.getByRole("link", { name: "Fill them in" }).click();
  await expect(page.getByText(/^Waits until you fill in the first name/).first()).toBeVisible();
  const heading = page.getByRole("heading", { level: 2, name: /a merge field is empty/ });
  const before = Number((await heading.textContent())?.match(/^\d+/)?.[0]);
  await page.locator('main a[href^="/prospects/"]').first().click();
  await page.getByRole("button", { name: "Edit" }).click();
  await page.getByLabel("First name").fill("Zulmira");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Zulmira");
  await expect
    .poll(
      async () => {
        await page.goto("/sending?reason=merge_field_empty");
        return Number((await heading.textContent())?.match(/^\d+/)?.[0]);
      },
      { timeout: 90_000 },
    )
    .toBe(before - 1);
});

test("a resting mailbox says until when and why", async ({ page }) => {
  await open(page, "/");
  await page
    .getByRole("button", { name: /@.* rests/ })
    .first()
    .click();
  await page.getByRole("link", { name: "See why" }).click();
  await expect(
    page.getByText(/It rests by itself until .*: \d+ of its last \d+ emails had bounced/),
  ).toBeVisible();
});

test("the keyboard goes anywhere", async ({ page }) => {
  await open(page, "/");
  await page.locator("body").press("g");
  await page.locator("body").press("r");
  await expect(page).toHaveURL(/\/replies/);
  await page.locator("body").press("?");
  await expect(page.getByRole("dialog")).toContainText("Go to Sequences");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+k");
  await page.keyboard.type("Reading ro");
  await page.getByRole("option", { name: /Reading rooms/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Reading rooms");
});

test("leaving a sequence with unsaved words asks first", async ({ page }) => {
  await open(page, "/sequences/1");
  await emailText(page).fill("Half a thought");
  await page.getByRole("link", { name: "Sending" }).click();
  await expect(page.getByRole("dialog")).toContainText("Leave without saving?");
  await page.getByRole("button", { name: "Stay here" }).click();
  await expect(emailText(page)).toHaveText("Half a thought");
});

test("the list of prospects is searched, filtered and paged in the address bar", async ({ page }) => {
  await open(page, "/prospects?stage=in_conversation");
  await expect(page.getByText("In conversation").nth(1)).toBeVisible();
  await open(page, "/prospects?page=2&sort=name&dir=asc");
  await expect(page.getByText(/^51–75 of \d+/)).toBeVisible();
  await page.getByLabel("Search prospects").fill("nobody-of-this-name");
  await page.getByLabel("Search prospects").press("Enter");
  await expect(page.getByText("Nobody matches.")).toBeVisible();
});

test("Today, Replies and a prospect's page fit a phone", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  for (const path of ["/", "/replies?show=people", "/prospects/1"])
    await test.step(path, async () => {
      await page.goto(path);
      await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
      expect
        .soft(await page.evaluate(() => document.documentElement.scrollWidth), path)
        .toBeLessThanOrEqual(390);
      const beyond = await page
        .getByRole("main")
        .evaluate((element) => element.scrollWidth - element.clientWidth);
      expect.soft(beyond, path).toBeLessThanOrEqual(0);
    });
});

test("every letter that is to be read fits a phone, with all that it leads on to", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await open(page, "/replies");
  const heading = (await page.getByRole("heading", { level: 1 }).textContent()) ?? "";
  const total = Number(heading.match(/^(\d+) repl/)?.[1]);
  expect(total).toBeGreaterThan(3);
  for (let nth = 1; nth <= total; nth++) {
    const beyond = await page
      .getByRole("main")
      .evaluate((element) => element.scrollWidth - element.clientWidth);
    expect.soft(beyond, page.url()).toBeLessThanOrEqual(0);
    const before = page.url();
    if (nth === total) break;
    await page.keyboard.press("j");
    await expect(page).not.toHaveURL(before);
  }
});
