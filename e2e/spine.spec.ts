import {
  addStep,
  choose,
  chooseForSequence,
  csvFile,
  deliveriesTo,
  emailText,
  importList,
  moveClock,
  open,
  saveAndStart,
  writeBack,
  writeSequence,
} from "./desk.ts";
import { expect, test } from "./world.ts";

const ALMA = "alma.reis@casa-do-vento.example";
const BRUNO = "bruno.paz@casa-do-vento.example";
const LOANS = "marta@quillwater-loans.example";
const HELLO = "marta@hello-quillwater.example";

test.describe.configure({ mode: "serial", timeout: 480_000 });

test("from a CSV file to a reply that stops the follow-ups", async ({ page }) => {
  await test.step("import: columns are matched and correctable, bad rows are named", async () => {
    await open(page, "/prospects/import");
    await page
      .getByLabel("CSV or vCard file")
      .setInputFiles(
        csvFile(
          "wind.csv",
          `Vorname;Surname;Work email;Organisation;Remark;Time zone\nAlma;Reis;${ALMA};Casa do Vento;first;Europe/Lisbon\nBruno;Paz;${BRUNO};Casa do Vento;second;Europe/Lisbon\nCarla;Sol;carla.sol.example;Casa do Vento;x;\n;;;;;\nAlma;Reis;${ALMA.toUpperCase()};Casa do Vento;x;\n`,
        ),
      );
    await expect(page.getByRole("heading", { name: "4 rows in wind.csv" })).toBeVisible();
    await expect(page.getByRole("combobox", { name: "Vorname is" })).toHaveText("First name");
    await choose(page, page.getByRole("combobox", { name: "Remark is" }), "Leave it out");
    await page.getByLabel("Name of the list").fill("Windy houses");
    await page.getByRole("button", { name: "Look through 4 rows" }).click();
    await page.getByRole("button", { name: "Import 2 people" }).click();
    await expect(page.getByRole("heading", { name: "2 new people on the list" })).toBeVisible();
    await page.getByText("1 row has no working address").click();
    await expect(page.getByText("“carla.sol.example” has no @")).toBeVisible();
    await expect(page.getByText("Line 4", { exact: true })).toBeVisible();
    await page.getByText("1 row repeats an earlier one").click();
    await expect(page.getByText(`${ALMA} is on line 2 already`)).toBeVisible();
  });

  await test.step("a sequence of three steps, checked and read as a prospect gets it", async () => {
    await writeSequence(page, "Wind");
    await page.getByLabel("Subject").fill("The draught at {{ company }}");
    await emailText(page).fill("Dear {{ frist_name }}, is it draughty?");
    await expect(page.getByText("Did you mean “first_name”?").first()).toBeVisible();
    await expect(page.getByRole("link", { name: /^Check/ })).toHaveAttribute("aria-disabled", "true");
    await emailText(page).fill("Dear {{ first_name }}, is it draughty?");
    for (const [name, text] of [
      ["Second", "Dear {{ first_name }}, one thing more."],
      ["Third", "I close this: {{ booking_link }}"],
    ] as const) {
      await addStep(page, "Email");
      await page.getByLabel("Name of the step").fill(name);
      await emailText(page).fill(text);
    }
    await page.getByRole("button", { name: /^Second, email on working day 3/ }).press("Shift+ArrowLeft");
    await expect(page.getByRole("button", { name: /^Second, email on working day 2/ })).toBeVisible();
    await chooseForSequence(page, "Windy houses", [LOANS, HELLO]);
    await page.getByRole("tab", { name: "As they read it" }).click();
    await expect(page.getByTestId("preview")).toContainText("Re: The draught at Casa do Vento");
    await expect(page.getByTestId("preview")).toContainText("Dear Alma, one thing more.");
    await page.getByRole("button", { name: "Next prospect" }).click();
    await expect(page.getByTestId("preview")).toContainText("Dear Bruno");
    await saveAndStart(page, 2);
  });

  await test.step("mail goes out over SMTP and shows on the prospect's page", async () => {
    await moveClock(page, "Next morning");
    await moveClock(page, "Next morning");
    expect(await deliveriesTo(ALMA)).toHaveLength(1);
    expect(await deliveriesTo(BRUNO)).toHaveLength(1);
    await open(page, "/prospects?q=alma.reis");
    await page.getByRole("link", { name: "Alma Reis" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Alma Reis is on Wind");
    await expect(page.getByRole("listitem").filter({ hasText: /^Opening, .*, done/ })).toBeVisible();
    await expect(page.getByRole("listitem").filter({ hasText: /^Second, .*, planned/ })).toBeVisible();
    await expect(page.getByRole("list", { name: "Conversation" })).toContainText(
      "Dear Alma, is it draughty?",
    );
  });

  await test.step("she answers, and everything still planned for her stops", async () => {
    const from =
      (await page
        .getByRole("list", { name: "Conversation" })
        .getByText(/^marta@/)
        .first()
        .textContent()) ?? "";
    await writeBack(ALMA, from, "It is. Come and see.\r\n\r\n> Dear Alma, is it draughty?");
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Alma Reis wrote back", {
      timeout: 120_000,
    });
    await expect(
      page.getByRole("listitem").filter({ hasText: /^Second, cancelled, will not happen/ }),
    ).toBeVisible();
    await expect(page.getByText("because they replied").first()).toBeVisible();
    // Her colleague waits until somebody lets him go on.
    await open(page, "/");
    const waiting = page.getByRole("button", { name: /^Casa do Vento: 1 person waits/ });
    await waiting.click();
    await page.getByRole("button", { name: /^Let them go on/ }).click();
    await expect(waiting).toHaveCount(0);
    for (let morning = 0; morning < 4; morning++) await moveClock(page, "Next morning");
    expect(await deliveriesTo(ALMA)).toHaveLength(1);
    expect((await deliveriesTo(BRUNO)).length).toBeGreaterThan(1);
  });

  await test.step("the reply is answered from the thread's mailbox", async () => {
    await open(page, "/replies?show=people");
    await page
      .getByRole("navigation", { name: "Replies" })
      .getByRole("button", { name: /Alma Reis/ })
      .click();
    await expect(page.getByRole("list", { name: "Conversation" })).toContainText("It is. Come and see.");
    await page.getByLabel("Answer Alma").fill("On Thursday, with pleasure.");
    await page.getByRole("button", { name: /^Send the answer/ }).click();
    await expect(page.getByRole("list", { name: "Conversation" })).toContainText("your answer");
    await expect.poll(async () => (await deliveriesTo(ALMA)).length, { timeout: 90_000 }).toBe(2);
    expect((await deliveriesTo(ALMA))[1]?.subject).toBe("Re: The draught at Casa do Vento");
  });
});

