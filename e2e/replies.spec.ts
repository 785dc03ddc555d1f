/** The reading desk, Today and meetings, on a world of their own whose mail is really delivered and read. */
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { expect, type Page, type Request, test } from "@playwright/test";
import { DAY, HOUR } from "../core/calendar.ts";
import type { Path } from "../core/sequence/path.ts";
import { setDemoClock } from "../server/clock.ts";
import type { Engine } from "../server/engine/tick.ts";
import { addCalendar, stopReadingCalendars } from "../server/meetings/calendars.ts";
import { signLink } from "../server/secrets.ts";
import {
  addJourney,
  addMailbox,
  addPeople,
  addSequence,
  email,
  rows,
  TUESDAY,
  type World,
} from "../server/tests/world.ts";
import { addressOf, open } from "./desk.ts";
import { OwnWorld } from "./own-world.ts";

const NAMES = Array.from({ length: 26 }, (_, nth) => `p${String.fromCharCode(97 + nth)}`);

let world: World;
let own: OwnWorld;
let engine: Engine;
let address: string;
let page: Page;

const CALL: Path = [
  {
    id: "ring",
    kind: "call",
    name: "Ring",
    note: "",
    wait: { days: 0, working: true },
    text: "Ask about the loans.",
    journey: "waits",
  },
  email("after", 0, { name: "After the call", subject: "As we spoke", body: "As we spoke." }),
] as Path;

test.describe.configure({ mode: "serial" });

test.beforeAll(async ({ browser }) => {
  own = await OwnWorld.create(async (made) => {
    world = made.world;
    engine = made.engine;
    address = made.address;
    const mailboxId = await addMailbox(world, "marta@quillwater.example", {
      dailyLimit: 200,
      gapLeast: 0,
      gapMost: 0,
    });
    const list = addPeople(world, NAMES);
    const sequence = addSequence(world, list, [mailboxId]);
    for (let id = 1; id <= NAMES.length; id++) addJourney(world, sequence, id);
    world.app.db.exec("UPDATE sequences SET state = 'running'; UPDATE prospects SET owner_id = 1");
    await made.until(TUESDAY + HOUR);
  });
  page = await own.signedIn(browser);
});
test.afterAll(async () => {
  await page.context().close();
  await own.close();
  await stopReadingCalendars();
});

/** Somebody writes back; the engine reads it. */
async function writes(
  name: string,
  text: string,
  more: { subject?: string; headers?: string } = {},
): Promise<void> {
  const [touch] = rows<{ messageId: string }>(
    world,
    `SELECT t.message_id AS messageId FROM touches t JOIN prospects p ON p.id = t.prospect_id WHERE p.email LIKE '${name}@%' AND t.state = 'sent'`,
  );
  await world.tell("/deliver", {
    mailbox: "marta@quillwater.example",
    raw: `From: ${name} <${name}@${name}-museum.example>\r\nTo: marta@quillwater.example\r\nMessage-ID: <${name}.${text.length}@reply>\r\nIn-Reply-To: ${touch?.messageId}\r\nSubject: ${more.subject ?? "Re: Loans"}\r\n${more.headers ?? ""}Content-Type: text/plain; charset=utf-8\r\n\r\n${text}\r\n`,
  });
}
const idOf = (name: string) => NAMES.indexOf(name) + 1;
const journeyOf = (name: string) =>
  rows<{ state: string }>(world, `SELECT state FROM journeys WHERE prospect_id = ${idOf(name)}`)[0]?.state;

const LETTERS: [key: string, label: string, text: string][] = [
  ["1", "interested", "Sounds good, can we speak next week?"],
  ["1", "interested", "Klingt gut, schlagen Sie einen Termin vor."],
  ["1", "interested", "Please send us a quote for ten."],
  ["2", "question", "How often do they have to be calibrated?"],
  ["2", "question", "Quanto custa por sala?"],
  ["2", "question", "Is the data kept in Europe?"],
  ["3", "not_now", "Not this year, please ask again in January."],
  ["3", "not_now", "Nous sommes en plein montage, revenez vers moi en septembre."],
  ["4", "not_interested", "No thanks, we are well served."],
  ["4", "not_interested", "Kein Interesse, danke."],
  ["4", "not_interested", "We have our own system and no plan to change it."],
  ["5", "wrong_person", "I am not the right person, please contact Ed Norris, ed.norris@pl-museum.example."],
  ["5", "wrong_person", "No soy la persona indicada, hable con compras."],
  ["7", "opt_out", "Please take me off your list."],
  ["7", "opt_out", "Ne m'écrivez plus, merci."],
  ["1", "interested", "Yes, I would like to see a demo."],
  ["2", "question", "Does it work without a network?"],
  ["3", "not_now", "Too busy at the moment, try me in the autumn."],
  ["4", "not_interested", "We do not need this."],
  ["1", "interested", "Happy to talk, Thursday at two suits me."],
];

