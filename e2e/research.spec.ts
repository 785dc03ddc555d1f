/**
 * From a list to a letter that begins with them: a column is tried on five, worked out for all, read, put right; a text says it;
 * and nothing of it leaves that nobody has read.
 */
import { emailText, inDemo, moveClock, open } from "./desk.ts";
import { expect, test } from "./world.ts";

const LIST = "Registrars, northern Europe";
const listId = () => inDemo<{ id: number }>(`SELECT id FROM lists WHERE name = '${LIST}'`)[0]?.id;

test("a column is tried on five, then worked out for the rest, and what was found says where it stands", async ({
  page,
}) => {
  await open(page, `/lists/${listId()}/research`);
  const columns = page.getByRole("list", { name: "Columns" });
  await columns.getByRole("button", { name: /^Logo/ }).click();
  await expect(columns.getByRole("button", { name: /^Logo/ })).toContainText("to look for");
  await page.getByRole("button", { name: "Try on five" }).click();
  await expect(page.getByRole("button", { name: /^Work out the other \d+ companies/ })).toBeEnabled({
    timeout: 120_000,
  });
  const five = inDemo<{ n: number }>(
    "SELECT count(*) AS n FROM column_values v JOIN columns c ON c.id = v.column_id WHERE c.code = 'logo'",
  );
  expect(five[0]?.n).toBe(5);
  await page.getByRole("button", { name: /^Work out the other/ }).click();
  await expect(page.getByRole("button", { name: "Look anew at all" })).toBeEnabled({ timeout: 120_000 });
  await expect(page.getByRole("button", { name: /^Work out/ })).toHaveCount(0);
  await page.getByRole("tab", { name: /^Found/ }).click();
  const logo = page.locator("main [data-row] img").first();
  await expect(logo).toBeVisible();
  // It was made anew here; no page of ours asks theirs for anything.
  expect(await logo.getAttribute("src")).toMatch(/^\/pictures\/[0-9a-f]{40}\.png$/);
  expect(await logo.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(20);

  // The list's table shows it to whoever asks for it.
  await open(page, `/prospects?list=${listId()}`);
  await page.getByRole("button", { name: "Columns" }).click();
  await page.getByRole("menuitemcheckbox", { name: "Recent news" }).click();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("columnheader", { name: "Recent news" })).toBeVisible();
  await expect(page.getByRole("gridcell", { name: /opens with \d+ pieces/ }).first()).toBeVisible();
});