test("a booked call and an opt-out stop what is planned", async ({ page, request }) => {
  await importList(
    page,
    "Tidal houses",
    "email,first name,company,time zone\nlia.mar@mare-alta.example,Lia,Maré Alta,Europe/Lisbon\nnuno.rio@mare-alta.example,Nuno,Maré Alta,Europe/Lisbon\n",
  );
  await writeSequence(page, "Tides");
  await emailText(page).fill("Dear {{ first_name }}, take a time: {{ booking_link }}");
  await addStep(page, "Email");
  await emailText(page).fill("And again.");
  await chooseForSequence(page, "Tidal houses", [LOANS]);
  await page.getByRole("tab", { name: "As they read it" }).click();
  const links: string[] = [];
  await page.getByRole("button", { name: /^Opening/ }).click();
  for (const name of ["Lia", "Nuno"]) {
    await expect(page.getByTestId("preview")).toContainText(`Dear ${name}`);
    const text = (await page.getByTestId("preview").textContent()) ?? "";
    links.push(
      text.match(/http\S+\/book\/[\w-]+\?p=[\w-]+\.[\w-]{22}/)?.[0] ?? "",
      text.match(/http\S+\/opt-out\/[\w-]+\.[\w-]{22}/)?.[0] ?? "",
    );
    await page.getByRole("button", { name: "Next prospect" }).click();
  }
  await saveAndStart(page, 2);

  await open(page, links[0] as string);
  await expect(page.getByLabel("Your email address")).toHaveValue("lia.mar@mare-alta.example");
  await page.getByRole("radio").nth(3).check({ force: true });
  await page.getByLabel("Your phone number").fill("+351 210 000 000");
  await page.getByRole("button", { name: /^Book / }).click();
  await expect(page.getByRole("heading", { name: /^Booked: / })).toBeVisible();
  const calendar = await request.get(
    (await page.getByRole("link", { name: "Put it in your calendar" }).getAttribute("href")) as string,
  );
  expect(calendar.headers()["content-type"]).toContain("text/calendar");
  expect(await calendar.text()).toContain("BEGIN:VEVENT");

  await open(page, links[3] as string);
  await page.getByRole("button", { name: "Stop all email to me" }).click();
  await expect(page.getByRole("heading", { name: /^Done/ })).toBeVisible();

  await open(page, "/prospects?q=mare-alta");
  await expect(page.getByText("stopped: they booked a call")).toBeVisible();
  await expect(page.getByText("on the block list")).toBeVisible();
  await open(page, "/");
  await expect(page.getByText(/\bLia\b/).first()).toBeVisible();
});
