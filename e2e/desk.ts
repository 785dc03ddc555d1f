/** What the tests do again and again at the desk. */
import { join } from "node:path";
import { expect, type Locator, type Page, type Request } from "@playwright/test";
import Database from "better-sqlite3";
import { HERE } from "./addresses.ts";

/** What a page has sent and has no answer to. */
const sending = new WeakMap<Page, Set<Request>>();

function watchSending(page: Page): Set<Request> {
  const known = sending.get(page);
  if (known) return known;
  const under = new Set<Request>();
  sending.set(page, under);
  page.on("request", (request) => void (request.method() === "POST" && under.add(request)));
  page.on("requestfinished", (request) => void under.delete(request));
  page.on("requestfailed", (request) => void under.delete(request));
  return under;
}

/**
 * Opens a page and waits until it answers, not only shows. A line stays open for what changes, so the network never rests; but what was
 * pressed before arrives first: to leave a page takes back what it is still sending.
 */
export async function open(page: Page, path: string): Promise<void> {
  const under = watchSending(page);
  await expect.poll(() => under.size).toBe(0);
  await page.goto(path);
  await page.waitForFunction(
    () => !document.querySelector("main") || "answers" in document.documentElement.dataset,
  );
}

/** Where the page says that it is. `page.url()` is told from outside, and on a busy machine later than what the page shows. */
export const addressOf = (page: Page): Promise<string> => page.evaluate(() => location.href);

export async function signIn(page: Page, name = "Marta Quintela"): Promise<void> {
  await open(page, "/sign-in");
  await page.getByRole("button", { name: `Open the demo as ${name}` }).click();
  await expect(page.getByTestId("clock")).toBeVisible();
}

/** Presses one of the demo clock's buttons and waits until the world has come to rest again. */
export async function moveClock(page: Page, button: "Next event" | "Next morning"): Promise<void> {
  const before = await page.getByTestId("clock").textContent();
  await page.getByRole("button", { name: button }).click();
  await expect(page.getByTestId("clock")).not.toHaveText(before ?? "", { timeout: 240_000 });
  await expect(page.getByRole("button", { name: button })).toBeVisible({ timeout: 400_000 });
}

/**
 * Chooses from a menu and waits until it has closed: the next one would share the page with it. Opened by its key: a menu
 * can be pressed, drawn over and released, and on a busy machine a click is that long, and chooses what lies beneath it.
 */
export async function choose(page: Page, menu: Locator, option: string | RegExp): Promise<void> {
  await menu.press("ArrowDown");
  await page.getByRole("option", { name: option }).click();
  await expect(page.getByRole("listbox")).toBeHidden();
}

/** Types a day or a time, in digits, into a field that is one part after the other. */
export async function typeMoment(page: Page, name: string | RegExp, digits: string): Promise<void> {
  const exact = typeof name === "string";
  await page.getByRole("group", { name, exact }).getByRole("spinbutton").first().click();
  await page.keyboard.type(digits);
}

/** Presses what asks first, and then what it asks for. */
export async function pressTwice(page: Page, name: string, act = name): Promise<void> {
  await page.getByRole("button", { name, exact: true }).click();
  await page.getByRole("dialog").getByRole("button", { name: act, exact: true }).click();
}

/** What the demo's database holds, for what no screen shows: what was mailed to a stranger. */
export function inDemo<Row>(query: string): Row[] {
  const db = new Database(join(HERE.folder, "demo.db"), { readonly: true });
  try {
    return db.prepare<[], Row>(query).all();
  } finally {
    db.close();
  }
}

export async function tellStandin(path: string, body?: unknown): Promise<unknown> {
  const answer = await fetch(`http://127.0.0.1:${HERE.ports.http}${path}`, {
    method: "POST",
    // A line that rested for seconds may be closed at the moment at which it is used again.
    headers: { connection: "close" },
    body: body === undefined ? "" : JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return answer.json();
}

export interface Delivery {
  recipient: string;
  messageId: string;
  subject: string;
}

export async function deliveriesTo(recipient: string): Promise<Delivery[]> {
  const all = (await tellStandin("/deliveries")) as Delivery[];
  return all.filter((delivery) => delivery.recipient === recipient);
}

/** What somebody writes back to the email that last came to them, as their own program would send it. */
export async function writeBack(from: string, to: string, text: string): Promise<void> {
  const email = (await deliveriesTo(from)).at(-1);
  if (!email) throw new Error(`Nothing came to ${from} yet`);
  await tellStandin("/deliver", {
    mailbox: to,
    raw: [
      `From: ${from}`,
      `To: ${to}`,
      `Subject: Re: ${email.subject}`,
      `Message-ID: <${crypto.randomUUID()}@${from.split("@")[1]}>`,
      `In-Reply-To: ${email.messageId}`,
      "",
      text,
    ].join("\r\n"),
  });
}

export function csvFile(name: string, content: string | Buffer) {
  return { name, mimeType: "text/csv", buffer: Buffer.from(content as string) };
}

/** Imports a list through the page; returns when its report is shown. */
export async function importList(page: Page, listName: string, csv: string): Promise<void> {
  await open(page, "/prospects/import");
  await page.getByLabel("CSV or vCard file").setInputFiles(csvFile("people.csv", csv));
  await page.getByLabel("Name of the list").fill(listName);
  await page.getByRole("button", { name: /^Look through \d+ row/ }).click();
  await page.getByRole("button", { name: /^Import \d+ pe/ }).click();
  await expect(page.getByRole("heading", { level: 1, name: /on the list/ })).toBeVisible({
    timeout: 120_000,
  });
}

/** Creates a sequence for a list and leaves it open, unsaved changes made by `write`. */
export async function chooseForSequence(page: Page, list: string, mailboxes: string[]): Promise<void> {
  await page.getByRole("tab", { name: "Who, when, from where" }).click();
  await choose(page, page.getByLabel("Writes to the list"), new RegExp(`^${list} `));
  for (const box of await page.getByRole("checkbox", { name: /@/ }).all()) await box.uncheck();
  for (const mailbox of mailboxes)
    await page.getByRole("checkbox", { name: new RegExp(`^${mailbox.replaceAll(".", "\\.")}`) }).check();
}

/** Begins a sequence with an empty page, and leaves it open. */
export async function writeSequence(page: Page, name: string): Promise<void> {
  await open(page, "/sequences/new");
  await page.getByLabel("Name of the sequence").fill(name);
  await page.getByRole("button", { name: "Begin with an empty page" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(name);
}

/** The text of the email that is written. */
export const emailText = (page: Page) => page.getByRole("textbox", { name: "Text", exact: true });

export async function addStep(page: Page, kind: string): Promise<void> {
  await page.getByRole("button", { name: "Add a step" }).click();
  await page.getByRole("menuitem", { name: kind, exact: true }).click();
}

/** Saves, checks and starts; the page of the check is left open. */
export async function saveAndStart(page: Page, people: number): Promise<void> {
  await page.getByRole("button", { name: /^Save/ }).click();
  await page.getByRole("link", { name: `Check and start ${people}` }).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(
    `Started for ${people} ${people === 1 ? "prospect" : "prospects"}`,
  );
}
