/** Other programs: a key made on its page does what the API's page says, and a receiver that fails for a while hears everything after. */
import type { APIRequestContext, Page } from "@playwright/test";
import { saudade } from "../client/saudade.ts";
import { HERE } from "./addresses.ts";
import { moveClock, open } from "./desk.ts";
import { expect, test } from "./world.ts";

test("a program with a key of its own starts somebody, who is then seen on the sequence", async ({
  page,
}) => {
  await open(page, "/connections");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("No program acts for you yet");
  await page.getByLabel("For which program").fill("Loan register");
  await page.getByRole("button", { name: "Make the key" }).click();
  await expect(page.getByText("Choose what it is good for.")).toBeVisible();
  await page.getByRole("button", { name: "Read everything" }).click();
  for (const area of [
    "people, companies, lists, fields and stages",
    "sequences, and people's ways through them",
  ])
    await page.getByLabel(`${area}: how far`).selectOption("write");
  await page.getByRole("button", { name: "Make the key" }).click();
  const key = (await page.getByLabel("The new key").textContent()) ?? "";
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("1 program may act for you");

  await page.getByRole("link", { name: "API", exact: true }).click();
  await page.getByRole("link", { name: /^sequences \d/ }).click();
  const enrolling = page.getByRole("region", { name: /^Starts people on a running sequence/ });
  await expect(enrolling).toContainText("sequences:write");
  const command = await enrolling.getByLabel("enrol as a command").textContent();
  expect(command).toContain(`curl -X POST '${HERE.url}/api/v1/sequences/1/journeys'`);

  const program = saudade({ url: HERE.url, key });
  const { data: sequences } = await program.GET("/sequences", { params: { query: { state: "running" } } });
  const sequence = sequences?.data.find(({ name }) => name === "Loan season");
  const { data: added } = await program.POST("/prospects", {
    body: {
      email: "register@loanhouse.example",
      firstName: "Tilda",
      lastName: "Roos",
      company: "Loan House",
      list: "Loan register",
    },
  });
  const prospectId = added?.prospect.id ?? 0;
  const { data } = await program.POST("/sequences/{id}/journeys", {
    params: { path: { id: sequence?.id ?? 0 } },
    body: { prospectIds: [prospectId] },
  });
  expect(data?.results).toEqual([{ prospectId, result: "started", because: null }]);
  await open(page, `/prospects/${prospectId}`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Tilda Roos");
  await expect(page.getByRole("main").getByText("Loan season").first()).toBeVisible();
  // What it was not made for it does not do.
  const { error } = await program.POST("/block-list", { body: { values: ["loanhouse.example"], note: "" } });
  expect(error?.type).toBe("urn:saudade:problem:scope_missing");

  await open(page, "/connections");
  await page.getByRole("button", { name: "Revoke Loan register" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("No program acts for you yet");
  expect((await program.GET("/stages")).response.status).toBe(401);
});

test("a receiver that fails hears everything once it is well again, and can be told once more", async ({
  page,
  request,
}) => {
  const receiver = `http://127.0.0.1:${HERE.ports.receiver}`;
  const behave = (status: number) => request.post(`${receiver}/misbehave`, { data: { status } });
  await open(page, "/connections/webhooks");
  await page.getByRole("link", { name: "Planning desk" }).click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("“Planning desk” takes what it is told");
  await page.getByRole("button", { name: "Make a new secret" }).click();
  const secret = await page
    .getByRole("status")
    .filter({ hasText: "this secret" })
    .locator("pre")
    .textContent();
  await request.post(`${receiver}/secret`, { data: { secret } });
  const newest = page.locator("[data-row]").first();

  await behave(503);
  await page.getByRole("button", { name: "Send a test" }).click();
  await expect(heading).toHaveText("“Planning desk” does not take what it is told");
  await expect(newest).toContainText("503");
  await expect(newest).toContainText("waits");
  await behave(0);
  // The next tries come later and later: with the next morning one of them is due.
  await moveClock(page, "Next morning");
  await expect(heading).toHaveText("“Planning desk” takes what it is told");
  const test = page.locator("[data-row]").filter({ hasText: "a test" }).first();
  await expect(test).toContainText("taken");
  const heard = (await (await request.get(`${receiver}/heard`)).json()) as {
    isGenuine: boolean;
    body: { type: string };
  }[];
  expect(heard.filter(({ body }) => body.type === "test")).toMatchObject([{ isGenuine: true }]);

  await test.getByRole("button", { name: /^Tell once more/ }).click();
  await expect(page.getByText("It is told once more.")).toBeVisible();
  // A number further, and heard as the same.
  expect(
    ((await (await request.get(`${receiver}/heard`)).json()) as unknown[]).length,
  ).toBeGreaterThanOrEqual(heard.length);
  await page.getByRole("button", { name: "Switch off" }).click();
  await expect(heading).toHaveText("“Planning desk” is told nothing");
});

test("a rule is written, shows what it would have done, is switched on, acts, says why, and is taken back", async ({
  page,
  request,
}) => {
  await open(page, "/connections/rules");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("2 rules are on");
  await page.getByRole("link", { name: /^A yes goes to a seller/ }).click();
  const would = page.getByRole("region", { name: "Before it is switched on" });
  await expect(would).toContainText("Choose who takes turns.");
  await page.getByLabel("Rui Abrantes").check();
  await expect(would).toContainText(/would have acted \d+ times, on \d+ people/);
  await expect(would.getByRole("link").first()).toBeVisible();
  await page.getByRole("button", { name: "Save" }).click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("“A yes goes to a seller” is off");
  await page.getByRole("button", { name: "Switch on" }).click();
  await expect(heading).toHaveText("“A yes goes to a seller” is on, and was not set off so far");

  const key = await makeKey(page, request);
  const program = saudade({ url: HERE.url, key });
  const { data: replies } = await program.GET("/replies", {
    params: { query: { unread: "true", order: "desc" } },
  });
  const reply = replies?.data.find(({ kind, label }) => kind === "person" && label === null);
  const { data: labelled } = await program.POST("/replies/{id}/label", {
    params: { path: { id: reply?.id ?? 0 } },
    body: { label: "interested" },
  });
  expect(labelled?.label?.code).toBe("interested");
  await open(page, "/connections/rules");
  await page.getByRole("link", { name: "A yes goes to a seller", exact: true }).first().click();
  const run = page.locator("[data-row]").filter({ hasText: "since their answer was labelled “Interested”" });
  await expect(run).toContainText("given to Rui Abrantes");
  await expect(run).toContainText("wants to talk.");
  await expect(heading).toHaveText("“A yes goes to a seller” acted 1 time in 30 days");
  const { data: person } = await program.GET("/prospects/{id}", {
    params: { path: { id: reply?.prospectId ?? 0 } },
  });
  expect([person?.owner?.name, person?.stage]).toEqual(["Rui Abrantes", "in_conversation"]);
  await run.getByRole("button", { name: /^Take back/ }).click();
  await expect(run).toContainText("taken back");
  const { data: again } = await program.GET("/prospects/{id}", {
    params: { path: { id: reply?.prospectId ?? 0 } },
  });
  expect(again?.owner?.name).not.toBe("Rui Abrantes");
});

/** A key for everything, as its page would make it. */
async function makeKey(page: Page, request: APIRequestContext): Promise<string> {
  const scopes = ["prospects", "replies"].map((area) => `${area}:write`);
  const answer = await request.post("/connections.data", {
    form: { intent: "make-key", name: "Rule test", scopes: JSON.stringify(scopes), days: "30" },
    headers: {
      cookie: (await page.context().cookies()).map(({ name, value }) => `${name}=${value}`).join("; "),
    },
  });
  return /saudade_[\w-]+/.exec(await answer.text())?.[0] ?? "";
}
