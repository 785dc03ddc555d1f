/**
 * A page for each prospect: made with a film that is recorded here, sent with a moving picture, looked at by somebody who was
 * written to; what they do there ends what was planned, and Today and their story say why.
 */
import type { Browser, Page } from "@playwright/test";
import { CHROMIUM } from "../demo/chromium.ts";
import { emailText, inDemo, moveClock, open } from "./desk.ts";
import { expect, test } from "./world.ts";

// A camera that shows a moving picture, and a browser that lets pages use it.
test.use({
  launchOptions: {
    ...CHROMIUM,
    args: [...CHROMIUM.args, "--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream"],
  },
});

const idOf = (sequence: string) =>
  inDemo<{ id: number }>(`SELECT id FROM sequences WHERE name = '${sequence}'`)[0]?.id ?? 0;
const pageId = () => inDemo<{ id: number }>("SELECT id FROM page_templates ORDER BY id")[0]?.id ?? 0;

/** Somebody outside, with a browser that says it is a person's. */
async function outside(browser: Browser, baseURL: string, more: object = {}): Promise<Page> {
  const context = await browser.newContext({
    ...{ baseURL, viewport: { width: 390, height: 844 }, locale: "en-GB" },
    // Nobody who is signed in here.
    storageState: { cookies: [], origins: [] },
    userAgent:
      "Mozilla/5.0 (Linux; Android 16; Pixel) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0 Mobile Safari/537.36",
    ...more,
  });
  return context.newPage();
}

test("a page is made: a film is recorded, blocks are moved by keys, and what is missing for whom comes first", async ({
  page,
}) => {
  await open(page, "/pages");
  await page.getByRole("button", { name: "New page" }).click();
  await page.getByRole("dialog").getByLabel("Its name").fill("For the autumn");
  await page.getByRole("button", { name: "Make it" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "For the autumn" })).toBeVisible();
  const look = page.getByRole("complementary", { name: "The page as somebody sees it" });
  await expect(look).toContainText("Film: the film is missing. It is left out");

  await page.getByRole("button", { name: "Record or choose a file" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "Record with the camera" }).click();
  await expect(dialog.getByRole("timer")).toHaveText(/^0:0[2-9]/);
  await dialog.getByRole("button", { name: "Stop" }).click();
  await dialog.getByRole("button", { name: "Use it" }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByLabel("The film", { exact: true })).toContainText(/Recorded .* \(0:0\d\)/);
  await expect(look.getByText("Film: the film is missing. It is left out.", { exact: true })).toHaveCount(0);

  // What no browser plays is said, and nothing is lost by it.
  await page.getByRole("button", { name: "Record or choose a file" }).click();
  await dialog
    .getByLabel("Film")
    .setInputFiles({ name: "film.mp4", mimeType: "video/mp4", buffer: Buffer.from("This is none.") });
  await expect(dialog.getByRole("alert")).toContainText("No browser plays this file");
  await dialog.getByRole("button", { name: "Close" }).click();

  const blocks = page.getByRole("list", { name: "Blocks of the page" }).getByRole("heading", { level: 2 });
  await expect(blocks).toHaveText([
    "Film",
    "Greeting",
    "Their company",
    "Words",
    "Files",
    "Times for a call",
  ]);
  await page.getByRole("button", { name: "Move Words" }).focus();
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("ArrowUp");
  await expect(blocks).toHaveText([
    "Film",
    "Words",
    "Greeting",
    "Their company",
    "Files",
    "Times for a call",
  ]);
  // Somebody else's name, as it will be read.
  await page.getByLabel("What it says").first().fill("Good morning {{ frist_name }}");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Did you mean “first_name”?")).toBeVisible();
  await page.getByLabel("What it says").first().fill("Good morning {{ first_name }}, this is **for you**.");
  // Who has no first name does not get it; the next has one.
  await expect(
    look.getByText("Words: first name is missing. It is left out.", { exact: true }),
  ).toBeVisible();
  await page.getByLabel("As", { exact: true }).selectOption({ index: 1 });
  await expect(look.getByText(/^Good morning [A-ZÅÄÖ]/)).toBeVisible();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("button", { name: "Saved" })).toBeVisible();
  // Colours that nobody could read are refused where they are chosen.
  await page.getByLabel("Buttons and links").fill("#ffee00");
  await expect(page.getByText(/Links and buttons would be hard to read/)).toBeVisible();
});

