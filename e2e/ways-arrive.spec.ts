/** Ways of working that end in what a reader finds in their mailbox, or in what is asked of the rep for it. */
import { expect, type Page, test } from "@playwright/test";
import { DAY, HOUR } from "../core/calendar.ts";
import { addMailbox, addPeople, rows, type World } from "../server/tests/world.ts";
import { choose, chooseForSequence, csvFile, emailText, open, saveAndStart, writeSequence } from "./desk.ts";
import { OwnWorld } from "./own-world.ts";

const MARTA = "marta@quillwater.example";
const emailOf = (name: string) => `${name}@${name}-museum.example`;
/** Who is on which list, each of their own. */
const LISTS = {
  Reused: ["ana"],
  Copied: ["bea"],
  Openers: ["caio", "dora"],
  Clickers: ["eva", "fabio"],
  Askers: ["gil", "hana", "ivo"],
  Silent: ["jana", "kai"],
  Blocked: ["lea", "max", "nils"],
  Invited: ["olga", "petr"],
  Early: ["quim"],
  Added: ["rosa", "sven"],
};
const MANY = 201;

let own: OwnWorld;
let world: World;
let page: Page;

test.beforeAll(async ({ browser }) => {
  own = await OwnWorld.create(async (made) => {
    world = made.world;
    await addMailbox(world, MARTA, { dailyLimit: 400, gapLeast: 0, gapMost: 0 });
    for (const [list, names] of Object.entries(LISTS)) addPeople(world, names, list);
    addPeople(
      world,
      Array.from({ length: MANY }, (_, nth) => `m${nth}`),
      "Very many",
    );
    world.app.db.exec(
      "UPDATE prospects SET owner_id = 1, verdict = 'good', verdict_at = 1, profile = 'https://vitrine.example/people/' || first_name",
    );
    for (const name of Object.values(LISTS).flat()) await made.reads(emailOf(name));
    await made.reads("seller@quillwater.example");
  });
  page = await own.signedIn(browser);
});
test.beforeEach(() => own.morning());
test.afterAll(async () => {
  await page.context().close();
  await own.close();
});

const email = (id: string, days: number, subject: string, body: string) => ({
  ...{ id, kind: "email", name: id, wait: { days, working: true } },
  variants: [{ id: "a", weight: 1, subject, body }],
});

/** Takes a sequence from a file, for a list and from Marta's mailbox. */
async function takeSequence(name: string, list: string, path: object[]): Promise<void> {
  await open(page, "/sequences/new");
  await page.getByLabel("Sequence file").setInputFiles({
    name: "sequence.json",
    mimeType: "application/json",
    buffer: Buffer.from(JSON.stringify({ format: "saudade-sequence", version: 1, name, path })),
  });
  await expect(page.getByRole("heading", { level: 1 })).toContainText(name);
  await chooseForSequence(page, list, [MARTA]);
}

/** The readers' own words for what came: its subjects, in order. */
const subjects = async (name: string) => (await own.received(emailOf(name))).map(({ subject }) => subject);

/** Loads or follows what a letter of ours holds, as its reader's program does. */
async function follow(name: string, what: RegExp): Promise<void> {
  const [letter] = await own.received(emailOf(name));
  const url = what.exec(letter?.html || "")?.[1];
  if (!url) throw new Error(`${name} got nothing with ${what}`);
  await fetch(url.replaceAll("&amp;", "&").replace("https://outreach.quillwater.example", own.address), {
    redirect: "manual",
    headers: { "user-agent": "Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101 Thunderbird/128.0" },
  });
}

async function answer(name: string, text: string): Promise<void> {
  const letter = (await own.received(emailOf(name))).at(-1);
  await world.tell("/deliver", {
    mailbox: MARTA,
    raw: `From: ${name} <${emailOf(name)}>\r\nTo: ${MARTA}\r\nMessage-ID: <${name}@answer>\r\nIn-Reply-To: ${letter?.messageId}\r\nSubject: Re: ${letter?.subject}\r\nContent-Type: text/plain; charset=utf-8\r\n\r\n${text}\r\n`,
  });
  await own.engine.tick();
}

/** Presses a label for what somebody wrote. */
async function label(name: string, text: string, words: string): Promise<void> {
  await open(page, "/replies?show=people");
  await page
    .getByRole("navigation", { name: "Replies" })
    .getByRole("button", { name: new RegExp(name, "i") })
    .click();
  await expect(page.getByRole("list", { name: "Conversation" })).toContainText(text);
  await page
    .getByRole("group", { name: "Labels" })
    .getByRole("button", { name: new RegExp(`^\\d ${words}$`) })
    .click();
  await expect
    .poll(
      () =>
        rows(
          world,
          `SELECT 1 FROM replies WHERE from_address = '${emailOf(name)}' AND labelled_by IS NOT NULL`,
        ).length,
    )
    .toBe(1);
}

