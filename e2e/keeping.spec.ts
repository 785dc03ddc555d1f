/** What happens to lists and people once they are there: renamed, deleted, blocked, erased, gone through by keyboard. */
import { addressOf, choose, csvFile, importList, open } from "./desk.ts";
import { expect, test } from "./world.ts";

test("a list is renamed, its people stay when it is deleted, and it comes back", async ({ page }) => {
  await importList(
    page,
    "Lamp houses",
    "email,first name\nilda@lampara.example,Ilda\nnoel@lampara.example,Noel\n",
  );
  await open(page, "/prospects?q=lampara");
  await page.getByRole("link", { name: "Ilda" }).click();
  await page.getByRole("link", { name: "Lamp houses" }).first().click();
  await page.getByRole("button", { name: "Rename or delete" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByText("2 people stay with all that is known of them")).toBeVisible();
  await dialog.getByLabel("Its name").fill("Cards from the fair");
  await dialog.getByRole("button", { name: "Rename" }).click();
  await expect(dialog.getByText("Another list has this name already.")).toBeVisible();
  await dialog.getByLabel("Its name").fill("Lantern houses");
  await dialog.getByRole("button", { name: "Rename" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Lantern houses");
  await page.getByRole("button", { name: "Rename or delete" }).click();
  await dialog.getByRole("button", { name: "Delete the list" }).click();
  await expect(page).toHaveURL(/\/prospects\?deleted=/);
  await page.getByRole("alert").getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("alert")).toContainText("Taken back.");
  await open(page, "/prospects?q=lampara");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 people match");
  await page.getByRole("link", { name: "Ilda" }).click();
  await expect(page.getByRole("link", { name: "Lantern houses" }).first()).toBeVisible();
});

test("people come from a vCard, and whoever is erased does not come again", async ({ page }) => {
  const card = [
    "BEGIN:VCARD",
    "VERSION:4.0",
    "FN:Zélia Faria",
    "N:Faria;Zélia;;;",
    "EMAIL:zelia@nora-velha.example",
    "ORG:Nora Velha",
    "TITLE:Curator",
    "ADR:;;;Évora;;;Portugal",
    "END:VCARD",
    "",
  ].join("\r\n");
  const bring = async () => {
    await open(page, "/prospects/import");
    await page
      .getByLabel("CSV or vCard file")
      .setInputFiles({ name: "zelia.vcf", mimeType: "text/vcard", buffer: Buffer.from(card) });
    await page.getByLabel("Name of the list").fill("Cards by hand");
    await page.getByRole("button", { name: "Look through 1 row" }).click();
  };
  await bring();
  await page.getByRole("button", { name: "Import 1 person" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("1 new person on the list");

  await open(page, "/prospects?q=zelia%20faria");
  await page.getByRole("link", { name: "Zélia Faria" }).click();
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("Portugal");
  const data = await page.request.get(`${await addressOf(page)}/data`);
  expect(await data.json()).toMatchObject({ person: [{ email: "zelia@nora-velha.example", country: "PT" }] });
  await page.getByRole("button", { name: "Their data" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "Erase them for good" }).click();
  await expect(dialog.getByLabel(/^Type “Zélia Faria”/)).toHaveAttribute("aria-invalid", "true");
  await dialog.getByLabel(/^Type “Zélia Faria”/).fill("Zélia Faria");
  await dialog.getByRole("button", { name: "Erase them for good" }).click();
  await expect(page).toHaveURL(/\/prospects$/);
  await bring();
  await expect(page.getByText("this person was erased and asked not to be kept again")).toBeVisible();
});

test("a search that takes too long is ended, and what it found stays", async ({ page }) => {
  await open(page, "/prospects/find");
  await choose(page, page.getByLabel(/saved profile/), "A new one");
  await page.getByLabel("Its name").fill("Everybody anywhere");
  await page.getByRole("button", { name: "Search the directory" }).click();
  await expect(
    page.getByRole("heading", { level: 1, name: /^[1-9].* “Everybody anywhere” so far$/ }),
  ).toBeVisible();
  await page.getByRole("button", { name: "End it" }).click();
  await expect(page.getByText(/^Searching the directory was ended after \d+ of \d+ pages/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/was ended after/)).toBeVisible();
  await expect(page.getByRole("checkbox", { name: /^Choose / }).first()).toBeVisible();
});

test("blocks come from a CSV file, seen before they are made", async ({ page }) => {
  await open(page, "/block-list");
  await page
    .getByLabel("CSV file of addresses and domains")
    .setInputFiles(
      csvFile("blocks.csv", "address,why\nnever@grota.example,asked\ngrota-velha.example,\nno entry,\n"),
    );
  await expect(page.getByLabel("Addresses and domains, one in each line")).toHaveValue(
    /never@grota\.example/,
  );
  await page.getByRole("button", { name: "See what changes" }).click();
  await page.getByRole("button", { name: "Block 2 entries" }).click();
  await expect(page.getByText("2 entries added.")).toBeVisible();
  await page.getByLabel("Search the block list").fill("grota");
  await page.getByLabel("Search the block list").press("Enter");
  await expect(page.getByRole("listitem").filter({ hasText: "grota-velha.example" })).toBeVisible();
});

test("a page waits out an outage of the server, and what was typed on it is sent once", async ({
  page,
  context,
}) => {
  await open(page, "/prospects?q=brandt");
  await page.getByRole("grid").getByRole("link").first().click();
  const note = page.getByLabel("What your teammates should know");
  await note.fill("Prefers letters in the morning");
  await context.setOffline(true);
  await expect(page.getByText("No connection. Waiting …")).toBeVisible();
  await page.getByRole("button", { name: "Note it" }).click();
  await expect(note).toHaveValue("Prefers letters in the morning");
  await context.setOffline(false);
  await expect(
    page.getByRole("region", { name: "Notes" }).getByText("Prefers letters in the morning"),
  ).toHaveCount(1);
  await expect(note).toHaveValue("");
  await expect(page.getByText("No connection. Waiting …")).toHaveCount(0);
});

test("J and K go through the table, and Enter opens", async ({ page }) => {
  await open(page, "/prospects?sort=name&dir=asc");
  const links = page.getByRole("grid").locator('a[href^="/prospects/"]');
  await page.locator("body").press("j");
  await expect(links.first()).toBeFocused();
  await page.keyboard.press("j");
  await expect(links.nth(1)).toBeFocused();
  await page.keyboard.press("k");
  const name = (await links.first().textContent()) ?? "";
  await expect(page.getByRole("complementary")).toContainText(name);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText(name);
});
