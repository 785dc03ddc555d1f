import {
  addressOf,
  addStep,
  chooseForSequence,
  emailText,
  importList,
  open,
  saveAndStart,
  writeSequence,
} from "./desk.ts";
import { expect, test } from "./world.ts";

const LOANS = "marta@quillwater-loans.example";
const people = (host: string) =>
  `email,first name,company,time zone,profile\nana@${host}.example,Ana,Casa ${host},Europe/Lisbon,https://vitrine.example/people/ana-${host}\nbruno@${host}.example,Bruno,Casa ${host},Europe/Lisbon,\n`;

test("a sequence with two channels, a fork and two wordings is composed by mouse, changed, undone and started", async ({
  page,
}) => {
  await importList(page, "Mouse houses", people("rato"));
  await writeSequence(page, "By mouse");
  await page.getByLabel("Subject").fill("Loans at {{ company }}");
  await emailText(page).fill("Dear {{ first_name }}, who keeps the record of a loan?");
  await page.getByRole("button", { name: "Try another wording" }).click();
  await emailText(page).fill("Dear {{ first_name }}, how long does the record of a loan take?");
  await page.getByRole("button", { name: "What differs from A" }).click();
  await expect(page.getByRole("dialog").locator("ins").first()).toBeVisible();
  await page.getByRole("button", { name: "Close" }).click();
  await addStep(page, "Invitation");
  await page.getByRole("button", { name: "Add a step" }).click();
  await page.getByRole("menuitem", { name: /^Fork/ }).click();
  await expect(page.getByText("has two ways that are the same").first()).toBeVisible();
  await page.getByRole("button", { name: "+ Social message" }).first().click();
  await page.locator("[name=text]").fill("Thank you for the contact, {{ first_name }}.");
  await page.getByRole("button", { name: /^They accepted\?, fork/ }).click();
  // What was wrong is no longer; until it is gone, everything below it lies lower.
  await expect(page.getByText("has two ways that are the same")).toHaveCount(0);
  await page.getByRole("button", { name: "+ Email" }).nth(1).click();
  await emailText(page).fill("One thing more, {{ first_name }}.");
  await expect(
    page
      .getByRole("list", { name: "They accepted", exact: true })
      .getByRole("button", { name: /^Social message, / }),
  ).toBeVisible();

  await test.step("a step is dragged to another day, what follows moves along, and it is undone", async () => {
    const step = page.getByRole("button", { name: /^Invitation, invitation on working day 3/ });
    const box = await step.boundingBox();
    if (!box) throw new Error("not drawn");
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + 160, box.y + box.height / 2, { steps: 8 });
    await page.mouse.up();
    await expect(
      page.getByRole("button", { name: /^Invitation, invitation on working day [4-9]/ }),
    ).toBeVisible();
    await page.getByRole("button", { name: "Undo (Ctrl Z)" }).click();
    await expect(step).toBeVisible();
  });
  await chooseForSequence(page, "Mouse houses", [LOANS]);
  await saveAndStart(page, 2);
});

test("the same is composed with the keyboard alone, and copied into another sequence", async ({ page }) => {
  await writeSequence(page, "By keys");
  await page.getByLabel("Subject").fill("Loans");
  await page.getByRole("button", { name: /^Opening, email on working day 0/ }).focus();
  await page.keyboard.press("n");
  await page.getByRole("menuitem", { name: "Call", exact: true }).press("Enter");
  const call = page.getByRole("button", { name: /^Call, call on working day 3/ });
  await call.focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByRole("button", { name: /^Call, call on working day 4/ })).toBeVisible();
  await page.keyboard.press("d");
  await expect(page.getByRole("button", { name: /^Call, call on/ })).toHaveCount(2);
  await page
    .getByRole("button", { name: /^Call, call on/ })
    .nth(1)
    .focus();
  await page.keyboard.press("f");
  await expect(page.getByRole("button", { name: /, fork on working day/ })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: /, fork on working day/ })).toHaveCount(0);
  await page
    .getByRole("button", { name: /^Call, call on/ })
    .nth(1)
    .focus();
  await page.keyboard.press("Delete");
  await expect(page.getByRole("button", { name: /^Call, call on/ })).toHaveCount(1);
  await page.getByRole("button", { name: /^Call, call on/ }).focus();
  await page.keyboard.press("ArrowLeft");
  await expect(page.getByRole("button", { name: /^Opening, / })).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Control+c");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();

  await writeSequence(page, "By keys, again");
  await page.getByRole("button", { name: /^Opening, email/ }).focus();
  await page.keyboard.press("Control+v");
  await expect(page.getByRole("button", { name: /^Call, call on working day 4/ })).toBeVisible();
});