test("what was written before, and a sentence that is kept, are put into a new email", async () => {
  await takeSequence("Spring loans", "Reused", [
    email("spring", 0, "Spring", "Our loggers **sit in the case**, {{ first_name }}."),
  ]);
  await page.getByRole("button", { name: /^Save/ }).click();
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();

  await writeSequence(page, "Autumn loans");
  await page.getByLabel("Subject").fill("Autumn");
  await emailText(page).fill("A sentence worth keeping.");
  await emailText(page).press("Control+a");
  await page.getByRole("button", { name: "Pieces" }).click();
  const dialog = page.getByRole("dialog", { name: "Pieces of text" });
  await dialog.getByLabel("Keep the text as").fill("Worth keeping");
  await dialog.getByRole("button", { name: "Keep it" }).click();
  await expect(dialog.getByRole("heading", { name: "Worth keeping" })).toBeVisible();
  await dialog.getByRole("button", { name: "Close" }).click();
  await emailText(page).press("End");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Pieces" }).click();
  await dialog.getByLabel("Search what was written before").fill("sit in the");
  await expect(dialog.getByRole("group")).toHaveCount(1);
  await expect(dialog.getByRole("group", { name: "Spring loans, spring" })).toContainText("‹first name›");
  await dialog.getByRole("group").getByRole("button", { name: "Put it in" }).click();
  await expect(emailText(page)).toContainText("sit in the case");
  await page.getByRole("button", { name: "Pieces" }).click();
  await dialog.getByRole("button", { name: "Put it in" }).first().click();
  await chooseForSequence(page, "Reused", [MARTA]);
  await saveAndStart(page, 1);
  await own.passes(4 * HOUR);
  const [letter] = await own.received(emailOf("ana"));
  expect(letter?.subject).toBe("Autumn");
  expect(letter?.html).toContain("<strong>sit in the case</strong>, ana.");
  expect(letter?.text?.match(/A sentence worth keeping\./g)).toHaveLength(2);
});

test("HTML from elsewhere goes out clean, and a colleague gets a copy that they see", async () => {
  await writeSequence(page, "With a copy");
  await page.getByLabel("Subject").fill("The list");
  await page.getByRole("button", { name: "HTML" }).click();
  await page
    .getByRole("textbox", { name: "HTML" })
    .fill(
      '<p>For <b>you</b>:</p><ul><li onclick="x()">one</li><li>two</li></ul><script>alert(1)</script><p><a href="https://quillwater.example/sheet">The sheet</a></p>',
    );
  await page.getByRole("button", { name: "Take this text" }).click();
  await chooseForSequence(page, "Copied", [MARTA]);
  await page.getByLabel("Copy to (cc)").fill("seller@quillwater.example");
  await saveAndStart(page, 1);
  await own.passes(4 * HOUR);
  const [letter] = await own.received(emailOf("bea"));
  expect(letter?.html).toContain("<li>one</li>");
  expect(letter?.html).toContain('<a href="https://quillwater.example/sheet">The sheet</a>');
  expect(letter?.html).not.toMatch(/script|onclick/);
  expect(letter?.text).toContain("The sheet");
  const copy = await own.received("seller@quillwater.example");
  expect(copy.map(({ messageId }) => messageId)).toEqual([letter?.messageId]);
  expect(letter?.cc).toMatchObject({ text: "seller@quillwater.example" });
});

test("whoever did not open gets another subject, whoever did the next thought", async () => {
  await takeSequence("By opens", "Openers", [
    email("one", 0, "Loans", "Hello {{ first_name }}"),
    {
      ...{ id: "fork", kind: "fork", ask: { about: "opened", stepId: "one" } },
      patience: { days: 1, working: true },
      yes: [email("yes", 1, "The next thought", "You looked.")],
      no: [email("no", 0, "Another subject", "Once more.")],
    },
  ]);
  await page.getByLabel("See opens").check();
  await saveAndStart(page, 2);
  await own.passes(4 * HOUR);
  await follow("caio", /<img src="([^"]+)"/);
  await own.passes(4 * DAY);
  expect(await subjects("caio")).toEqual(["Loans", "The next thought"]);
  expect(await subjects("dora")).toEqual(["Loans", "Another subject"]);
});

test("a click ends the sequence for whoever clicked", async () => {
  await takeSequence("Until they click", "Clickers", [
    email("one", 0, "Look", "Here: [the sheet](https://quillwater.example/sheet)"),
    email("two", 2, "Did you see it?", "Again."),
  ]);
  await page.getByLabel("See clicks").check();
  await page.getByRole("checkbox", { name: "they click a link" }).check();
  await saveAndStart(page, 2);
  await own.passes(4 * HOUR);
  await follow("eva", /<a href="([^"]*\/t\/c\/[^"]+)"/);
  await own.passes(6 * DAY);
  expect(await subjects("eva")).toEqual(["Look"]);
  expect(await subjects("fabio")).toEqual(["Look", "Did you see it?"]);
});

