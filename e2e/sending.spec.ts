import { DEMO_PASSWORD, NEW_MAILBOX } from "../demo/scenario.ts";
import { open, pressTwice } from "./desk.ts";
import { expect, test } from "./world.ts";

const CLIMATE = "marta@quillwater-climate.example";

test("a mailbox is added from its address and its password alone", async ({ page }) => {
  await open(page, "/sending/mailboxes/new");
  await page.getByLabel("Email address").fill(NEW_MAILBOX);
  await page.getByLabel("Password").fill("something else");
  await page.getByRole("button", { name: "Check and add" }).click();
  // The servers were found; what they say about the password stands beside it.
  await expect(page.getByRole("status")).toContainText("refuses");
  await page.getByLabel("Password").fill(DEMO_PASSWORD);
  await page.getByRole("button", { name: "Check and add" }).click();
  await expect(page).toHaveURL(/\/sending$/);
  await expect(page.getByRole("row", { name: new RegExp(NEW_MAILBOX) })).toContainText("30 a day");
});

test("one without a server says so at the field, and keeps what was typed", async ({ page }) => {
  await open(page, "/sending/mailboxes/new");
  await page.getByLabel("Email address").fill("marta@no-domain-house.example");
  await page.getByLabel("Password").fill("whatever it is");
  await page.getByRole("button", { name: "Check and add" }).click();
  await expect(page.getByText("No outgoing server was found for this domain")).toBeVisible();
  await expect(page.getByLabel("Password")).toHaveValue("whatever it is");
});

test("many are added from a file, each line with what became of it", async ({ page }) => {
  await open(page, "/sending/mailboxes/import");
  await page.getByLabel("CSV").fill(`name,address\nMarta,a@b.example`);
  await page.getByRole("button", { name: "Check and add them all" }).click();
  await expect(page.getByText("“address” and “password” are needed")).toBeVisible();
  await page
    .getByLabel("CSV")
    .fill(`address,password\n${NEW_MAILBOX},${DEMO_PASSWORD}\nnobody@no-domain-house.example,x`);
  await page.getByRole("button", { name: "Check and add them all" }).click();
  await expect(page.getByText("This mailbox is here already.")).toBeVisible();
  await expect(page.getByText("No outgoing server was found")).toBeVisible();
});

test("pausing a mailbox says first what moves and what waits, and lets it send again", async ({ page }) => {
  await open(page, "/sending");
  await page.getByRole("link", { name: CLIMATE, exact: true }).click();
  await page.getByRole("button", { name: "Pause it …" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText(/\d+ emails? (was|were) to leave it today and on the next working day/);
  await expect(dialog).toContainText(/\d+ people have a thread here/);
  await expect(dialog).toContainText(/follow-ups wait for their mailbox/);
  await dialog.getByRole("button", { name: "Pause it" }).click();
  await expect(page.getByText(/It is paused by Marta Quintela/)).toBeVisible();
  await pressTwice(page, "Let it send again", "Go on");
  await expect(page.getByText("It sends and is read.")).toBeVisible();

  await page.getByLabel("Emails a day at most").fill("3");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(dialog).toContainText("Change the limit of");
  await dialog.getByRole("button", { name: "Leave it as it is" }).click();
  await expect(dialog).toBeHidden();
});

test("what-if is answered beside the plan, and applied only when asked", async ({ page }) => {
  await open(page, "/sending");
  const answer = page.getByTestId("what-if-answer");
  await page.getByRole("button", { name: "Another 200 prospects" }).click();
  await expect(answer).toContainText("With 200 more prospects");
  await expect(answer).toContainText(/working days? later/);
  await page.getByRole("button", { name: "Back to the plan as it is" }).click();
  await expect(answer).toBeHidden();

  const row = page.getByRole("row", { name: new RegExp(`^${CLIMATE}`) });
  await expect(row).toContainText("22 a day");
  const limit = page.getByRole("slider", { name: "Emails a day of each mailbox" });
  await limit.focus();
  await limit.press("ArrowRight");
  await expect(answer).toContainText("With 31 a day each");
  await expect(row).toContainText("22 a day");
  await page.getByRole("button", { name: "Apply 31 a day each" }).click();
  await expect(row).toContainText("31 a day");
});

test("a cell opens what it holds, and a reason its people with the way to mend it", async ({ page }) => {
  await open(page, "/sending");
  await page
    .getByRole("link", { name: new RegExp(`^${CLIMATE}, .*planned`) })
    .first()
    .click();
  await expect(page.getByRole("region", { name: new RegExp(`^${CLIMATE} on`) })).toContainText(
    /sent ·|to go ·/,
  );
  await page.getByRole("link", { name: "a merge field is empty", exact: true }).click();
  await expect(page.getByRole("heading", { level: 2, name: /people: a merge field is empty/ })).toBeVisible();
});

test("why is answered for somebody held, for a sent email and for a cancelled one", async ({ page }) => {
  const dialog = page.getByRole("dialog");
  const why = async () => {
    await page.getByRole("button", { name: "Why?" }).first().click();
    await expect(dialog.getByRole("listitem").first()).toContainText("Began the sequence");
  };
  await test.step("held", async () => {
    await open(page, "/sending?reason=merge_field_empty");
    await why();
    await expect(dialog).toContainText("a merge field is empty");
    await expect(dialog).toContainText("Now");
    await page.keyboard.press("Escape");
    await expect(dialog).toBeHidden();
  });
  await test.step("sent", async () => {
    await open(page, "/sending?reason=mailbox_resting");
    await why();
    await expect(dialog).toContainText(/left from marta@quillwater-note\.example, as \d+ of \d+ that day/);
    await page.keyboard.press("Escape");
    await expect(dialog).toBeHidden();
  });
  await test.step("cancelled", async () => {
    await open(page, "/sequences/1/people?standing=stopped");
    await why();
    await expect(dialog).toContainText(/Everything stopped: .*What was still planned was cancelled/);
  });
});

test("the domains say what is missing, with the record to add", async ({ page }) => {
  await open(page, "/sending/domains");
  await page.getByRole("button", { name: "Check them all now" }).click();
  const hello = page.getByRole("region", { name: "hello-quillwater.example" });
  await expect(hello.locator("[data-finding=spf]")).toContainText("SPF names who may send");
  await expect(hello.locator("[data-finding=dkim]")).toContainText(
    "mail._domainkey.hello-quillwater.example TXT",
  );
  const note = page.getByRole("region", { name: "quillwater-note.example" });
  await expect(note.locator("[data-finding=lists]")).toContainText("is on unwelcome.lists.example");
});
