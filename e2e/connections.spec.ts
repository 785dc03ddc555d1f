/** Other programs: a key made on its page does what the API's page says, and a receiver that fails for a while hears everything after. */
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
  const sequence = sequences?.data.find(({ name }) => name === "Spring rounds");
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
  await expect(page.getByRole("main").getByText("Spring rounds").first()).toBeVisible();
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