test("who is interested gets the sheet and is rung up, who is not gets nothing, and the goal counts it", async () => {
  await takeSequence("For the interested", "Askers", [
    email("one", 0, "Loans", "May we?"),
    {
      ...{ id: "fork", kind: "fork", ask: { about: "label", is: "interested" } },
      patience: { days: 5, working: true },
      yes: [email("sheet", 0, "The sheet", "Here it is.")],
      no: [{ id: "end", kind: "end" }],
    },
  ]);
  await choose(page, page.getByLabel("Success is"), /interested/i);
  await page.getByLabel("Then, on Today, do").fill("Ring them about the sheet");
  await saveAndStart(page, 3);
  await own.passes(4 * HOUR);
  await answer("gil", "Sounds good, please send the sheet.");
  await answer("hana", "No thanks, we are well served.");
  await label("gil", "Sounds good", "Interested");
  await label("hana", "No thanks", "Not interested");
  await own.passes(2 * DAY);
  expect(await subjects("gil")).toEqual(["Loans", "The sheet"]);
  expect(await subjects("hana")).toEqual(["Loans"]);
  await open(page, "/");
  // Whoever said no is no errand; what is to be said may stand beside it, too.
  await expect(page.getByRole("heading", { name: /^Errand: / })).toHaveText(["Errand: gil"]);
  await expect(page.getByText("Ring them about the sheet").first()).toBeVisible();
  await open(page, "/results");
  await expect(page.getByRole("main")).toContainText(/For the interested\s*33\s*2 · 67 %\s*1 · 33 %/);
});