test("twenty replies are sorted and answered without a mouse", async () => {
  const letters = () => rows(world, "SELECT id FROM replies").length;
  const before = letters();
  for (const [nth, [, , text]] of LETTERS.entries()) await writes(NAMES[nth] as string, text);
  // On a busy machine one look at the mailbox does not bring them all.
  await expect
    .poll(async () => {
      await engine.tick();
      return letters() - before;
    })
    .toBe(LETTERS.length);
  await open(page, "/replies");
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("20 replies to read");
  const current = page.getByRole("navigation", { name: "Replies" }).locator('[aria-current="true"]');
  const body = page.locator("body");
  for (let left = 20; left > 0; left--) {
    const name = ((await current.getByText(/^p[a-z]$/).textContent()) ?? "").trim();
    const [key, label] = LETTERS[NAMES.indexOf(name)] as (typeof LETTERS)[number];
    await body.press(key);
    await expect
      .poll(
        () =>
          rows<{ key: string }>(
            world,
            `SELECT l.key FROM replies r JOIN labels l ON l.id = r.label_id WHERE r.prospect_id = ${idOf(name)}`,
          )[0]?.key,
      )
      .toBe(label);
    if (key === "1" || key === "2") {
      await body.press(key === "1" ? "t" : "d");
      await page.keyboard.press("Control+Enter");
      await expect(page.getByText("goes out in a moment")).toBeVisible();
    }
    if (left === 1) break;
    // After a plain no the next one opens by itself.
    if (["1", "2", "3", "5"].includes(key)) await body.press("j");
    await expect(current).not.toHaveText(new RegExp(`^${name}`));
  }
  await expect(heading).toHaveText("Every reply has been read");
  await engine.tick();
  const answered = rows<{ n: number; times: number }>(
    world,
    "SELECT count(*) AS n, sum(body LIKE '%' || char(10) || '– %') AS times FROM touches WHERE kind = 'answer' AND state = 'sent'",
  )[0];
  expect(answered).toEqual({ n: 9, times: 5 });
  // Both who asked for it are never written to again.
  expect(rows(world, "SELECT value FROM block_list")).toHaveLength(2);
});

/** Holds what the page sends until it is told to let it go. */
async function holdForms(path: RegExp): Promise<() => void> {
  let letGo = () => {};
  const released = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route(path, async (route) => {
    if (route.request().method() === "POST") await released;
    await route.fallback();
  });
  return letGo;
}

test("keys that are faster than the server are all heard, and an answer that left is no draft again", async () => {
  for (const name of ["pa", "pb"]) await writes(name, "Thanks, but no thanks.");
  await engine.tick();
  await open(page, "/replies");
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("2 replies to read");
  const current = page.getByRole("navigation", { name: "Replies" }).locator('[aria-current="true"]');
  const body = page.locator("body");
  const release = await holdForms(/\/replies\.data/);
  const first = (await current.textContent()) ?? "";
  await body.press("4");
  await expect(current).not.toHaveText(first);
  await body.press("4");
  release();
  await expect(heading).toHaveText("Every reply has been read");

  for (const name of ["pq", "pf"]) await writes(name, "And how long does that take?");
  await engine.tick();
  await open(page, "/replies");
  await expect(heading).toHaveText("2 replies to read");
  const name = (await current.getByText(/^p[a-z]$/).textContent()) ?? "";
  const keep = await holdForms(/\/replies\/draft/);
  const isKept = page.waitForResponse(/\/replies\/draft/);
  const send = await holdForms(/\/replies\.data/);
  await body.press("d");
  await page.keyboard.press("Control+Enter");
  await page.keyboard.press("j");
  await expect(current).not.toHaveText(new RegExp(`^${name}`));
  send();
  await expect(heading).toHaveText("1 reply to read");
  keep();
  await isKept;
  const [answered] = rows<{ id: number }>(
    world,
    `SELECT max(id) AS id FROM replies WHERE prospect_id = ${idOf(name)}`,
  );
  await open(page, `/replies?show=people&reply=${answered?.id}`);
  await expect(current).toHaveText(new RegExp(`^${name}`));
  await expect(page.getByText("goes out in a moment")).toBeVisible();
  await expect(page.getByLabel(`Answer ${name}`)).toHaveValue("");

  // A letter behind a G is meant for the desk, whatever it does on this page.
  await body.press("g");
  await body.press("t");
  await expect(heading).toContainText("Marta");
  await open(page, "/replies");
  await expect(page.getByLabel(/^Answer /)).toHaveValue("");
  await body.press("2");
  await expect(heading).toHaveText("Every reply has been read");
});

