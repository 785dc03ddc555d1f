/** A file that goes as a link: locked, read page by page by whoever it was sent to, saved; and what the rep sees of it. */
import { type Browser, expect, type Page, test } from "@playwright/test";
import { HOUR } from "../core/calendar.ts";
import { LENDERS_SHEET } from "../demo/lenders-sheet.ts";
import { fileLink } from "../server/mail/file-links.ts";
import { addMailbox, addPeople, rows, type World } from "../server/tests/world.ts";
import { chooseForSequence, emailText, open, saveAndStart, writeSequence } from "./desk.ts";
import { OwnWorld } from "./own-world.ts";

const MARTA = "marta@quillwater.example";
const IDA = "ida@ida-museum.example";

/** A picture of one point. */
const DOT = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
  "base64",
);

let own: OwnWorld;
let world: World;
let page: Page;

test.beforeAll(async ({ browser }) => {
  own = await OwnWorld.create(async (made) => {
    world = made.world;
    await addMailbox(world, MARTA, { dailyLimit: 400, gapLeast: 0, gapMost: 0 });
    addPeople(world, ["ida"], "Readers");
    addPeople(world, ["ola"], "Others");
    world.app.db.exec("UPDATE prospects SET owner_id = 1, verdict = 'good', verdict_at = 1");
    await made.reads(IDA);
  });
  page = await own.signedIn(browser);
});
test.beforeEach(() => own.morning());
test.afterAll(async () => {
  await page.context().close();
  await own.close();
});

/** Somebody outside, with a browser that says it is a person's. */
async function outside(browser: Browser, more: object = {}): Promise<Page> {
  const context = await browser.newContext({
    ...{ baseURL: own.address, viewport: { width: 390, height: 844 }, locale: "en-GB" },
    storageState: { cookies: [], origins: [] },
    userAgent:
      "Mozilla/5.0 (Linux; Android 16; Pixel) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0 Mobile Safari/537.36",
    ...more,
  });
  return context.newPage();
}

/** Keeps a file as it is, whatever it holds; its link for Ola. */
function fileFor(name: string, type: string, bytes: Buffer): string {
  const { lastInsertRowid } = world.app.db
    .prepare("INSERT INTO files (name, type, bytes, user_id, at) VALUES (?, ?, ?, 1, 1)")
    .run(name, type, bytes);
  const [ola] = rows<{ id: number }>(world, "SELECT id FROM prospects WHERE first_name = 'ola'");
  return fileLink(world.app, Number(lastInsertRowid), ola?.id ?? 0);
}