test("those who never answered an earlier sequence get the next one", async () => {
  await takeSequence("First round", "Silent", [email("one", 0, "Round one", "Hello")]);
  await saveAndStart(page, 2);
  await own.passes(4 * HOUR);
  await answer("jana", "How much is it?");
  // Whoever was written to lately is left alone.
  await own.passes(32 * DAY);
  await own.morning();
  await open(page, "/prospects");
  await page.getByRole("button", { name: "Filter", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await choose(page, dialog.getByLabel("Field"), "Outcome of a sequence");
  await choose(page, dialog.getByLabel("Value"), "First round: got every step, never replied");
  await dialog.getByRole("button", { name: "Show 1 person" }).click();
  await expect(page.getByRole("row", { name: /kai/ })).toBeVisible();
  await page.getByRole("row", { name: /kai/ }).getByRole("checkbox").check();
  await page.getByRole("button", { name: "Write to this one" }).click();
  await page.getByRole("menuitem", { name: /new sequence/i }).click();
  await page.getByLabel("Name of list and sequence").fill("Second round");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Begin with an empty page" }).click();
  await page.getByLabel("Subject").fill("Round two");
  await emailText(page).fill("Once more.");
  await chooseForSequence(page, "Second round", [MARTA]);
  await saveAndStart(page, 1);
  await own.passes(DAY);
  expect(await subjects("kai")).toEqual(["Round one", "Round two"]);
  expect(await subjects("jana")).toEqual(["Round one"]);
});

test("a block list that is added to, and then replaced, says who is written to", async () => {
  const block = async (mode: RegExp, entry: string) => {
    await open(page, "/block-list");
    await page
      .getByLabel("CSV file of addresses and domains")
      .setInputFiles(csvFile("block.csv", `address\n${entry}\n`));
    await expect(page.getByLabel("Addresses and domains, one in each line")).toHaveValue(new RegExp(entry));
    await page.getByRole("radio", { name: mode }).check();
    await page.getByRole("button", { name: "See what changes" }).click();
    await page.getByRole("button", { name: /^(Block 1 entry|Replace: add 1, take off 1)$/ }).click();
    await expect(page.getByText(/^1 entry added[.,]/)).toBeVisible();
  };
  await block(/add/i, emailOf("lea"));
  await block(/replace/i, "max-museum.example");
  await takeSequence("Around the list", "Blocked", [email("one", 0, "Free again", "Hello")]);
  await saveAndStart(page, 2);
  await own.passes(4 * HOUR);
  expect(await Promise.all(["lea", "max", "nils"].map(subjects))).toEqual([
    ["Free again"],
    [],
    ["Free again"],
  ]);
});

test("an invitation carries its note, waits out a pause, and acceptance brings the message", async () => {
  await takeSequence("By acquaintance", "Invited", [
    {
      ...{ id: "invite", kind: "invitation", name: "Invite", wait: { days: 0, working: true } },
      ...{ text: "May we, {{ first_name }}?", skipAfter: 2 },
    },
    {
      ...{ id: "fork", kind: "fork", ask: { about: "accepted" }, patience: { days: 10, working: true } },
      yes: [
        {
          ...{ id: "thanks", kind: "social_message", name: "Thanks", wait: { hours: 1 } },
          text: "Thank you, {{ first_name }}.",
        },
      ],
      no: [email("instead", 0, "By mail instead", "Hello")],
    },
  ]);
  await saveAndStart(page, 2);
  await own.passes(4 * HOUR);
  await open(page, "/?show=social");
  await expect(page.getByText("May we, olga?").first()).toBeVisible();
  await open(page, "/sequences");
  await page.getByRole("link", { name: "By acquaintance" }).first().click();
  await page.getByRole("button", { name: "Pause", exact: true }).click();
  await page
    .getByRole("dialog")
    .getByRole("button", { name: /^Pause/ })
    .click();
  await expect(page.getByText("Paused", { exact: true }).first()).toBeVisible();
  // A week: far longer than an invitation waits.
  await own.passes(7 * DAY);
  await page.reload();
  await page.getByRole("button", { name: /^(Go on|Let it go on)$/ }).click();
  await page.getByRole("dialog").getByRole("button", { name: /go on/i }).click();
  await expect(page.getByText("Running", { exact: true }).first()).toBeVisible();
  await open(page, "/?show=social");
  const waiting = page.getByRole("heading", { name: /^Invitation: (?:olga|petr)/ });
  for (const nth of [0, 1]) {
    // While a press is on its way the page takes no other.
    await expect(waiting).toHaveCount(2 - nth);
    await page.getByRole("button", { name: /^Done/ }).first().click();
    await expect
      .poll(() => rows(world, "SELECT 1 FROM touches WHERE kind = 'invitation' AND state = 'done'").length)
      .toBe(nth + 1);
  }
  await open(page, "/prospects?q=olga");
  await page.getByRole("link", { name: /olga/i }).first().click();
  await page.getByRole("button", { name: "They accepted the invitation" }).click();
  await expect(page.getByRole("button", { name: "They accepted the invitation" })).toHaveCount(0);
  await own.passes(DAY);
  await open(page, "/?show=social");
  await expect(page.getByText("Thank you, olga.").first()).toBeVisible();
  await page.getByRole("button", { name: /^Done/ }).first().click();
  await expect
    .poll(() => rows(world, "SELECT 1 FROM touches WHERE kind = 'social_message' AND state = 'done'").length)
    .toBe(1);
  await own.passes(16 * DAY);
  expect(await subjects("olga")).toEqual([]);
  expect(await subjects("petr")).toEqual(["By mail instead"]);
});

test("more than two hundred ask for a second look", async () => {
  await takeSequence("For very many", "Very many", [email("one", 0, "To all", "Hello")]);
  await page.getByRole("button", { name: /^Save/ }).click();
  await page.getByRole("link", { name: `Check and start ${MANY}` }).click();
  await page.getByRole("button", { name: `Start for ${MANY}` }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("cannot be called back");
  await dialog.getByRole("button", { name: "Read some more" }).click();
  await expect(dialog).toHaveCount(0);
  expect(
    rows(
      world,
      "SELECT 1 FROM journeys j JOIN sequences s ON s.id = j.sequence_id WHERE s.name = 'For very many'",
    ),
  ).toEqual([]);
  await page.getByRole("button", { name: `Start for ${MANY}` }).click();
  await expect(dialog).toContainText("cannot be called back");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(`Started for ${MANY} prospects`);
});

test("people who are chosen join a running sequence, with the numbers before and an undo after", async () => {
  await takeSequence("Running already", "Early", [
    email("one", 0, "Welcome", "Hello"),
    email("two", 1, "And more", "Hello again"),
  ]);
  await saveAndStart(page, 1);
  const add = async (name: string) => {
    await open(page, `/prospects?q=${name}`);
    await page
      .getByRole("row", { name: new RegExp(name) })
      .getByRole("checkbox")
      .check();
    await page.getByRole("button", { name: "Write to this one" }).click();
    await page.getByRole("menuitem", { name: /^Running already/ }).click();
    await expect(page.getByRole("dialog")).toContainText("1 person onto “Running already”");
    await page.keyboard.press("Enter");
    await expect(page.getByText(/started on “Running already”/).first()).toBeVisible();
  };
  await add("rosa");
  await add("sven");
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await expect
    .poll(
      () =>
        rows(
          world,
          "SELECT 1 FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE p.first_name = 'sven' AND j.state = 'active'",
        ).length,
    )
    .toBe(0);
  await own.passes(4 * DAY);
  expect(await subjects("rosa")).toEqual(["Welcome", "And more"]);
  expect(await subjects("sven")).toEqual([]);
});
