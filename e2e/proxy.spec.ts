/** An installation as most stand: behind a reverse proxy that ends TLS. */
import { expect, test } from "@playwright/test";
import { type Started, startProcess } from "../server/processes.ts";
import { signLink } from "../server/secrets.ts";
import { freePort } from "../server/tests/free-port.ts";
import { startTlsProxy, type TlsProxy } from "../server/tests/tls-proxy.ts";
import {
  addJourney,
  addPeople,
  addSequence,
  createWorld,
  PASSWORD,
  rows,
  type World,
} from "../server/tests/world.ts";
import { importList, open } from "./desk.ts";

test.use({ ignoreHTTPSErrors: true });

let world: World;
let address: string;
let proxy: TlsProxy;
let running: Started[];
test.beforeAll(async () => {
  const [behind, port] = [await freePort(), await freePort()];
  address = `https://localhost:${port}`;
  world = await createWorld({
    standin: false,
    env: { SAUDADE_PORT: String(behind), SAUDADE_URL: address },
  });
  const list = addPeople(world, ["ana", "bia"]);
  addJourney(world, addSequence(world, list, []), 1);
  addJourney(world, addSequence(world, list, []), 2);
  proxy = await startTlsProxy("localhost", port, behind);
  running = [
    await startProcess("web server", "server/web/main.ts", world.env),
    await startProcess("worker", "server/workers/main.ts", world.env),
  ];
});
test.afterAll(async () => {
  proxy.stop();
  await Promise.all(running.map((each) => each.stop()));
  await world.close();
});

const journeyOf = (prospect: number) =>
  rows<{ state: string }>(world, `SELECT state FROM journeys WHERE prospect_id = ${prospect}`)[0]?.state;

test("behind a TLS proxy one signs in, uploads a file and sees its people", async ({ browser }) => {
  const page = await browser.newPage({ baseURL: address, ignoreHTTPSErrors: true });
  await open(page, "/prospects");
  await page.getByLabel("Email address").fill("marta@quillwater.example");
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(`${address}/prospects`);
  const session = (await page.context().cookies()).find(({ name }) => name === "saudade_session");
  expect([session?.secure, session?.httpOnly]).toEqual([true, true]);
  await importList(page, "The fair", "Email,First name\nnea@new-museum.example,Nea\n");
  await open(page, "/prospects");
  await expect(page.getByText("nea@new-museum.example")).toBeVisible();
  await page.close();
});

test("behind a TLS proxy a prospect books a call, and another opts out", async ({ browser }) => {
  const page = await browser.newPage({ baseURL: address, ignoreHTTPSErrors: true });
  const slug = rows<{ slug: string }>(world, "SELECT booking_slug AS slug FROM users")[0]?.slug;
  await open(page, `/book/${slug}?p=${signLink("booking", "1", world.app.key)}`);
  await page.getByRole("radio").nth(3).check({ force: true });
  await page.getByLabel("Your name").fill("Ana");
  await page.getByLabel("Your email address").fill("ana@ana-museum.example");
  await page.getByLabel("Your phone number").fill("+351 210 000 000");
  await page.getByRole("button", { name: /^Book / }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Booked:");
  expect([journeyOf(1), journeyOf(2)]).toEqual(["stopped", "active"]);

  await open(page, `/opt-out/${signLink("opt-out", "2", world.app.key)}`);
  await page.getByRole("button").click();
  await expect(page.getByText("no more email from us")).toBeVisible();
  expect(journeyOf(2)).toBe("stopped");
  await page.close();
});