test("a locked file is opened with its password, read to its second page and saved, and the rep sees it", async ({
  browser,
}) => {
  await writeSequence(page, "The sheet");
  await page.getByLabel("Subject").fill("The sheet of a loan");
  await emailText(page).fill("Here is what a lender gets.");
  await page
    .getByLabel("Attachment")
    .setInputFiles({ name: "A lender's sheet.pdf", mimeType: "application/pdf", buffer: LENDERS_SHEET });
  await expect(page.getByText(/hold back or refuse attachments of somebody they do not know/)).toBeVisible();
  await page.getByLabel("It goes", { exact: true }).selectOption("as a link to look at");
  await page.getByRole("button", { name: "Password and end" }).click();
  const lock = page.getByRole("dialog");
  await lock.getByLabel("It asks for a password").check();
  await lock.getByRole("button", { name: "Keep it so" }).click();
  await expect(lock.getByText("Type the password, or take the tick off.")).toBeVisible();
  await lock.getByLabel("The password").fill("humid lantern");
  await lock.getByLabel("It ends after so many days").fill("30");
  await lock.getByRole("button", { name: "Keep it so" }).click();
  await expect(lock).toBeHidden();
  await chooseForSequence(page, "Readers", [MARTA]);
  await saveAndStart(page, 1);
  await own.passes(4 * HOUR);

  const [letter] = await own.received(IDA);
  expect(letter?.attachments).toEqual([]);
  const link = /\/look\/[\w.-]+/.exec(letter?.text ?? "")?.[0] ?? "";
  expect(link).not.toBe("");

  // Whoever opens it within seconds of its sending is no person.
  await own.passes(HOUR);
  const reader = await outside(browser);
  const letterforms: number[] = [];
  reader.on("response", (response) => {
    if (response.url().includes("/pdf/standard_fonts/")) letterforms.push(response.status());
  });
  await open(reader, link);
  await expect(reader.getByRole("heading", { level: 1 })).toHaveText("This file is locked");
  // Not even its name is said, and its bytes are not handed out.
  expect(await reader.content()).not.toContain("lender");
  expect((await reader.request.get(`${link}/file`)).status()).toBe(404);
  await reader.getByLabel("Password").fill("humid lanterns");
  await reader.getByRole("button", { name: "Open it" }).click();
  await expect(reader.getByText("This is not the password.")).toBeVisible();
  await reader.getByLabel("Password").fill("humid lantern");
  await reader.getByRole("button", { name: "Open it" }).click();
  await expect(reader.getByRole("heading", { level: 1 })).toHaveText("A lender's sheet.pdf");
  await expect(reader.getByText("Page 1 of 4", { exact: false }).first()).toBeVisible();
  // The page is drawn, and said to whoever has it read out.
  await expect
    .poll(() =>
      reader.locator("[data-page='1'] canvas").evaluate((canvas: HTMLCanvasElement) => {
        const { data } = canvas.getContext("2d")?.getImageData(0, 0, canvas.width, canvas.height) ?? {
          data: [],
        };
        return data.some((value, nth) => nth % 4 === 0 && value < 100);
      }),
    )
    .toBe(true);
  await expect(reader.getByRole("region", { name: "Page 1 of 4" })).toContainText("from Bremen to Trondheim");
  // A letterform that the file names and does not bring comes from here, not from the reader's machine.
  expect(letterforms).toEqual([200]);
  const seconds = () =>
    JSON.parse(
      rows<{ seconds: string }>(world, "SELECT seconds FROM file_looks")[0]?.seconds ?? "{}",
    ) as Record<string, number>;
  await expect.poll(() => seconds()["1"] ?? 0).toBeGreaterThan(1);
  await reader.locator("[data-page='2']").evaluate((sheet) => sheet.scrollIntoView({ block: "center" }));
  await expect(reader.getByRole("main")).toContainText("Page 2 of 4");
  await expect.poll(() => seconds()["2"] ?? 0).toBeGreaterThan(1);
  const [saved] = await Promise.all([
    reader.waitForEvent("download"),
    reader.getByRole("link", { name: "Save it" }).click(),
  ]);
  expect(saved.suggestedFilename()).toBe("A lender's sheet.pdf");
  await reader.context().close();

  const [ida] = rows<{ id: number }>(world, "SELECT id FROM prospects WHERE first_name = 'ida'");
  await open(page, `/prospects/${ida?.id}`);
  await expect(page.getByRole("region", { name: "Files they were sent" })).toContainText(
    /[23] of 4 pages in .*saved on/,
  );
  const happened = page.getByRole("region", { name: "What happened" });
  await expect(happened).toContainText(/Looked at A lender's sheet\.pdf: [23] of 4 pages in/);
  await expect(happened).toContainText("Saved A lender's sheet.pdf");
  await open(page, "/results?show=files");
  await page.getByRole("link", { name: "A lender's sheet.pdf" }).click();
  await expect(page.getByRole("list", { name: "How far they come" }).getByRole("listitem")).toHaveText([
    /^Page 11 reader/,
    /^Page 21 reader/,
    /^Page 3/,
    /^Page 4/,
  ]);
  await expect(page.getByRole("group", { name: "Who looked at A lender's sheet.pdf" })).toContainText(
    "longest on page",
  );
  // She who looks at it from here is no reader of it.
  await open(page, `/prospects/${ida?.id}`);
  const before = JSON.stringify(seconds());
  const look = await page.getByRole("link", { name: "A lender's sheet.pdf" }).getAttribute("href");
  await open(page, look ?? "");
  await page.getByLabel("Password").fill("humid lantern");
  await page.getByRole("button", { name: "Open it" }).click();
  await expect(page.locator("[data-page='1'] canvas")).toBeVisible();
  expect(JSON.stringify(seconds())).toBe(before);
});

test("what cannot be shown is said, and can be saved, also without scripts", async ({ browser }) => {
  const broken = fileFor("broken.pdf", "application/pdf", Buffer.from("%PDF-1.7\nnothing of one"));
  const table = fileFor("figures.csv", "text/csv", Buffer.from("a,b\n1,2\n"));
  const page4 = fileFor("page.html", "text/html", Buffer.from("<script>document.title='in'</script>"));
  const reader = await outside(browser);
  await open(reader, broken);
  await expect(reader.getByText("It cannot be shown here. Save it to look at it.")).toBeVisible();
  await open(reader, table);
  await expect(reader.getByText("Save it to look at it.", { exact: true })).toBeVisible();
  // A picture is shown as it is, and looked at like a page.
  const drawn = fileFor("drawing.png", "image/png", DOT);
  await open(reader, drawn);
  await expect(reader.getByRole("img", { name: "drawing.png" })).toBeVisible();
  await expect
    .poll(
      () => rows(world, "SELECT 1 FROM events WHERE kind = 'file_opened' AND detail = 'drawing.png'").length,
    )
    .toBe(1);
  // Nothing that somebody put in is shown as a page of ours.
  const html = await reader.request.get(`${page4}/file`);
  expect(html.headers()).toMatchObject({
    "content-type": "application/octet-stream",
    "content-disposition": expect.stringContaining("attachment"),
  });
  await reader.goto(`${broken.slice(0, -2)}xx`);
  await expect(reader.getByText("This file is no longer here.")).toBeVisible();
  await reader.context().close();

  const plain = await outside(browser, { javaScriptEnabled: false });
  const sheet = fileFor("sheet.pdf", "application/pdf", LENDERS_SHEET);
  await plain.goto(`${sheet}?lang=de`);
  await expect(plain.locator("html")).toHaveAttribute("lang", "de");
  const [saved] = await Promise.all([
    plain.waitForEvent("download"),
    plain.getByRole("link", { name: "Speichern" }).click(),
  ]);
  expect(saved.suggestedFilename()).toBe("sheet.pdf");
  await plain.context().close();
});
