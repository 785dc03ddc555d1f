/**
 * The CRM over a week: what its people do comes here, what is done here stands there, and what both changed is asked. And
 * everything in one archive, out of here and into an empty installation.
 */
import { execFileSync, spawn } from "node:child_process";
import { join } from "node:path";
import { DEMO_PASSWORD } from "../demo/scenario.ts";
import { built } from "../server/processes.ts";
import { HERE } from "./addresses.ts";
import { inDemo, moveClock, open, signIn } from "./desk.ts";
import { expect, test } from "./world.ts";

test.use({ signedIn: false });

type Thing = Record<string, unknown> & { id: string };
type Ledger = Record<"people" | "deals" | "activities" | "deal-stages", Thing[]>;

test("people, deals and what was done stay in step over a week, with what is asked in between", async ({
  page,
  request,
}) => {
  const crm = `http://127.0.0.1:${HERE.ports.crm}`;
  const there = async () => (await (await request.get(`${crm}/all`)).json()) as Ledger;
  const heading = page.getByRole("heading", { level: 1 });
  await signIn(page, "Helga Lund");
  await open(page, "/connections/crm");
  await expect(heading).toHaveText("40 people are in step with Ledgerhouse; 2 things ask you");

  // Both changed a job title: the CRM's counts for the one, ours for the other.
  const differences = page.getByRole("region", { name: "Differences" });
  const [first, second] = [
    differences.locator("[data-row]").first(),
    differences.locator("[data-row]").nth(1),
  ];
  const theirs = await first.getByRole("button").nth(1).getAttribute("aria-label");
  const renamed = await first.getByRole("link").textContent();
  const kept = await second.getByRole("link").textContent();
  await first.getByRole("button", { name: theirs ?? "" }).click();
  await expect(heading).toHaveText("40 people are in step with Ledgerhouse; one thing asks you");
  // Of the one that is left the side that stands here.
  await first.getByRole("button").first().click();
  await expect(heading).toHaveText("40 people are in step with Ledgerhouse");
  // The worker brings both sides what was said.
  await expect.poll(() => inDemo<{ n: number }>("SELECT count(*) AS n FROM crm_conflicts")[0]?.n).toBe(0);
  await open(page, `/prospects?q=${encodeURIComponent(renamed ?? "")}`);
  await page.getByRole("link", { name: renamed ?? "" }).click();
  await expect(page.getByRole("region", { name: "What is known" })).toContainText(/Senior .*Ledgerhouse/s);
  const nameOf = ({ name }: Thing) => Object.values(name as object).join(" ");
  await expect
    .poll(async () => (await there()).people.find((each) => nameOf(each) === kept)?.job_title)
    .not.toContain("Senior");

  // There a deal is won and somebody moves house, and somebody else is deleted; here somebody's city is set right.
  const before = await there();
  const personOf = ({ people }: Ledger, deal: Thing | undefined) =>
    people.find(({ id }) => id === deal?.person_id) as Thing;
  const won = before.deals.find(({ stage_id }) => stage_id === before["deal-stages"][0]?.id) as Thing;
  const winner = personOf(before, won);
  const [leaver, mover] = before.people.filter(({ id }) => id !== winner.id) as [Thing, Thing];
  const byHand = (kind: string, id: string, form: Record<string, string>) =>
    request.post(`${crm}/page/${kind}/${id}`, { form, maxRedirects: 0 });
  await byHand("deals", won.id, { stage_id: before["deal-stages"][3]?.id ?? "" });
  await byHand("people", winner.id, { phone: "+351 912 345 678" });
  await byHand("people", leaver.id, { remove: "1" });
  await open(page, `/prospects?q=${encodeURIComponent(String(mover.email))}`);
  await page.getByRole("link", { name: nameOf(mover) }).click();
  await page.getByRole("button", { name: "Edit" }).click();
  await page.getByRole("dialog").getByLabel("City").fill("Setúbal");
  await page.getByRole("dialog").getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();

  for (let day = 0; day < 5; day++) await moveClock(page, "Next morning");

  await open(page, `/prospects?q=${encodeURIComponent(String(winner.email))}`);
  await page.getByRole("link", { name: nameOf(winner) }).click();
  await expect(page.getByRole("region", { name: "In Ledgerhouse" })).toContainText(": Won");
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("+351912345678");
  await expect
    .poll(async () => (await there()).people.find(({ id }) => id === mover.id)?.address)
    .toMatchObject({ city: "Setúbal" });
  // What went to people who are in step was noted there, each once.
  await open(page, "/connections/crm");
  await expect(page.getByRole("region", { name: "Told there" }).getByText("waits")).toHaveCount(0);
  const { activities } = await there();
  expect(activities.length).toBeGreaterThan(before.activities.length);
  expect(new Set(activities.map(({ external_id }) => external_id)).size).toBe(activities.length);

  // Who was deleted there is still here, until somebody says so.
  const deleted = page.getByRole("region", { name: "Deleted" });
  await expect(deleted).toContainText(`${nameOf(leaver)} was deleted in Ledgerhouse`);
  await deleted.getByRole("button", { name: "Keep them here" }).click();
  await expect(deleted).toBeHidden();
  await open(page, `/prospects?q=${encodeURIComponent(String(leaver.email))}`);
  await expect(heading).toContainText("1 person matches");
});

