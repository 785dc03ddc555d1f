/** Ways of working through a day: a morning on a phone, calls with what is to be said beside them, and the hour that suits a reader. */
import { expect, type Page, test } from "@playwright/test";
import { DAY, HOUR, hourOf, MINUTE } from "../core/calendar.ts";
import type { Path } from "../core/sequence/path.ts";
import { recordEvent } from "../server/db/events.ts";
import {
  addJourney,
  addMailbox,
  addPeople,
  addSequence,
  email,
  rows,
  type World,
} from "../server/tests/world.ts";
import { chooseForSequence, emailText, open, saveAndStart, writeSequence } from "./desk.ts";
import { OwnWorld } from "./own-world.ts";

const MARTA = "marta@quillwater.example";
const emailOf = (name: string) => `${name}@${name}-museum.example`;
const named = (letter: string, count: number) => Array.from({ length: count }, (_, nth) => `${letter}${nth}`);
const WRITERS = named("w", 10);
const CALLED = named("c", 6);
const MET = named("s", 5);
const BEST = "late";

let own: OwnWorld;
let world: World;
let page: Page;

const step = (kind: "call" | "invitation", text: string) => ({
  ...{ id: kind, kind, name: kind, note: "", wait: { days: 0, working: true }, text, journey: "waits" },
});

test.beforeAll(async ({ browser }) => {
  own = await OwnWorld.create(async (made) => {
    world = made.world;
    const box = await addMailbox(world, MARTA, { dailyLimit: 400, gapLeast: 0, gapMost: 0 });
    const begin = (list: string, names: string[], path: Path) => {
      const sequence = addSequence(world, addPeople(world, names, list), [box], { name: list, path });
      for (const { id } of rows<{ id: number }>(
        world,
        `SELECT id FROM prospects WHERE first_name IN (${names.map((name) => `'${name}'`).join()})`,
      ))
        addJourney(world, sequence, id);
    };
    begin("Writers", WRITERS, [email("one", 0, { subject: "Loans" })]);
    begin("Called", CALLED, [
      step("call", "Ask who keeps the record."),
      email("after", 0, { subject: "As we spoke", body: "As we spoke." }),
    ] as Path);
    begin("Met", MET, [step("invitation", "May we?")] as Path);
    addPeople(world, [BEST], "Late readers");
    world.app.db.exec(`UPDATE sequences SET state = 'running';
      UPDATE prospects SET owner_id = 1, verdict = 'good', verdict_at = 1, phone = '+351 210 000 00' || (id % 10)`);
    const [late] = rows<{ id: number }>(world, `SELECT id FROM prospects WHERE first_name = '${BEST}'`);
    const today = world.app.clock.now();
    for (let day = 1; day <= 30; day++)
      recordEvent(world.app.db, {
        // 10:00 in Lisbon is when the world begins.
        ...{ at: today - day * DAY + 5 * HOUR + 20 * MINUTE, kind: "replied", prospectId: late?.id ?? 0 },
      });
    for (const name of [BEST, ...CALLED]) await made.reads(emailOf(name));
    await made.passes(3 * HOUR);
    for (const name of WRITERS) {
      const [sent] = rows<{ messageId: string }>(
        world,
        `SELECT message_id AS messageId FROM touches WHERE recipient = '${emailOf(name)}' AND state = 'sent'`,
      );
      await world.tell("/deliver", {
        mailbox: MARTA,
        raw: `From: ${name} <${emailOf(name)}>\r\nTo: ${MARTA}\r\nMessage-ID: <${name}@answer>\r\nIn-Reply-To: ${sent?.messageId}\r\nSubject: Re: Loans\r\nContent-Type: text/plain; charset=utf-8\r\n\r\nHow long does it take for ${name}?\r\n`,
      });
    }
    await made.engine.tick();
  });
  page = await own.signedIn(browser);
});
test.afterAll(async () => {
  await page.context().close();
  await own.close();
});

