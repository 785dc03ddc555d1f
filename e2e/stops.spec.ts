import {
  chooseForSequence,
  deliveriesTo,
  emailText,
  importList,
  moveClock,
  open,
  saveAndStart,
  writeBack,
  writeSequence,
} from "./desk.ts";
import { expect, test } from "./world.ts";

const LOANS = "marta@quillwater-loans.example";

test("the block list keeps a started sequence from writing", async ({ page }) => {
  const wanted = "nell@otter-house.example";
  const blocked = "isla@heron-house.example";
  await importList(
    page,
    "Two houses",
    `email,first name,time zone\n${wanted},Nell,Europe/Lisbon\n${blocked},Isla,Europe/Lisbon\n`,
  );
  await writeSequence(page, "Two houses");
  await page.getByLabel("Subject").fill("One question");
  await emailText(page).fill("Dear {{ first_name }}, is it damp?");
  await chooseForSequence(page, "Two houses", [LOANS]);
  await saveAndStart(page, 2);

  await open(page, "/block-list");
  await page.getByLabel("Addresses and domains, one in each line").fill("heron-house.example\nnot an entry");
  await page.getByRole("button", { name: "See what changes" }).click();
  await expect(page.getByText("Everything planned stops for 1 prospect")).toBeVisible();
  await expect(page.getByText(/1 line neither address nor domain: line 2/)).toBeVisible();
  await page.getByRole("button", { name: "Block 1 entry" }).click();
  await expect(page.getByText("1 entry added.")).toBeVisible();
  await moveClock(page, "Next morning");
  await moveClock(page, "Next morning");
  expect(await deliveriesTo(wanted)).toHaveLength(1);
  expect(await deliveriesTo(blocked)).toHaveLength(0);

  // Who asked for it themselves is taken off by a manager only, and not without a reason.
  await writeBack(wanted, LOANS, "Please take me off your list.");
  const takeOff = page.getByRole("button", { name: `Take ${wanted} off` });
  await expect(async () => {
    await open(page, "/block-list");
    await page.getByLabel("Search the block list").fill("otter-house");
    await page.getByLabel("Search the block list").press("Enter");
    await expect(takeOff).toBeVisible({ timeout: 3_000 });
  }).toPass({ timeout: 120_000 });
  await takeOff.click();
  await page.getByRole("button", { name: "Take it off" }).click();
  await expect(page.getByText("This entry is the managers'. One of them can change it.")).toBeVisible();
});