test("the moving picture leads somebody to their page; they watch, choose a time, and everything stops", async ({
  page,
  browser,
  world,
}) => {
  const sequence = idOf("On film");
  await open(page, `/sequences/${sequence}/start`);
  await page.getByRole("button", { name: /^Start for \d+$/ }).click();
  await expect(page.getByText(/^Started for/).first()).toBeVisible();
  // Whoever writes has seen the picture before: it is drawn for them at once.
  const seen = page.locator("main img[src*='/picture.gif']").first();
  await expect
    .poll(() => seen.evaluate((img: HTMLImageElement) => [img.naturalWidth, img.naturalHeight]))
    .toEqual([600, 338]);
  await moveClock(page, "Next morning");
  const [letter] = inDemo<{ body: string; prospectId: number; at: number }>(
    `SELECT t.body, t.prospect_id AS prospectId FROM touches t JOIN journeys j ON j.id = t.journey_id JOIN prospects p ON p.id = t.prospect_id
     WHERE j.sequence_id = ${sequence} AND t.state = 'sent' AND j.state = 'active' AND p.stage = 'contacted'
       AND NOT EXISTS (SELECT 1 FROM replies r WHERE r.prospect_id = p.id)
     ORDER BY t.id LIMIT 1`,
  );
  const link = letter?.body.match(/\/for\/[\w.-]+/)?.[0] ?? "";
  expect(link).not.toBe("");
  const person = `/prospects/${letter?.prospectId}`;
  // It was drawn before the email left.
  const picture = inDemo<{ picture: string | null }>(
    `SELECT picture FROM pages WHERE prospect_id = ${letter?.prospectId}`,
  );
  expect(picture[0]?.picture).toMatch(/\.gif$/);

  const visitor = await outside(browser, world.url);
  const gif = await visitor.request.get(`${link}/picture.gif`);
  expect(gif.headers()["content-type"]).toBe("image/gif");
  expect(gif.headers()["cross-origin-resource-policy"]).toBe("cross-origin");
  expect((await gif.body()).length).toBeLessThan(800 * 1024);
  await open(visitor, link);
  await expect(visitor.getByRole("heading", { level: 1 })).toBeVisible();
  expect(await visitor.locator('meta[name="robots"]').getAttribute("content")).toContain("noindex");
  // The film answers in ranges, as players ask for it.
  const part = await visitor.request.get(`${link}/film`, { headers: { range: "bytes=100-199" } });
  expect(part.status()).toBe(206);
  expect((await part.body()).length).toBe(100);
  await visitor.getByRole("button", { name: /Play the film|Film abspielen/ }).click();
  await expect
    .poll(
      () =>
        inDemo(
          `SELECT 1 FROM events WHERE prospect_id = ${letter?.prospectId} AND kind = 'film_watched' AND detail = '50'`,
        ).length,
      { timeout: 90_000 },
    )
    .toBe(1);

  // Whoever wrote is told of them while they watch, and sees what follows from it.
  await open(page, "/");
  // The sequence asked for half of the film: the call has come up, with what they did.
  await expect(page.getByRole("button", { name: /^Ring .* Ring them · On film .* your film/ })).toBeVisible();
  await open(page, person);
  await expect(page.getByRole("region", { name: "Their page" })).toContainText(
    /watched (half|three quarters) of the film|watched the film to its end/,
  );
  await expect(page.getByRole("region", { name: "What happened" })).toContainText("Watched half of the film");

  await visitor.getByRole("radio").first().check({ force: true });
  await visitor.locator('input[name="phone"]').fill("+47 22 33 44 55");
  await visitor.getByRole("button", { name: /Book this time|Diese Zeit buchen/ }).click();
  await expect(visitor).toHaveURL(/\/booked\//);
  await visitor.context().close();
  await open(page, person);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("booked a call");
  await expect(page.getByText(/Everything stopped on .* because they booked a call/)).toBeVisible();
  const happened = page.getByRole("region", { name: "What happened" });
  await expect(happened).toContainText("Began to choose a time");
  await expect(happened).toContainText("Booked a call");
});

test("a page works without scripts, in its reader's language, and says nothing once its person is erased", async ({
  page,
  browser,
  world,
}) => {
  const [german] = inDemo<{ id: number; name: string }>(
    "SELECT id, trim(first_name || ' ' || last_name) AS name FROM prospects WHERE country = 'DE' AND live = 1 AND first_name != '' AND last_name != '' ORDER BY id",
  );
  await open(page, `/prospects/${german?.id}`);
  const link = await page
    .getByRole("region", { name: "Their page" })
    .getByRole("link", { name: "A minute on film" })
    .getAttribute("href");
  const visitor = await outside(browser, world.url, { javaScriptEnabled: false });
  await visitor.goto(link ?? "");
  await expect(visitor.locator("html")).toHaveAttribute("lang", "de");
  await expect(visitor.getByRole("heading", { level: 1 })).toHaveText(`Für ${german?.name}`);
  await expect(visitor.locator("video")).toHaveAttribute("controls", "");
  await visitor.getByText("Stattdessen lesen").click();
  await expect(visitor.getByText("This is the sheet that a lender gets")).toBeVisible();
  await visitor.getByRole("link", { name: "English" }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toHaveText(`For ${german?.name}`);

  await open(page, `/prospects/${german?.id}`);
  await page.getByRole("button", { name: "Their data" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("textbox").fill(german?.name ?? "");
  await dialog.getByRole("button", { name: /^Erase/ }).click();
  await expect(page).toHaveURL(/\/prospects$/);
  const answer = await visitor.goto(link ?? "");
  expect(answer?.status()).toBe(404);
  await expect(visitor.locator("body")).not.toContainText(german?.name ?? "nobody");
  await visitor.context().close();
});

test("a film for one person takes two presses", async ({ page }) => {
  const [somebody] = inDemo<{ id: number }>(
    "SELECT prospect_id AS id FROM events WHERE kind = 'page_visited' ORDER BY id",
  );
  // Today's row leads to where the camera is one press away.
  await open(page, `/prospects/${somebody?.id}?film=new`);
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "Record the screen, you beside it" }).click();
  await expect(dialog.getByRole("timer")).toHaveText(/^0:0[2-9]/);
  await dialog.getByRole("button", { name: "Stop" }).click();
  await dialog.getByRole("button", { name: "Use it" }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole("region", { name: "Their page" })).toContainText(
    "They see a film of their own",
  );
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByRole("region", { name: "Their page" })).not.toContainText("film of their own");
});

test("a sequence that writes with a page says which one is missing", async ({ page }) => {
  await open(page, `/sequences/${idOf("Autumn audits")}`);
  await emailText(page).press("Control+Home");
  await page.keyboard.type("{{ page_link }} ");
  await expect(page.getByText(/It writes with a page: choose which one/).first()).toBeVisible();
  await page.getByRole("tab", { name: "Who, when, from where" }).click();
  await page.getByLabel("Its page").press("ArrowDown");
  await page.getByRole("option", { name: "A minute on film" }).click();
  await expect(page.getByText(/It writes with a page/)).toHaveCount(0);
  expect(pageId()).toBeGreaterThan(0);
});
