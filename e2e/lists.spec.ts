import {
  addressOf,
  choose,
  chooseForSequence,
  csvFile,
  emailText,
  importList,
  open,
  signIn,
  writeSequence,
} from "./desk.ts";
import { expect, test } from "./world.ts";

const LOANS = "marta@quillwater-loans.example";

test("a list is built from a paragraph: found, judged, kept, its addresses found and verified, and started", async ({
  page,
}) => {
  await open(page, "/prospects/find");
  await choose(page, page.getByLabel(/saved profile/), "A new one");
  await page.getByLabel("Its name").fill("Archivists, Iberia");
  await page
    .getByLabel(/In a paragraph/)
    .fill(
      "We sell loggers for reading rooms. We are looking for archivists at archives in Portugal and Spain, no assistants.",
    );
  await page.getByRole("button", { name: "Fill in the fields from this" }).click();
  await expect(page.getByRole("button", { name: "archivist", exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: "Archives", exact: true })).toBeVisible();
  await page.getByLabel("Employees from").fill("50");
  await page.getByLabel("to", { exact: true }).fill("10");
  await page.getByRole("button", { name: "Search the directory" }).click();
  await expect(page.getByText("The larger number comes last.")).toBeVisible();
  await page.getByLabel("Employees from").fill("");
  await page.getByLabel("to", { exact: true }).fill("");
  await page.getByRole("button", { name: "Search the directory" }).click();
  await expect(
    page.getByRole("heading", { level: 1, name: /people fit “Archivists, Iberia”$/ }),
  ).toBeVisible();
  await page.getByRole("tab", { name: /^Do not fit/ }).click();
  await expect(
    page
      .getByRole("listitem")
      .filter({ hasText: /Title is|is excluded/ })
      .first(),
  ).toBeVisible();
  await page.getByRole("tab", { name: /^Fit/ }).click();
  // Until their list has come, the ticks are those of the others.
  await expect(page.getByRole("listitem").filter({ hasText: /Title is|is excluded/ })).toHaveCount(0);
  for (let nth = 0; nth < 8; nth++)
    await page
      .getByRole("checkbox", { name: /^Choose / })
      .nth(nth)
      .check();
  await page.getByRole("button", { name: "Keep 8" }).click();

  await expect(
    page.getByRole("heading", {
      level: 1,
      name: /^“Archivists, Iberia”: (\d of 8 good|(checking|looking for) addresses.*)$/,
    }),
  ).toBeVisible();
  await page.getByRole("link", { name: /^Addresses/ }).click();
  // The directory knows no address of a quarter of them.
  await page.getByRole("button", { name: /^Find \d+ address/ }).click();
  await page.getByRole("tab", { name: "Found by pattern" }).click();
  await expect(page.getByText(/usual one|known address/).first()).toBeVisible();
  await page.getByRole("tab", { name: /^All/ }).click();
  await expect(page.getByRole("tab", { name: /^Not checked/ })).toHaveCount(0);
  await expect(
    page.getByText(/takes mail for this address, and not for an invented one/).first(),
  ).toBeVisible();

  await writeSequence(page, "Warm rooms, Iberia");
  await page.getByLabel("Subject").fill("Heat at {{ company }}");
  await emailText(page).fill("Dear {{ first_name }}, how warm is it upstairs?");
  await chooseForSequence(page, "Archivists, Iberia", [LOANS]);
  await page.getByRole("button", { name: "Save" }).click();
  await page.getByRole("link", { name: /^Check and start \d/ }).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^Started for \d prospects/);
});

