/** What a press did is taken back with another: companies, blocks, stops. People, lists and imports are in lists.spec and keeping.spec. */
import type { Page } from "@playwright/test";
import {
  addressOf,
  chooseForSequence,
  emailText,
  importList,
  open,
  saveAndStart,
  signIn,
  writeSequence,
} from "./desk.ts";
import { expect, test } from "./world.ts";

test.use({ signedIn: false });

const MAILBOX = "marta@quillwater-loans.example";

const takeBack = async (page: Page) => {
  await page.getByRole("alert").getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Taken back.")).toBeVisible();
};

test.beforeEach(async ({ page }) => {
  await signIn(page, "Helga Lund");
});

test("companies of many spellings are one question, and parted again after they were merged", async ({
  page,
}) => {
  await importList(
    page,
    "Kiln houses",
    [
      "email,first name,company",
      "una@kiln-one.example,Una,Kiln House Ltd",
      "duo@kiln-two.example,Duo,KILN HOUSE",
      "trea@kiln-three.example,Trea,The Kiln House",
    ].join("\n"),
  );
  await page.getByRole("link", { name: /^See/ }).last().click();
  await page
    .getByRole("navigation", { name: "This list" })
    .getByRole("link", { name: /^Duplicates/ })
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("2 pairs");
  const card = page.locator("[data-row]").filter({ hasText: "kiln-two.example" });
  await expect(card).toHaveCount(1);
  await expect(card).toContainText("3 web domains");
  await expect(card.getByRole("button", { name: "All are different" })).toBeVisible();
  // Another tab, which hears of nothing by itself.
  const late = await page.context().newPage();
  await late.route("**/live", (route) => route.abort());
  await open(late, await addressOf(page));
  await card.getByRole("button", { name: /^Keep/ }).first().click();
  await expect(card.or(page.getByText(/became one with Kiln House/)).first()).toBeVisible();
  await expect(page.getByText(/became one with Kiln House/)).toBeVisible();
  await late.getByRole("button", { name: /^Keep/ }).last().click();
  await expect(late.getByText("Decided elsewhere.")).toBeVisible();
  await expect(late.getByText(/became one/)).toHaveCount(0);
  await late.close();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Taken back.")).toBeVisible();
  await open(page, "/undo");
  await expect(page.getByText(/became one company with Kiln House/)).toHaveCount(0);
});

test("whoever was blocked by mistake is not, after one press", async ({ page }) => {
  await importList(page, "Lime houses", "email,first name\nlia@lime-house.example,Lia\n");
  await open(page, "/prospects?q=lime-house");
  await page.getByRole("row", { name: /Lia/ }).getByRole("checkbox").check();
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("menuitem", { name: /^Block/ }).click();
  await expect(page.getByRole("alert")).toContainText("1 person put on the block list.");
  await takeBack(page);
  await open(page, "/block-list?q=lime-house");
  await expect(page.getByText("lia@lime-house.example")).toHaveCount(0);
});

test("whose follow-ups were stopped by mistake goes on where they were", async ({ page }) => {
  await importList(
    page,
    "Moss houses",
    "email,first name,time zone\nmia@moss-house.example,Mia,America/Lima\n",
  );
  await writeSequence(page, "Moss");
  await page.getByLabel("Subject").fill("One question");
  await emailText(page).fill("Dear {{ first_name }}, is it damp?");
  await chooseForSequence(page, "Moss houses", [MAILBOX]);
  await saveAndStart(page, 1);
  await open(page, "/prospects?q=moss-house");
  await page.getByRole("grid").getByRole("link", { name: "Mia" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Mia is on Moss");
  await page.getByRole("button", { name: /^Stop for them/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("left Moss");
  await takeBack(page);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Mia is on Moss");
});

test("an import is taken back, but for somebody with a history, about whom one is asked", async ({
  page,
}) => {
  await importList(
    page,
    "Peat houses",
    "email,first name\nnoa@peat-house.example,Noa\nora@peat-house.example,Ora\n",
  );
  const theImport = await addressOf(page);
  await open(page, "/prospects?q=noa@peat-house");
  await page.getByRole("grid").getByRole("link", { name: "Noa" }).click();
  const notes = page.getByRole("region", { name: "Notes" });
  await notes.getByRole("textbox").fill("Met in the old kiln.");
  await notes.getByRole("button", { name: "Note it" }).click();
  await expect(notes.getByText("Met in the old kiln.", { exact: true })).toBeVisible();
  await open(page, theImport);
  await page.getByRole("button", { name: "Take the import back" }).click();
  const asked = page.getByRole("dialog", { name: "Some of them have a history" });
  await expect(asked).toContainText("1 person has been written to, replied or been noted down");
  await asked.getByRole("button", { name: "Leave it as it is" }).click();
  await expect(asked).toBeHidden();
  await page.getByRole("button", { name: "Take the import back" }).click();
  await asked.getByRole("button", { name: "Take it back" }).click();
  // While it is asked, what lies behind it is hidden anyway.
  await expect(asked).toBeHidden();
  await expect(page.getByRole("button", { name: "Take the import back" })).toBeHidden();
  await open(page, "/prospects?q=peat-house");
  await expect(page.getByRole("grid").getByRole("link", { name: "Noa" })).toBeVisible();
  await expect(page.getByRole("grid").getByRole("link", { name: "Ora" })).toHaveCount(0);
});