test("one is parted from, and connected anew, with a look at what would follow before anything does", async ({
  page,
  request,
}) => {
  const crm = `http://127.0.0.1:${HERE.ports.crm}`;
  await request.post(`${crm}/seed`, { data: { refreshToken: "another-token", things: [] } });
  await signIn(page, "Helga Lund");
  await open(page, "/connections/crm");
  await page.getByRole("button", { name: "Part from it" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Part from it" }).click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("No CRM is connected yet");
  await page.getByLabel("What you call it").fill("Ledgerhouse");
  await page.getByLabel("Address of its API").fill(crm);
  await page.getByLabel("Refresh token, or key").fill("no such token");
  await page.getByRole("button", { name: "Connect it" }).click();
  await expect(page.getByText(/the refresh token has run out/)).toBeVisible();
  await page.getByLabel("Refresh token, or key").fill("another-token");
  await page.getByRole("button", { name: "Connect it" }).click();
  await expect(heading).toHaveText("Ledgerhouse is connected; nothing was taken over yet");
  await page.getByLabel("Who comes in").selectOption({ label: "its filter “Loans pipeline”" });
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.getByRole("button", { name: "Look what it would do" }).click();
  await expect(heading).toHaveText(/^From Ledgerhouse 0 people would come in, and \d+ are known/);
  await expect(page.getByRole("region", { name: "What it found" })).toContainText("would be kept in step");
  await page.getByRole("button", { name: "Switch on" }).click();
  await expect(heading).toHaveText(/^\d+ people are in step with Ledgerhouse/);
});

test("everything is taken along in one archive, and an empty installation shows the same", async ({
  page,
}) => {
  await signIn(page, "Helga Lund");
  const views = ["/prospects", "/sequences", "/connections/rules", "/prospects/1", "/sequences/1/emails"];
  const headings = async (origin: string) => {
    const said: string[] = [];
    for (const view of views) {
      await open(page, `${origin}${view}`);
      said.push((await page.getByRole("heading", { level: 1 }).first().textContent()) ?? "");
    }
    return said;
  };
  const file = join(HERE.folder, "everything.zip");
  const takeAlong = async () => {
    await open(page, "/settings?show=team");
    await page.getByRole("button", { name: /^Make a.* archive$/ }).click();
    const taken = page.waitForEvent("download");
    await page.getByRole("link", { name: /^Download \d+ MB/ }).click();
    await (await taken).saveAs(file);
  };
  // The world goes on: somebody may answer while the archive is written.
  let [before, after]: string[][] = [[], ["not looked yet"]];
  while (JSON.stringify(before) !== JSON.stringify(after)) {
    before = await headings(HERE.url);
    await takeAlong();
    after = await headings(HERE.url);
  }

  const port = HERE.ports.http + 28;
  const env = {
    ...process.env,
    ...{
      SAUDADE_DB: join(HERE.folder, "elsewhere", "saudade.db"),
      SAUDADE_PORT: String(port),
      SAUDADE_DEMO: "1",
    },
  };
  const said = execFileSync(process.execPath, [built("server/backup-command.ts"), "read-archive", file], {
    env,
  });
  expect(String(said)).toMatch(/^[\d,]+ rows are read/);
  const elsewhere = spawn(process.execPath, [built("server/web/main.ts")], { env, stdio: "ignore" });
  try {
    const origin = `http://127.0.0.1:${port}`;
    await expect
      .poll(
        () =>
          page.request.get(`${origin}/sign-in`).then(
            (answer) => answer.status(),
            () => 0,
          ),
        { timeout: 90_000 },
      )
      .toBe(200);
    await open(page, `${origin}/sign-in`);
    await page.getByLabel("Email address").fill("helga@quillwater.example");
    await page.getByLabel("Password").fill(DEMO_PASSWORD);
    await page.getByRole("button", { name: "Sign in", exact: true }).click();
    await expect(page.getByTestId("clock")).toBeVisible();
    expect(await headings(origin)).toEqual(before);
  } finally {
    elsewhere.kill("SIGKILL");
  }
});