test("a file is imported with corrections, a value is given back, and the whole is taken back", async ({
  page,
}) => {
  await importList(
    page,
    "Glass houses",
    "email,first name,last name,job title,company\nana@vidro.example,Ana,Reis,Keeper,Casa do Vidro\n",
  );
  await open(page, "/prospects/import");
  await page
    .getByLabel("CSV or vCard file")
    .setInputFiles(
      csvFile(
        "glass.csv",
        "Given name,Surname,Work email,Function,Organisation\nANA,REIS,ana@vidro.example,Registrar,Casa do Vidro Lda\nDR. BRUNO,PAZ,bruno@vidro.example,CONSERVATOR,Casa do Vidro Lda\nCaio,Sol,caio@vidro.example; c.sol@vidro.example,Archivist,Casa do Vidro Lda\n",
      ),
    );
  await expect(page.getByRole("combobox", { name: "Function is" })).toHaveText("Job title");
  await page.getByLabel("Name of the list").fill("Glass houses");
  await page.getByRole("button", { name: "Look through 3 rows" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 new people, 1 known, 0 rows left out");
  await page.getByText("1 row holds several addresses").click();
  await expect(page.getByText(/holds 2 addresses; caio@vidro.example was taken/)).toBeVisible();
  await page.getByRole("switch", { name: "Titles and degrees taken out" }).uncheck();
  await choose(page, page.getByRole("combobox", { name: "For Job title" }), "Replace with the file's");
  await page.getByRole("button", { name: "Look through it again" }).click();
  await page.getByRole("button", { name: "Import 3 people" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 new people on the list");
  const report = await addressOf(page);

  await page.getByRole("link", { name: "See what was cleaned" }).click();
  await page.getByRole("button", { name: /^Capitals set right/ }).click();
  await expect(page.getByText("DR. BRUNO → Dr. Bruno")).toBeVisible();
  await page.getByRole("button", { name: "Give back DR. BRUNO" }).click();
  await expect(page.getByRole("button", { name: "Clean again DR. BRUNO" })).toBeVisible();
  await open(page, "/prospects?q=ana%40vidro");
  await page.getByRole("link", { name: "Ana Reis" }).click();
  await expect(page.getByRole("region", { name: "Changes" })).toContainText("Keeper → Registrar");

  await open(page, report);
  await page.getByRole("button", { name: "Take the import back" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Taken back: 2 people went again");
  await page.getByRole("button", { name: "Import it again after all" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 new people on the list");
  await page.getByRole("button", { name: "Take the import back" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Taken back: 2 people went again");
  await open(page, "/prospects?q=vidro.example");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("1 person matches");
  await expect(page.getByText("Keeper")).toBeVisible();
});

test("people are filtered, chosen across pages and changed together, and it can be taken back", async ({
  page,
}) => {
  await signIn(page, "Helga Lund"); // some of them are colleagues', whom a manager may change
  await open(page, "/prospects");
  await page.getByRole("button", { name: "Filter", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Value").fill("conserv");
  await expect(dialog.getByRole("heading")).toHaveText(/^\d+ people match$/);
  await dialog.getByRole("button", { name: /^Show \d+ people/ }).click();
  await expect(page.getByRole("button", { name: "Job title contains conserv" })).toBeVisible();
  await page.getByRole("checkbox", { name: "Select row" }).first().check();
  await page.getByRole("button", { name: /^Choose all \d+/ }).click();
  await page.getByRole("button", { name: "Owner" }).click();
  await page.getByRole("menuitem", { name: "Rui Abrantes" }).click();
  await expect(page.getByRole("alert")).toContainText(/^\d+ people changed/);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("alert")).toContainText(/Taken back for \d+ people/);
});

test("two entries of one person are merged into the one that is kept", async ({ page }) => {
  await signIn(page, "Helga Lund");
  await open(page, "/lists/5/duplicates");
  const pair = page.getByRole("region", { name: "Robert Macleod and Robert MacLeod" });
  const keep = pair.getByRole("button", { name: "Keep robert.macleod@clyde-archive.example" });
  const before = await pair.boundingBox();
  await keep.click();
  // The card keeps its place, so that nobody presses what slid under the hand.
  const merged = page.getByText(
    "bob.macleod@clyde-archive.example became one with robert.macleod@clyde-archive.example.",
  );
  await expect(merged).toBeVisible();
  const after = await page.locator("[data-row]").filter({ has: merged }).boundingBox();
  expect(Math.round(after?.height ?? 0)).toBe(Math.round(before?.height ?? 1));
  await open(page, "/prospects?q=clyde-archive");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("1 person matches");

  await open(page, "/undo");
  const offer = page
    .locator("main > div")
    .filter({ hasText: "Robert Macleod became one with Robert MacLeod" });
  await offer.getByRole("button", { name: "Undo" }).first().click();
  await expect(page.getByText("Taken back.")).toBeVisible();
  await open(page, "/prospects?q=clyde-archive");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 people match");
});

test("whoever fills in a list's web form lands on it", async ({ page, request }) => {
  await open(page, "/lists/5/form");
  await page.getByRole("button", { name: "Open a form" }).click();
  const snippet = (await page.getByLabel("HTML of the form").textContent()) ?? "";
  const action = snippet.match(/action="([^"]+)"/)?.[1] ?? "";
  const send = (form: Record<string, string>) => request.post(action, { form });
  expect((await send({ email: "no address", first_name: "X" })).status()).toBe(400);
  const answer = await send({ email: "odessa@cedar-house.example", first_name: "ODESSA", rooms: "12" });
  expect(await answer.text()).toContain("Thank you");
  await open(page, "/prospects?q=odessa%40cedar");
  await page.getByRole("link", { name: "Odessa" }).click();
  await expect(
    page.getByText("From the web form of “Cards from the fair”, unless something else is said."),
  ).toBeVisible();
});