test("two tabs: the second save is refused, and both versions stand side by side", async ({
  page,
  context,
}) => {
  await writeSequence(page, "Two tabs");
  const other = await context.newPage();
  await open(other, new URL(await addressOf(page)).pathname);
  await page.getByLabel("Subject").fill("From the first tab");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();
  await other.getByLabel("Subject").fill("From the second tab");
  await other.getByRole("button", { name: "Save", exact: true }).click();
  const dialog = other.getByRole("dialog");
  await expect(dialog).toContainText("Somebody saved this sequence while you were writing");
  await expect(dialog).toContainText("From the first tab");
  await expect(dialog).toContainText("From the second tab");
  await dialog.getByRole("button", { name: "Save mine over it" }).click();
  await expect(other.getByRole("button", { name: "Save", exact: true })).toBeDisabled();
  await page.reload();
  await expect(page.getByLabel("Subject")).toHaveValue("From the second tab");
});

test("drafts are read, changed and said yes to, and a touch of one's own is done", async ({ page }) => {
  await open(page, "/");
  await page.getByRole("button", { name: /emails? that waits? for your yes/ }).click();
  const drafts = page.getByRole("region", { name: "Emails that wait for your yes" });
  // By name: others come to wait while another test moves the clock.
  const first = drafts.getByRole("checkbox", { name: /^Choose the email to / }).first();
  const choice = drafts.getByLabel((await first.getAttribute("aria-label")) ?? "", { exact: true });
  await drafts.getByRole("button", { expanded: false }).first().click();
  await drafts.getByLabel("Text").fill("A line of my own.");
  await drafts.getByRole("button", { name: "Keep the change and say yes" }).click();
  await expect(choice).toHaveCount(0);
  const todo = page.getByRole("region", { name: "What waits for you" });
  const own = todo
    .getByRole("button", { name: /^(Profile view|Invitation|Social message|Errand): / })
    .first();
  const name = (await own.getByRole("heading").textContent()) ?? "";
  await own.click();
  await todo.getByLabel("Note").fill("Wrote back at once");
  await todo.getByRole("button", { name: /^Done/ }).click();
  await expect(todo.getByRole("heading", { name, exact: true })).toHaveCount(0);
});

test("a rehearsal says what comes of it, and again when a rate is changed", async ({ page }) => {
  await open(page, "/sequences/4/rehearsal");
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toContainText(/repl(y|ies) and .* calls?, all through by/);
  const before = await heading.textContent();
  await page.getByLabel("Percent of emails are answered").fill("60");
  await expect(heading).not.toHaveText(before ?? "");
  await expect(heading).toContainText(/repl(y|ies) and/);
  await page.getByRole("slider", { name: "Day" }).press("Home");
  await expect(page.getByRole("list", { name: "Steps of the sequence" })).toContainText(/by this day/);
});

