/** Who may do what: users come by a link, roles hold, sessions end, settings show where prospects look. */
import { emailText, inDemo, open, signIn } from "./desk.ts";
import { expect, test } from "./world.ts";

test.use({ signedIn: false });

const PASSWORD = "gravel lantern orchard";

test("a manager adds somebody by a link; they see the team's work, change only their own, and are gone once removed", async ({
  page,
  browser,
}) => {
  await signIn(page, "Helga Lund");
  await open(page, "/settings?show=team");
  const add = page.getByRole("form", { name: "Add somebody" });
  await add.getByLabel("Name").fill("Nuno Vale");
  await add.getByLabel("Email address").fill("nuno@quillwater.example");
  await add.getByRole("button", { name: "Add and make a link" }).click();
  const link = new URL((await add.getByTestId("link").textContent()) ?? "");

  const theirs = await (await browser.newContext()).newPage();
  await open(theirs, link.pathname);
  await theirs.getByLabel("Password").fill("password123");
  await theirs.getByRole("button", { name: "Begin" }).click();
  await expect(theirs.getByText("among those that are tried first")).toBeVisible();
  await theirs.getByLabel("Password").fill(PASSWORD);
  await theirs.getByRole("button", { name: "Begin" }).click();
  await expect(theirs.getByTestId("clock")).toBeVisible();

  // A colleague's sequence can be read, and not changed.
  await open(theirs, "/sequences/1");
  await emailText(theirs).fill("Mine now");
  await expect(theirs.getByText("This sequence is Marta Quintela's.")).toBeVisible();
  await expect(theirs.getByRole("button", { name: /^Save/ })).toBeDisabled();
  await open(theirs, "/sending/mailboxes/1");
  await expect(theirs.getByRole("button", { name: "Save" })).toBeDisabled();
  // Nobody wrote to them; what a colleague got can be read, and only an opt-out noted.
  await open(theirs, "/replies?show=people");
  await expect(theirs.getByRole("tab", { name: "From people 0" })).toBeVisible();
  await theirs.getByLabel("Whose").selectOption("Marta Quintela’s");
  await expect(theirs.getByText(/This conversation is Marta Quintela's\./)).toBeVisible();
  await expect(theirs.getByRole("button", { name: /Send the answer/ })).toHaveCount(0);
  await expect(
    theirs.getByRole("group", { name: "Labels" }).getByRole("button", { disabled: false }),
  ).toHaveText(/Opt-out/);
  await open(theirs, "/prospects/1");
  await expect(theirs.getByText(/This person is Marta Quintela's\./)).toBeVisible();
  await expect(theirs.getByRole("button", { name: "Edit" })).toBeDisabled();
  await open(theirs, "/settings?show=team");
  await expect(theirs.getByRole("form", { name: "Add somebody" })).toHaveCount(0);

  // The link opens nothing a second time.
  const second = await (await browser.newContext()).newPage();
  await second.goto(link.pathname);
  await expect(second.getByRole("heading")).toContainText("used already");

  await open(page, "/settings?show=team");
  await page
    .locator('[data-member="nuno@quillwater.example"]')
    .getByRole("button", { name: "Remove" })
    .click();
  await page.getByRole("button", { name: "Remove Nuno" }).click();
  await expect(page.locator('[data-member="nuno@quillwater.example"]')).toHaveCount(0);
  await theirs.goto("/prospects");
  await expect(theirs).toHaveURL(/sign-in/);
});

test("a password is changed, and every other session ends with it", async ({ page, browser }) => {
  await signIn(page, "Rui Abrantes");
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "Rui Abrantes");
  await open(page, "/settings");
  await expect(page.getByText("this one")).toBeVisible();
  const form = page.getByRole("form", { name: "Password" });
  await form.getByLabel("Present password").fill("not this");
  await form.getByLabel("New password").fill(PASSWORD);
  await form.getByRole("button", { name: "Change the password" }).click();
  await expect(form.getByText("This is not your present password.")).toBeVisible();
  await form.getByLabel("Present password").fill("humid-lantern-ledger");
  await form.getByRole("button", { name: "Change the password" }).click();
  await expect(form.getByRole("status")).toContainText("every other session has ended");
  await other.goto("/prospects");
  await expect(other).toHaveURL(/sign-in/);
});

test("booking follows the settings: lengths, the phone number, the company's name; a call is moved and cancelled by its page", async ({
  page,
  browser,
}) => {
  await signIn(page);
  await open(page, "/settings?show=booking");
  const own = page.getByRole("form", { name: "Call", exact: true });
  await own.getByRole("button", { name: "15 min" }).click();
  await own.getByRole("button", { name: "Save this page" }).click();
  await expect(own.getByRole("status").filter({ hasText: "Saved." })).toBeVisible();
  const address = new URL(await own.getByLabel(/Its address/).inputValue());

  const visitor = await (await browser.newContext()).newPage();
  await open(visitor, address.pathname);
  await expect(visitor.getByText("Quillwater", { exact: true })).toBeVisible();
  await expect(visitor.getByText("Saudade")).toHaveCount(0);
  await visitor.getByRole("link", { name: "15 minutes" }).click();
  await expect(visitor).toHaveURL(/length=15/);
  // Days ahead: other tests move the clock, and a time that is over is refused.
  await visitor.getByRole("radio").nth(200).check({ force: true });
  await visitor.getByLabel("Your name").fill("Visitor");
  await visitor.getByLabel("Your email address").fill("visitor@home.example");
  await visitor.getByRole("button", { name: /^Book / }).click();
  await expect(visitor.getByText(/Type the number at which Marta can call you/)).toBeVisible();
  await visitor.getByLabel("Your phone number").fill("+351 210 000 000");
  await visitor.getByRole("button", { name: /^Book / }).click();
  // A typed address proves nothing: the call is booked by the link in the mail that goes there.
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("One step more");
  const [mail] = inDemo<{ body: string }>(
    "SELECT body FROM service_mails WHERE recipient = 'visitor@home.example'",
  );
  await open(visitor, mail?.body.match(/\/confirm\/\S+/)?.[0] ?? "");
  await visitor.getByRole("button", { name: "Yes, book it" }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("Booked:");
  const before = await visitor.getByRole("heading", { level: 1 }).textContent();
  await visitor.getByRole("link", { name: "Move it" }).click();
  await visitor.getByRole("radio").nth(220).check({ force: true });
  await visitor.getByRole("button", { name: /^Move it to / }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("Booked:");
  await expect(visitor.getByRole("heading", { level: 1 })).not.toHaveText(before ?? "");
  await visitor.getByRole("button", { name: "Cancel the call" }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("The call is cancelled");
});
