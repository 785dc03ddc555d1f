/** What the tests do again and again at the desk. */
import { expect, type Page } from "@playwright/test";
import { STANDIN_URL } from "./addresses.ts";

/** Opens a page and waits until it answers, not only shows. */
export async function open(page: Page, path: string): Promise<void> {
  await page.goto(path, { waitUntil: "networkidle" });
  // On a busy machine the network rests before React has taken the page over.
  await page.waitForFunction(() => {
    const main = document.querySelector("main");
    return !main || Object.keys(main).some((key) => key.startsWith("__reactFiber"));
  });
}

export async function signIn(page: Page, name = "Marta Quintela"): Promise<void> {
  await page.goto("/sign-in");
  await page.getByRole("button", { name: `Open the demo as ${name}` }).click();
  await expect(page.getByTestId("clock")).toBeVisible();
}

/** Presses one of the demo clock's buttons and waits until the world has come to rest again. */
export async function moveClock(page: Page, button: "Next event" | "Next morning"): Promise<void> {
  const before = await page.getByTestId("clock").textContent();
  await page.getByRole("button", { name: button }).click();
  await expect(page.getByTestId("clock")).not.toHaveText(before ?? "", { timeout: 240_000 });
  await expect(page.getByRole("button", { name: button })).toBeVisible({ timeout: 240_000 });
}

export async function tellStandin(path: string, body?: unknown): Promise<unknown> {
  const answer = await fetch(STANDIN_URL + path, {
    method: "POST",
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
  await page.getByLabel("Writes to the list").click();
  await page.getByRole("option", { name: new RegExp(`^${list} `) }).click();
  for (const box of await page.getByRole("checkbox", { name: /@/ }).all()) await box.uncheck();
  for (const mailbox of mailboxes)
    await page.getByRole("checkbox", { name: new RegExp(`^${mailbox.replaceAll(".", "\\.")}`) }).check();
}
