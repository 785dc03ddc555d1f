/** Ways of working that begin with a wish and end in what somebody received, or in what is done for the day. */
import type { Page } from "@playwright/test";
import {
  choose,
  deliveriesTo,
  importList,
  inDemo,
  moveClock,
  open,
  signIn,
  writeBack,
  writeSequence,
} from "./desk.ts";
import { expect, test } from "./world.ts";

const OLGA = "olga@uma-casa.example";

/** Lets the demo's events come, one after the other, until something has arrived. */
async function until(page: Page, arrived: () => Promise<boolean>): Promise<void> {
  for (let events = 0; events < 12 && !(await arrived()); events++) await moveClock(page, "Next event");
  expect(await arrived()).toBe(true);
}

test("a rep wants to write to one person now, with a nudge behind it, and is answered", async ({ page }) => {
  await importList(page, "One house", `email,first name,time zone\n${OLGA},Olga,Europe/Berlin\n`);
  await open(page, "/prospects?q=olga%40uma-casa");
  await page.getByRole("row", { name: /Olga/ }).getByRole("checkbox").check();
  await page.getByRole("button", { name: "Write to this one" }).click();
  await page.getByRole("menuitem", { name: "One email" }).click();
  await page.getByLabel("Subject").first().fill("The sheet");
  await page.getByRole("textbox", { name: "Text", exact: true }).press("End");
  await page.keyboard.type("here is what a lender gets from us.");
  await page.getByLabel("Follow-ups from").selectOption({ index: 1 });
  await expect(page.getByRole("button", { name: "Take it off" }).first()).toBeVisible();
  for (const _ of await page.getByRole("button", { name: "Take it off" }).all())
    await page.getByRole("button", { name: "Take it off" }).last().click();
  await page.getByRole("button", { name: "Add a follow-up" }).click();
  await page.getByRole("textbox", { name: "Text of follow-up 1" }).fill("Did it reach you?");
  await expect(page.getByRole("region", { name: "What follows" })).toContainText(
    "4 working days later: follow-up 1",
  );
  // What is begun is not lost by going away.
  await open(page, "/");
  await page.goBack();
  await expect(page.getByLabel("Subject").first()).toHaveValue("The sheet");
  await page.getByRole("button", { name: "Send it" }).click();
  await expect(page).toHaveURL(/\/emails\/\d+$/);
  await until(page, async () => (await deliveriesTo(OLGA)).length > 0);
  expect((await deliveriesTo(OLGA)).map(({ subject }) => subject)).toEqual(["The sheet"]);
});

test("somebody asks for Thursday afternoon, and is offered that first, in their language", async ({
  page,
}) => {
  const [sent] = inDemo<{ address: string }>(
    `SELECT m.address FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id WHERE t.recipient = '${OLGA}'`,
  );
  await writeBack(OLGA, sent?.address ?? "", "Guten Tag, gern. Donnerstagnachmittag passt mir gut.");
  await expect
    .poll(() => inDemo(`SELECT 1 FROM replies WHERE from_address = '${OLGA}'`).length, { timeout: 90_000 })
    .toBe(1);
  await open(page, "/replies");
  await page.getByRole("navigation", { name: "Replies" }).getByRole("button", { name: /Olga/ }).click();
  await expect(page.getByText("Donnerstagnachmittag passt mir gut.").first()).toBeVisible();
  await page.getByRole("button", { name: "Offer times" }).click();
  const answer = page.getByLabel("Answer Olga");
  await expect(answer).toHaveValue(/\n– Donnerstag, \d+\. \p{L}+, 1[2-7]:\d\d Uhr\n/u);
  await answer.press("Control+Enter");
  await until(page, async () => (await deliveriesTo(OLGA)).length === 2);
  // Their answer took the nudge away.
  expect(inDemo(`SELECT 1 FROM touches WHERE recipient = '${OLGA}' AND state = 'queued'`)).toEqual([]);
});

test("equal things of a full day are noted in one go", async ({ page }) => {
  await open(page, "/?show=social");
  const open_ = () =>
    inDemo(
      "SELECT 1 FROM touches WHERE state = 'open' AND kind IN ('social_message', 'invitation', 'profile_view') AND account_id IS NULL",
    ).length;
  const left = open_();
  await page
    .getByRole("checkbox", { name: /^Choose / })
    .first()
    .check();
  await page
    .getByRole("checkbox", { name: /^Choose / })
    .nth(1)
    .check();
  await page.getByRole("button", { name: "2 are done" }).click();
  await expect.poll(open_).toBe(left - 2);
  await page.getByRole("button", { name: /^Choose all/ }).click();
  await page.getByRole("button", { name: "Tomorrow", exact: true }).first().click();
  // The group is empty for today, and everything else is shown again.
  await expect(page.getByRole("link", { name: /^Social touches/ })).toHaveCount(0);
  expect(open_()).toBe(left - 2);
});

test("where no server is asked every address is likely, and the start asks whether they get it", async ({
  browser,
  world,
}) => {
  const context = await browser.newContext({ baseURL: world.url });
  const page = await context.newPage();
  await signIn(page, "Helga Lund");
  await open(page, "/lists/1/addresses");
  await page.getByRole("switch").click();
  await expect(page.getByRole("switch")).not.toBeChecked();
  await importList(
    page,
    "New houses",
    "email,first name,last name,company\nkaya@brygge-museum.example,Kaya,Lind,Brygge Museum\nnoor@brygge-museum.example,Noor,Berg,Brygge Museum\n",
  );
  await writeSequence(page, "First day");
  await page.getByLabel("Subject").first().fill("Loans");
  await page.getByRole("textbox", { name: "Text", exact: true }).fill("May we?");
  await page.getByRole("tab", { name: "Who, when, from where" }).click();
  await choose(page, page.getByLabel("Writes to the list"), /^New houses /);
  await page.getByRole("checkbox", { name: /@/ }).first().check();
  await page.getByRole("button", { name: /^Save/ }).click();
  await page.getByRole("link", { name: /^Check and start/ }).click();
  const question = page.getByRole("group", { name: "Likely addresses" });
  await expect(question).toContainText("2 addresses are likely");
  await expect(page.getByRole("button", { name: "Start for 2" })).toBeVisible();
  await question.getByRole("button", { name: /Let them wait|Only to the/ }).click();
  await expect(page.getByRole("button", { name: "Start, and all 2 wait" })).toBeVisible();
  await question.getByRole("button", { name: "Write to them, too" }).click();
  await page.getByRole("button", { name: "Start for 2" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Started for 2 prospects");
  await open(page, "/lists/1/addresses");
  await page.getByRole("switch").click();
  await expect(page.getByRole("switch")).toBeChecked();
  await context.close();
});