test("whoever goes on before the page has come to rest gets there", async () => {
  await writes("pa", "One more thing: who comes to put them up?");
  await engine.tick();
  await open(page, "/");
  // As soon as the address is that of the replies, and before they are shown.
  await page.evaluate(() => {
    const push = history.pushState.bind(history);
    history.pushState = (...entry) => {
      push(...entry);
      history.pushState = push;
      setTimeout(() => document.querySelector<HTMLElement>('a[href="/sequences"]')?.click());
    };
  });
  await page.locator("body").press("g");
  await page.locator("body").press("r");
  await expect(page).toHaveURL(/\/sequences$/);
  await page.waitForTimeout(1_000);
  await expect(page).toHaveURL(/\/sequences$/);
  await open(page, "/replies");
  await page.locator("body").press("2");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Every reply has been read");
});

test("a label says before what it will do, and one press takes back all of it", async () => {
  await writes("pu", "Hm, let me think about it.");
  await engine.tick();
  await open(page, "/replies");
  const margin = page.getByRole("complementary");
  await page.getByRole("button", { name: /Not interested/ }).hover();
  await expect(margin).toContainText("If you mark it not interested");
  await expect(margin).toContainText("Moves pu from In conversation to Lost");
  await page.locator("body").press("7");
  await expect(page.getByText("pu: opt-out.")).toBeVisible();
  await expect.poll(() => rows(world, "SELECT value FROM block_list").length).toBe(3);
  await page.locator("body").press("u");
  await expect.poll(() => rows(world, "SELECT value FROM block_list").length).toBe(2);
  expect(rows(world, `SELECT stage FROM prospects WHERE id = ${idOf("pu")}`)).toEqual([
    { stage: "in_conversation" },
  ]);
});

test("an answer that is being written is kept for its conversation: through a reload, and in another tab", async () => {
  for (const name of ["px", "py"]) await writes(name, "Which rooms would you begin with?");
  await engine.tick();
  await open(page, "/replies");
  const field = page.getByLabel(/^Answer /);
  const choose = async (name: string) => {
    const chosen = page.getByRole("navigation", { name: "Replies" }).getByRole("button", { name: name });
    await chosen.click();
    await expect(chosen).toHaveAttribute("aria-current", "true");
  };
  await choose("px");
  await field.fill("Half an answer");
  await choose("py");
  await expect(field).toHaveValue("");
  await field.fill("Another one");
  await page.reload();
  await expect(field).toHaveValue("Another one");
  await choose("px");
  await expect(field).toHaveValue("Half an answer");
  const kept = page.waitForResponse(
    (response) =>
      response.url().endsWith("/replies/draft") && (response.request().postData() ?? "").includes("and+more"),
  );
  await field.fill("Half an answer, and more");
  await kept;
  const tab = await page.context().newPage();
  await open(tab, await addressOf(page));
  await expect(tab.getByLabel(/^Answer /)).toHaveValue("Half an answer, and more");
  await tab.close();
});

test("what one tab says of a letter stands in another at once, and the letter that is open there stays open", async () => {
  const tab = await page.context().newPage();
  await open(tab, "/replies");
  const unread = tab.getByRole("tab", { name: /^To read \d+/ });
  const before = Number((await unread.textContent())?.match(/\d+/)?.[0]);
  await tab.getByRole("navigation", { name: "Replies" }).getByRole("button", { name: "px" }).click();
  await tab.getByLabel("Answer px").fill("What I was about to say");
  await open(page, "/replies");
  await page.getByRole("navigation", { name: "Replies" }).getByRole("button", { name: "px" }).click();
  // The labels beside are still those of the letter before until this one is open.
  await expect(page.getByLabel("Answer px")).toBeVisible();
  const label = page.getByRole("group", { name: "Labels" }).getByRole("button", { name: /Question/ });
  await label.click();
  const there = tab.getByRole("group", { name: "Labels" }).getByRole("button", { name: /Question/ });
  await expect(there).toHaveAttribute("aria-pressed", "true");
  await expect(unread).toHaveText(`To read ${before - 1}`);
  await expect(tab.getByLabel("Answer px")).toHaveValue("What I was about to say");
  await tab.getByLabel("Answer px").fill("");
  await tab.close();
});

