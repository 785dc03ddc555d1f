import { HERE, SPARE_PORT } from "./addresses.ts";
import {
  addStep,
  choose,
  chooseForSequence,
  emailText,
  importList,
  moveClock,
  open,
  pressTwice,
  tellStandin,
  typeMoment,
  writeSequence,
} from "./desk.ts";
import { expect, test } from "./world.ts";

test("a mailbox is added, checked, paused and woken, and its limits are refused where they cannot be", async ({
  page,
}) => {
  const address = "marta@quillwater-new.example";
  const imapPort = SPARE_PORT;
  await tellStandin("/mailboxes", { address, password: "humid-lantern-ledger", imapPort });
  await open(page, "/sending");
  await page.getByRole("link", { name: "Add a mailbox" }).click();
  await page.getByLabel("Email address").fill(address);
  await page.getByText("Servers", { exact: true }).click();
  await page.getByText("Signature, pace and pools").click();
  await expect(page.getByLabel("User name on both")).toHaveValue(address);
  const outgoing = page.getByRole("group", { name: "Outgoing (SMTP)" });
  const incoming = page.getByRole("group", { name: "Incoming (IMAP)" });
  for (const [server, port] of [
    [outgoing, HERE.ports.smtp],
    [incoming, imapPort],
  ] as const) {
    await server.getByLabel("Server").fill("127.0.0.1");
    await server.getByLabel("Port").fill(String(port));
    await choose(page, server.getByLabel("Encryption"), "None (this machine only)");
  }
  const add = page.getByRole("button", { name: "Check and add" });
  await page.getByLabel("Emails a day at most").fill("0");
  await page.getByLabel("to", { exact: true }).fill("3");
  await page.getByLabel("Password").fill("not-the-password");
  await add.click();
  await expect(page.getByText("At least 1.")).toBeVisible();
  await page.getByLabel("Emails a day at most").fill("25");
  await add.click();
  await expect(page.getByText("The longest pause cannot be shorter than the shortest.")).toBeVisible();
  await page.getByLabel("to", { exact: true }).fill("12");
  await add.click();
  await expect(page.getByRole("status")).toContainText("refuses");
  await page.getByLabel("Password").fill("humid-lantern-ledger");
  await add.click();
  await expect(page).toHaveURL(/\/sending$/);
  await expect(page.getByRole("row", { name: new RegExp(address) })).toContainText("25 a day");

  await page.getByRole("link", { name: address, exact: true }).click();
  await page.getByRole("button", { name: "Check connection" }).click();
  await expect(page.getByRole("status")).toContainText("Reading works");
  await page.getByRole("button", { name: "Pause it" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Pause it" }).click();
  await expect(page.getByText(/It is paused by Marta Quintela, .+ It is still read/)).toBeVisible();
  await pressTwice(page, "Let it send again", "Go on");
  await expect(page.getByText("It sends and is read.")).toBeVisible();
});

test("a running sequence is paused, edited into a new version, and goes on", async ({ page }) => {
  await importList(
    page,
    "Quiet houses",
    "email,first name,time zone\nana.lua@casa-lua.example,Ana,America/Lima\n",
  );
  await writeSequence(page, "Quiet");
  await emailText(page).fill("Dear {{ first_name }}, one question.");
  await addStep(page, "Email");
  await emailText(page).fill("Another.");
  await chooseForSequence(page, "Quiet houses", ["m.quintela@quillwater-loans.example"]);

  await test.step("what cannot be saved is said at its field, and nothing typed is lost", async () => {
    await typeMoment(page, "until", "0700");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(page.getByText("The hours close after they open.").first()).toBeVisible();
    await expect(page.getByRole("group", { name: "until" })).toContainText("07:00");
    await typeMoment(page, "until", "1800");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(page.getByRole("button", { name: "Save" })).toBeDisabled();
    await expect(page.getByText(/^2 emails over 3 working days/)).toBeVisible();
  });

  await page.getByRole("link", { name: "Check and start 1" }).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Started for 1 prospect");
  await page.getByRole("link", { name: "Quiet", exact: true }).click();
  await pressTwice(page, "Pause");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Paused");
  await open(page, "/sending?reason=sequence_paused");
  await expect(page.getByText("The sequence is paused").first()).toBeVisible({ timeout: 90_000 });

  await open(page, "/sequences");
  await page
    .getByRole("main")
    .getByRole("link", { name: /^Quiet/ })
    .click();
  await test.step("a step is dragged to another day with the mouse", async () => {
    const step = page.getByRole("button", { name: /^Follow-up 1, email on working day 3/ });
    const box = await step.boundingBox();
    if (!box) throw new Error("not drawn");
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + 330, box.y + box.height / 2, { steps: 8 });
    await page.mouse.up();
    await expect(
      page.getByRole("button", { name: /^Follow-up 1, email on working day [4-6]/ }),
    ).toBeVisible();
  });
  await page.getByRole("button", { name: "Save version 2" }).click();
  await expect(page.getByRole("dialog")).toContainText(
    "1 person stands where they stood, their date unchanged",
  );
  await page.getByRole("button", { name: "Save and move 1" }).click();
  await expect(page.getByText(/^paused by Marta Quintela, .+ · version 2/)).toBeVisible();
  await pressTwice(page, "Go on");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Running");
});

test("replies are leafed through with J and K, marked as read, and one who wants no more is never written to again", async ({
  page,
}) => {
  await open(page, "/replies?show=people");
  const list = page.getByRole("navigation", { name: "Replies" });
  const current = list.locator('[aria-current="true"]');
  const first = await current.textContent();
  await page.locator("body").press("j");
  await expect(current).not.toHaveText(first ?? "");
  await page.locator("body").press("k");
  await expect(current).toHaveText(first ?? "");

  await open(page, "/replies");
  const tab = page.getByRole("tab", { name: /^To read \d+/ });
  const before = Number((await tab.textContent())?.match(/\d+/)?.[0]);
  expect(before).toBeGreaterThan(0);
  await page.getByRole("button", { name: /^Mark as read/ }).click();
  await expect(tab).toHaveText(`To read ${before - 1}`);

  await open(page, "/replies?show=people");
  await page
    .getByRole("group", { name: "Labels" })
    .getByRole("button", { name: /Opt-out/ })
    .click();
  // There is nothing to answer, so the next one opens: back to it.
  await expect(page.getByRole("alert")).toContainText("opt-out");
  await list.getByRole("button").first().click();
  await expect(page.getByText("Their address is on the block list")).toBeVisible();
  await expect(page.getByText("to answer, take it off there first")).toBeVisible();
  await expect(page.getByRole("button", { name: /^Send the answer/ })).toBeHidden();
});

test("an empty answer is refused at its field", async ({ page }) => {
  await open(page, "/replies?show=people");
  const send = page.getByRole("button", { name: /^Send the answer/ });
  // Those who want no more email cannot be answered. Whoever is chosen stays open: no key is pressed again while one leads on.
  const letter = page
    .getByRole("navigation", { name: "Replies" })
    .getByRole("button")
    .filter({ hasNotText: "opt-out" })
    .first();
  await letter.click();
  await expect(letter).toHaveAttribute("aria-current", "true");
  await send.click();
  await expect(page.getByText("Write the answer first.")).toBeVisible();
});

test("automatic answers and bounces are kept apart from people", async ({ page }) => {
  await open(page, "/replies?show=automatic");
  await expect(page.getByText("automatic answer").first()).toBeVisible();
  await open(page, "/replies?show=bounces");
  await expect(page.getByText("delivery report").first()).toBeVisible();
  await expect(page.getByText(/because the email bounced|was over for them/).first()).toBeVisible();
  await expect(page.getByRole("button", { name: /^Send the answer/ })).toBeHidden();
});

test("a rep stops a journey by hand and sees what will not go", async ({ page }) => {
  await open(page, "/sending?reason=wait_days");
  await page.locator('main a[href^="/prospects/"]').first().click();
  await page.getByRole("button", { name: /^Stop for them: \d emails?( and \d more)? will not go/ }).click();
  await expect(page.getByText("because you stopped it").first()).toBeVisible();
  await expect(
    page
      .getByRole("listitem")
      .filter({ hasText: /will not happen/ })
      .first(),
  ).toBeAttached();
});

test("the clock's long move can be stopped on the way", async ({ page }) => {
  await open(page, "/");
  await page.getByRole("button", { name: "Next morning" }).click();
  await page.getByRole("button", { name: "Stop the clock here" }).click();
  await expect(page.getByRole("button", { name: "Next morning" })).toBeVisible({ timeout: 120_000 });
  await moveClock(page, "Next morning");
});