test("a morning's work is done on a phone: ten replies, five calls, five social touches", async ({
  browser,
}) => {
  const phone = await own.signedIn(browser, { width: 390, height: 844 });
  /** Within reach of a thumb: at the foot, and large enough. */
  const thumb = async (name: string | RegExp) => {
    const press = phone.getByRole("button", { name }).first();
    await expect(press).toBeInViewport({ ratio: 1 });
    expect((await press.boundingBox())?.height).toBeGreaterThanOrEqual(44);
    await press.click();
  };
  await test.step("ten replies", async () => {
    await open(phone, "/replies");
    await phone.getByRole("navigation", { name: "Replies" }).getByRole("button").first().click();
    const labelled = () => rows(world, "SELECT 1 FROM replies WHERE labelled_by IS NOT NULL").length;
    // The address tells of the next letter a moment before it is there to be pressed for.
    const shown = () =>
      phone
        .getByText(/^Answer w\d$/)
        .first()
        .textContent();
    for (let nth = 1; nth <= WRITERS.length; nth++) {
      const before = await shown();
      await thumb(/Question$/);
      await expect.poll(labelled).toBe(nth);
      if (nth === WRITERS.length) break;
      await phone.getByRole("button", { name: "Next letter" }).click();
      await expect.poll(shown).not.toBe(before);
    }
  });
  const work = async (
    group: string,
    first: RegExp,
    count: number,
    press: string | RegExp,
    did: () => number,
    inSight?: string,
  ) => {
    await open(phone, `/?show=${group}`);
    const waiting = phone.getByRole("region", { name: "What waits for you" });
    const start = did();
    await waiting.getByRole("button", { name: first }).first().click();
    const current = waiting.locator('[aria-current="true"] > button h2');
    for (let nth = 1; nth <= count; nth++) {
      const whom = await current.textContent();
      if (inSight) await expect(phone.getByText(inSight).filter({ visible: true }).first()).toBeVisible();
      await thumb(press);
      await expect.poll(did).toBe(start + nth);
      if (nth < count) await expect(current).not.toHaveText(whom ?? "");
    }
  };
  const done = (kind: string) => () =>
    rows(world, `SELECT 1 FROM touches WHERE kind = '${kind}' AND state = 'done'`).length;
  await test.step("five calls, each with its number", () =>
    work("calls", /c\d/, 5, /^Reached/, done("call"), "+351 210 000 00"));
  await test.step("five social touches", () => work("social", /s\d/, 5, /^Done/, done("invitation")));
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await phone.context().close();
});

test("somebody is rung up with their number and what to say beside it, and gets the email after it", async () => {
  await open(page, "/?show=calls");
  const called = () => rows(world, "SELECT 1 FROM touches WHERE kind = 'call' AND state = 'done'").length;
  const before = called();
  const margin = page.getByRole("complementary");
  await expect(margin.getByRole("link", { name: /\+351 210 000 00\d/ })).toBeVisible();
  await expect(margin).toContainText("Ask who keeps the record.");
  await page.getByLabel("Note", { exact: true }).fill("Wants the sheet.");
  await page.getByRole("button", { name: /^Reached/ }).click();
  await expect.poll(called).toBe(before + 1);
  await own.passes(DAY);
  const letters = await Promise.all(CALLED.map((name) => own.received(emailOf(name))));
  expect(letters.flat().map(({ subject }) => subject)).toEqual(
    Array.from({ length: before + 1 }, () => "As we spoke"),
  );
});

test("an email of a sequence comes at the hour at which its reader is reached", async () => {
  await own.morning();
  await writeSequence(page, "At their hour");
  await page.getByLabel("Subject").fill("When it suits");
  await emailText(page).fill("Hello.");
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("checkbox", { name: "At their best hour, if it is known" }).check();
  await chooseForSequence(page, "Late readers", [MARTA]);
  await saveAndStart(page, 1);
  await own.passes(DAY);
  const [letter] = await own.received(emailOf(BEST));
  expect(letter?.subject).toBe("When it suits");
  expect(Math.floor(hourOf(letter?.date?.getTime() ?? 0, "Europe/Lisbon"))).toBe(15);
});