test("an absence pauses until its day, and the sequence goes on after it", async () => {
  await writes(
    "pv",
    "I am out of the office until 19 June. Dora Lind (dora.lind@pv-museum.example) helps you meanwhile.",
    {
      subject: "Automatic reply: Loans",
      headers: "Auto-Submitted: auto-replied\r\n",
    },
  );
  await engine.tick();
  await open(page, "/replies?show=automatic");
  await expect(page.getByText("Dora Lind answers while they are away")).toBeVisible();
  await expect(page.getByRole("group", { name: "Back on" }).locator("input")).toHaveValue("19 Jun 2026");
  expect(journeyOf("pv")).toBe("active");
  const sentTo = async () =>
    (await world.deliveries()).filter(({ recipient }) => recipient.startsWith("pv@")).length;
  await own.until(TUESDAY + 10 * DAY);
  expect(await sentTo()).toBe(1);
  await own.until(TUESDAY + 14 * DAY);
  expect(await sentTo()).toBe(2);
});

test("the wrong person leads to the right one: added, thanked and written to in one press", async () => {
  await open(page, "/replies?label=wrong_person");
  await page
    .getByRole("navigation", { name: "Replies" })
    .getByRole("button", { name: /Ed Norris/ })
    .click();
  const panel = page.getByRole("region", { name: "They name Ed Norris" });
  await expect(panel.getByLabel("Address")).toHaveValue("ed.norris@pl-museum.example");
  await expect(panel.getByLabel("The first letter", { exact: true })).toHaveValue(/^Dear Ed,/);
  await panel.getByRole("button", { name: "Add them, and send both" }).click();
  await expect(page.getByText(/They are a prospect now, and the first letter goes/)).toBeVisible();
  await own.passes(DAY);
  const to = (await world.deliveries()).map(({ recipient }) => recipient);
  expect(to).toContain("ed.norris@pl-museum.example");
});

test("a call's outcome moves its sequence, and wrong numbers are forgotten", async () => {
  addPeople(world, ["qa", "qb"], "Callers");
  const ids = rows<{ id: number }>(world, "SELECT id FROM prospects WHERE email LIKE 'q_@%' ORDER BY id").map(
    ({ id }) => id,
  );
  world.app.db.exec("UPDATE prospects SET phone = '+351 210 000 000', owner_id = 1 WHERE email LIKE 'q_@%'");
  const callers = addSequence(world, 2, [1], { path: CALL });
  for (const id of ids) addJourney(world, callers, id);
  world.app.db.exec("UPDATE sequences SET state = 'running'");
  setDemoClock(world.app.db, Date.parse("2026-06-25T10:00:00+01:00"), false);
  await engine.tick();
  await engine.tick();
  await open(page, "/");
  await page.getByRole("button", { name: /^Ring qa/ }).click();
  await expect(page.getByRole("complementary")).toContainText("+351 210 000 000");
  await expect(page.getByRole("complementary")).toContainText("Ask about the loans.");
  await page.getByLabel("Note").fill("Wants the sheet");
  await page.getByRole("button", { name: /^Reached/ }).click();
  await expect(page.getByRole("button", { name: /^Ring qa/ })).toHaveCount(0);
  await page.getByRole("button", { name: /^Ring qb/ }).click();
  await page.locator("body").press("4");
  await expect(page.getByRole("button", { name: /^Ring qb/ })).toHaveCount(0);
  await expect(page.getByRole("button", { name: /qb: Find another number/ })).toBeVisible();
  expect(rows(world, `SELECT phone FROM prospects WHERE id = ${ids[1]}`)).toEqual([{ phone: "" }]);
  await engine.tick();
  await own.passes(HOUR);
  const to = (await world.deliveries())
    .filter(({ subject }) => subject === "As we spoke")
    .map(({ recipient }) => recipient);
  expect(to).toContain("qa@qa-museum.example");
});

