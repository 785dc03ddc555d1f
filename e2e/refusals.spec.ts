import { HERE } from "./addresses.ts";
import { csvFile, open, signIn } from "./desk.ts";
import { expect, test } from "./world.ts";

test.use({ signedIn: false });

test("nobody gets in where they don't belong", async ({ page, request }) => {
  for (const path of [
    "/",
    "/prospects",
    "/replies",
    "/sending/mailboxes/1",
    "/block-list",
    "/prospects/1/data",
  ]) {
    await page.goto(path);
    await expect(page).toHaveURL(/\/sign-in/);
  }
  // The data behind the pages is guarded as well, for reading and for writing.
  const read = await request.get("/prospects.data", { maxRedirects: 0 });
  expect(await read.text()).not.toContain("@");
  expect(await (await request.get("/prospects/export", { maxRedirects: 0 })).text()).not.toContain("@");
  await request.post("/sending/mailboxes/1", { form: { intent: "pause" }, maxRedirects: 0 });
  await signIn(page);
  await open(page, "/sending/mailboxes/1");
  await expect(page.getByRole("button", { name: "Pause it" })).toBeVisible();
});

test("a wrong password is refused, and after five of them nothing is tried for a while", async ({ page }) => {
  await page.goto("/sign-in?to=https://elsewhere.example/");
  for (let tries = 0; tries < 6; tries++) {
    await page.getByLabel("Email address").fill("helga@quillwater.example");
    await page.getByLabel("Password").fill(`wrong-${tries}`);
    await page.getByRole("button", { name: "Sign in", exact: true }).click();
    await expect(page.getByRole("alert")).toContainText(
      tries < 5 ? "do not belong together" : "Too many tries",
    );
    await expect(page.getByLabel("Email address")).toHaveValue("helga@quillwater.example");
  }
  await page.getByLabel("Password").fill("humid-lantern-ledger");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("Too many tries");
  await page.getByLabel("Email address").fill("marta@quillwater.example");
  await page.getByLabel("Password").fill("humid-lantern-ledger");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page).toHaveURL(`${HERE.url}/`);
});

test("broken files are refused with what to do, and nothing is stored", async ({ page }) => {
  await signIn(page);
  const files: [Parameters<typeof csvFile>[1], RegExp][] = [
    ["email,name\n", /no rows below/],
    ['email,name\n"open@m.example,Ana\n', /never closed/],
    [Buffer.from([0x50, 0x4b, 3, 4, 20, 0, 6, 0]), /save it as CSV/],
    ["email:name\na:b\nc:d\n", /could not be told apart/],
  ];
  await open(page, "/prospects/import");
  for (const [content, words] of files) {
    await page.getByLabel("CSV or vCard file").setInputFiles(csvFile("broken.csv", content));
    await expect(page.getByRole("alert")).toHaveText(words);
  }
  await page
    .getByLabel("CSV or vCard file")
    .setInputFiles(csvFile("names.csv", "name,town\nAna,Faro\nBia,Faro\n"));
  await page.getByRole("button", { name: "Look through 2 rows" }).click();
  await expect(page.getByRole("alert")).toContainText("which column holds the email addresses");
  await open(page, "/prospects?q=%40m.example");
  await expect(page.getByText("Nobody matches.")).toBeVisible();
});

test("a file in UTF-16 is read with its accents", async ({ page }) => {
  await signIn(page);
  await open(page, "/prospects/import");
  const content = Buffer.from("\ufeffemail\tfirst name\njosé@évora.example\tJosé\n", "utf16le");
  await page.getByLabel("CSV or vCard file").setInputFiles(csvFile("spreadsheet.txt", content));
  await expect(page.getByRole("cell", { name: /José/ }).first()).toBeVisible();
});

test("a mailbox's check says which server refuses what, and keeps what was typed", async ({ page }) => {
  await signIn(page);
  await open(page, "/sending/mailboxes/1");
  const outgoing = page.getByRole("group", { name: "Outgoing (SMTP)" });
  await page.getByRole("button", { name: "Check connection" }).click();
  await expect(page.getByRole("status")).toContainText("Sending works");
  await expect(page.getByRole("status")).toContainText("Reading works");

  await page.getByLabel("Password").fill("wrong");
  await page.getByText("Servers", { exact: true }).click();
  await outgoing.getByLabel("Port").fill("9");
  await page.getByRole("button", { name: "Check connection" }).click();
  await expect(page.getByRole("status")).toContainText("nothing listens on this port");
  await expect(page.getByRole("status")).toContainText("refuses the user name or password");
  await expect(outgoing.getByLabel("Port")).toHaveValue("9");

  await outgoing.getByLabel("Port").fill("70000");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Ports end at 65535.")).toBeVisible();
});

test("links that were tampered with open nothing", async ({ page, request }) => {
  expect((await request.get("/opt-out/MQ.AAAAAAAAAAAAAAAAAAAAAA")).status()).toBe(404);
  expect(
    (
      await request.get("/t/c/MSBodHRwczovL2V2aWwuZXhhbXBsZQ.AAAAAAAAAAAAAAAAAAAAAA", { maxRedirects: 0 })
    ).status(),
  ).toBe(404);
  await page.goto("/book/nobody");
  await expect(page.getByText("This booking page does not exist.")).toBeVisible();
});