test("a question of one's own is asked; a field that nobody has is refused where it stands, and nothing is lost", async ({
  page,
}) => {
  await open(page, `/lists/${listId()}/research`);
  await page.getByRole("button", { name: "Add a column" }).click();
  await page.getByRole("button", { name: "Make one of your own" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("What it is called").fill("Lends to");
  await dialog.getByLabel("The question").fill("To whom does {{ compny }} lend?");
  await dialog.getByRole("button", { name: "Make it" }).click();
  await expect(dialog).toContainText("Did you mean “company”?");
  await expect(dialog.getByLabel("What it is called")).toHaveValue("Lends to");
  await dialog
    .getByLabel("The question")
    .fill("Which other organisation does {{ company }} compare itself with?");
  await dialog.getByRole("button", { name: "Make it" }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole("heading", { level: 2, name: "Lends to" })).toBeVisible();
  await page.getByRole("button", { name: "Try on five" }).click();
  await expect(page.getByRole("button", { name: /^Work out the other/ })).toBeEnabled({ timeout: 120_000 });
  await page.getByRole("button", { name: "Delete", exact: true }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Delete it" }).click();
  await expect(page.getByRole("list", { name: "Columns" })).not.toContainText("Lends to");
});

test("an opening line is read, put right and sent; the unread ones wait, and say so", async ({ page }) => {
  await open(page, `/lists/${listId()}/research`);
  await page
    .getByRole("list", { name: "Columns" })
    .getByRole("button", { name: /^Opening line/ })
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(/lines on .* are unread/);
  // One that says more than its source is crossed out, with what is missing, and put right.
  const refused = page.locator("main [data-row]").filter({ hasText: "not believed" }).first();
  await expect(refused).toContainText("not stand in what was read");
  await refused.getByRole("button", { name: /^Change what is said of/ }).click();
  const field = page.getByRole("textbox", { name: /^What is said of/ });
  await field.fill("Your last loan made me write.");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await page.getByRole("tab", { name: /^Found/ }).click();
  await expect(
    page.locator("main [data-row]").filter({ hasText: "Your last loan made me write." }),
  ).toContainText("typed by Marta Quintela");

  // The text says it, as a chip.
  const { id: sequenceId } = inDemo<{ id: number }>(
    "SELECT id FROM sequences WHERE name = 'Autumn audits'",
  )[0] ?? { id: 0 };
  await open(page, `/sequences/${sequenceId}`);
  await emailText(page).press("Control+Home");
  await page.keyboard.type("{{ opening_line }}");
  await expect(emailText(page)).toContainText("opening line");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();

  await open(page, `/sequences/${sequenceId}/start`);
  const waits = page.getByText("have a line that nobody has read");
  await expect(waits).toBeVisible();
  await page.getByRole("link", { name: "Read them" }).click();
  await expect(page.getByRole("link", { name: "Everybody" })).toBeVisible();
  const people = page.getByRole("list", { name: "People" });
  const unread = await people.getByRole("button").count();
  expect(unread).toBeGreaterThan(5);
  const rests = page.getByRole("region", { name: "On what it rests" });
  await expect(rests).toContainText("nobody has read it");
  await expect(rests.getByRole("link")).toHaveAttribute("href", /^http:\/\/[a-z-]+\.example\//);
  // By its key, two of them; whoever is read goes from this list to those who can start.
  for (const left of [1, 2]) {
    await page.keyboard.press("r");
    await expect(people.getByRole("button")).toHaveCount(unread - left);
  }
  await open(page, `/sequences/${sequenceId}/start`);
  // The two, and whoever was put right before, if their address lets them.
  await page.getByRole("button", { name: /^Start for [123]$/ }).click();
  await expect(page.getByText(/^Started for/).first()).toBeVisible();

  await moveClock(page, "Next morning");
  const sent = inDemo<{ body: string; read: number }>(
    `SELECT t.body, coalesce(v.read_at, 0) AS read FROM touches t JOIN journeys j ON j.id = t.journey_id
       JOIN column_values v ON v.prospect_id = t.prospect_id AND v.code = 'opening_line'
     WHERE j.sequence_id = ${sequenceId} AND t.state = 'sent'`,
  );
  expect(sent.length).toBeGreaterThan(0);
  for (const { read } of sent) expect(read).toBeGreaterThan(0);
  const held = inDemo<{ n: number }>(
    `SELECT count(*) AS n FROM journeys WHERE sequence_id = ${sequenceId} AND wait_reason = 'line_unread'`,
  );
  expect(held[0]?.n).toBeGreaterThan(0);
  // Today says so, and where to read them.
  await open(page, "/");
  await expect(
    page.getByText(/have a line that nobody has read, so Autumn audits waits/).first(),
  ).toBeVisible();
});

test("a booking page is in its visitor's language, and in the one that they choose, to the end of it", async ({
  browser,
  world,
}) => {
  const [letter] = inDemo<{ body: string }>(
    `SELECT t.body FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN journeys j ON j.id = t.journey_id
     WHERE p.country = 'DE' AND t.body LIKE '%/book/%' AND t.state IN ('sent', 'claimed') ORDER BY t.id DESC LIMIT 1`,
  );
  const link = letter?.body.match(/\/book\/\S+/)?.[0] ?? "";
  expect(link).not.toBe("");
  const visitor = await (await browser.newContext({ baseURL: world.url, locale: "fr-FR" })).newPage();
  await open(visitor, link);
  await expect(visitor.locator("html")).toHaveAttribute("lang", "de");
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("Ein Gespräch mit Marta Quintela");
  await visitor.getByRole("link", { name: "English" }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("A call with Marta Quintela");
  await visitor.getByRole("link", { name: "Français" }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("Un appel avec Marta Quintela");
  // What is refused is said in it, too.
  await visitor.getByRole("radio").nth(30).check({ force: true });
  await visitor.getByRole("button", { name: /^Réserver/ }).click();
  await expect(visitor.getByText(/Saisissez le numéro auquel Marta/)).toBeVisible();
  await visitor.getByLabel("Votre numéro de téléphone").fill("+351 210 000 000");
  await visitor.getByRole("button", { name: /^Réserver/ }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("Réservé :");
  await visitor.getByRole("link", { name: "Déplacer" }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toHaveText("Déplacer l'appel");
  await visitor.close();
});