test("one email is planned for somebody, and its follow-up is taken off again", async ({ page }) => {
  await importList(
    page,
    "One house",
    "email,first name,time zone\nolga@uma-casa.example,Olga,Europe/Lisbon\n",
  );
  await open(page, "/prospects?q=olga%40uma-casa");
  await page.getByRole("link", { name: "Olga" }).click();
  await page.getByRole("link", { name: "Write to them" }).click();
  await page.getByLabel("Subject").first().fill("The sheet");
  await page.getByLabel("It leaves").fill("whenever it suits");
  await expect(page.getByText(/Say it as “Monday 8:00”/)).toBeVisible();
  await page.getByLabel("It leaves").fill("14 September 8:00");
  await expect(page.getByText("Mon 14 September, 08:00 where they are.")).toBeVisible();
  for (const nth of [1, 2]) {
    await page.getByRole("button", { name: "Add a follow-up" }).click();
    await page.getByRole("textbox", { name: `Text of follow-up ${nth}` }).fill(`Did it reach you? (${nth})`);
  }
  await page.getByRole("button", { name: "Plan it" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^To Olga, on Mon 14 September, 08:\d\d$/);
  const planned = (name: string) =>
    page.getByRole("listitem").filter({ hasText: new RegExp(`^${name}, .*, planned`) });
  await expect(planned("Follow-up 2")).toBeVisible();
  await page.getByRole("button", { name: "Take it off" }).first().click();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(planned("Follow-up 1")).toHaveCount(0);
  await expect(planned("Follow-up")).toHaveCount(1);
  await expect(page.getByRole("textbox", { name: "Text of follow-up 1" })).toHaveText(
    "Did it reach you? (2)",
  );
  await expect(planned("Email")).toBeVisible();
});

test("a starting point comes from the shelf and from a file, and its blanks keep it from starting", async ({
  page,
}) => {
  await open(page, "/sequences/new");
  await page.getByRole("button", { name: "Begin with “Proposal sent”" }).click();
  await expect(page.getByText(/There is a blank to fill in/).first()).toBeVisible();
  const download = page.waitForEvent("download");
  await open(page, "/sequences");
  await page.getByRole("button", { name: "More for Proposal sent" }).click();
  await page.getByRole("menuitem", { name: "Save as a file" }).click();
  const path = await (await download).path();
  await open(page, "/sequences/new");
  await page.getByLabel("Sequence file").setInputFiles({
    name: "x.json",
    mimeType: "application/json",
    buffer: Buffer.from('{"format":"saudade-sequence","version":9}'),
  });
  await expect(page.getByText("was written by a newer version")).toBeVisible();
  await page.getByLabel("Sequence file").setInputFiles(path);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Proposal sent");
});

test("a list, and people who are chosen, are written to in one press from where they are", async ({
  page,
}) => {
  await importList(page, "Three houses", people("tres"));
  await page.locator('main a[href^="/prospects?list="]').first().click();
  await page.getByRole("link", { name: "Write to these 2" }).click();
  await expect(page.getByText("For the 2 people of “Three houses”.")).toBeVisible();
  await page.getByRole("button", { name: "Begin with an empty page" }).click();
  await expect(page.getByText(/prospects? of “Three houses”/)).toBeVisible();
  await open(page, "/prospects?q=ana%40tres");
  await page.getByRole("row", { name: /Ana/ }).getByRole("checkbox").check();
  await page.getByRole("button", { name: "Write to this one" }).click();
  await page
    .getByRole("menuitem", { name: /^Three houses/ })
    .first()
    .click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("1 person onto the list of “Three houses”");
  await dialog.getByRole("button", { name: "Put them on its list" }).click();
  await expect(page.getByText(/which has not started yet/)).toBeVisible();
});

test("HTML from elsewhere is cleaned to what an email may be, and a condition is put in", async ({
  page,
}) => {
  await writeSequence(page, "From elsewhere");
  await page.getByRole("button", { name: "HTML", exact: true }).click();
  await page
    .getByRole("textbox", { name: "HTML" })
    .fill(
      '<div class="WordSection1"><p class="MsoNormal" style="color:red" onclick="alert(1)"><b>Dear</b> <span data-field="first_name">x</span>,<o:p></o:p></p><script>alert(1)</script><table><tr><td>a cell</td></tr></table></div>',
    );
  await page.getByRole("button", { name: "Take this text" }).click();
  await expect(emailText(page).locator("strong")).toHaveText("Dear");
  await expect(emailText(page)).toContainText("a cell");
  await expect(emailText(page)).not.toContainText("alert");
  expect(await emailText(page).innerHTML()).not.toMatch(/onclick|MsoNormal|color:red|<script|<table/);
});