test("a booked call ends the chase; its visitor cannot move it into a busy time, and the owner is told", async ({
  browser,
}) => {
  let busy = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nEND:VCALENDAR\r\n";
  const feed: Server = createServer((_, response) => response.end(busy));
  await new Promise<void>((resolve) => feed.listen(0, "127.0.0.1", resolve));
  const url = `http://127.0.0.1:${(feed.address() as AddressInfo).port}/me.ics`;
  const slug = rows<{ slug: string }>(world, "SELECT booking_slug AS slug FROM users")[0]?.slug;
  const visitor = await browser.newPage({ baseURL: address, timezoneId: "Europe/Lisbon" });
  await open(visitor, `/book/${slug}?p=${signLink("booking", String(idOf("pw")), world.app.key)}`);
  const radios = visitor.getByRole("radio");
  const taken = Number(await radios.nth(4).getAttribute("value"));
  await radios.nth(2).check({ force: true });
  await visitor.getByLabel("Your phone number").fill("+351 210 000 000");
  await visitor.getByRole("button", { name: /^Book / }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("Booked:");
  expect(journeyOf("pw")).not.toBe("active");
  // Meanwhile something else comes into the rep's calendar, while the visitor looks at the times.
  await visitor.getByRole("link", { name: "Move it" }).click();
  const stamp = (at: number) => new Date(at).toISOString().replace(/[-:]|\.\d{3}/g, "");
  busy = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:${stamp(taken)}\r\nDTEND:${stamp(taken + HOUR / 2)}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
  expect((await addCalendar(world.app, 1, { name: "Work", url })).ok).toBe(true);
  await visitor.locator(`input[type=radio][value="${taken}"]`).check({ force: true });
  await visitor.getByRole("button", { name: /^Move it to / }).click();
  await expect(visitor.getByText(/Choose another/)).toBeVisible();
  await expect(visitor.locator(`input[type=radio][value="${taken}"]`)).toHaveCount(0);
  await visitor.getByRole("radio").nth(8).check({ force: true });
  await visitor.getByRole("button", { name: /^Move it to / }).click();
  await expect(visitor.getByRole("heading", { level: 1 })).toContainText("Booked:");
  await visitor.close();
  feed.close();

  await engine.tick();
  await engine.tick();
  await open(page, "/");
  await page.getByRole("button", { name: /^Notices, \d+ new/ }).click();
  await expect(page.getByText("pw, pw museum booked a call.")).toBeVisible();
  await expect(page.getByText("pw, pw museum moved the call.")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Notices", exact: true })).toBeVisible();
  const subjects = (await world.deliveries())
    .filter(({ recipient }) => recipient === "pw@pw-museum.example")
    .map(({ subject }) => subject);
  expect(subjects.at(-1)).toMatch(/^Moved: our call is on /);
});

test("a reply is told in the browser to whoever asked for that, and a browser that refuses it breaks nothing", async () => {
  const tab = await page.context().newPage();
  await page.context().grantPermissions(["notifications"]);
  await tab.addInitScript(() => {
    const told: string[] = [];
    class Recorder {
      static permission = "granted";
      static requestPermission = async () => "granted";
      constructor(title: string) {
        told.push(title);
        throw new TypeError("Illegal constructor");
      }
    }
    Object.assign(window, { Notification: Recorder, told });
  });
  await open(tab, "/settings?show=notices");
  const reply = tab.getByRole("checkbox", { name: "Somebody writes back: in the browser" });
  await reply.click();
  await expect(reply).toBeChecked();
  await tab.getByRole("button", { name: "Save what I am told" }).click();
  await expect(tab.getByText("Saved.")).toBeVisible();
  await open(tab, "/replies");
  await writes("pz", "What does one room cost?");
  await engine.tick();
  const told = () => tab.evaluate(() => (window as unknown as { told: string[] }).told);
  await expect.poll(told).toEqual([expect.stringContaining("pz")]);
  await expect(tab.getByRole("navigation", { name: "Replies" })).toContainText("What does one room cost?");
  await tab.close();
});

test("a page that has come fetches nothing again until something happens", async () => {
  const fetched: string[] = [];
  const note = (request: Request) => {
    if (new URL(request.url()).pathname.endsWith(".data")) fetched.push(request.url());
  };
  page.on("request", note);
  // What the tests before this one began can still come to its end: then something did happen, and it is asked again.
  await expect(async () => {
    fetched.length = 0;
    for (const path of ["/", "/prospects", "/sequences"]) {
      await Promise.all([page.waitForResponse(/\/live$/), open(page, path)]);
      // What a page takes for news, it fetches at once.
      await page.waitForTimeout(1_000);
    }
    expect(fetched).toEqual([]);
  }).toPass({ timeout: 60_000 });
  const again = page.waitForRequest(/\/sequences\.data/);
  await writes(NAMES[25] as string, "One thing more.");
  await engine.tick();
  await again;
  page.off("request", note);
});
