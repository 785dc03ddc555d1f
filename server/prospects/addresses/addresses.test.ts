import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { unwatched } from "../../jobs/report.ts";
import { type Started, startProcess } from "../../processes.ts";
import { freePort } from "../../tests/free-port.ts";
import { createWorld, rows, type World } from "../../tests/world.ts";
import { importProspects } from "../imports/import-prospects.ts";
import { describeProfile, saveProfile } from "../searches/profiles.ts";
import { foundPeople, keepFound, searchById } from "../searches/review-search.ts";
import { runSearch, startSearch } from "../searches/search.ts";
import { canFindAddresses, findAddresses } from "./find-addresses.ts";
import { setProbe } from "./probe-setting.ts";
import { verifyAddresses } from "./verify-addresses.ts";

let world: World;
const running: Started[] = [];

beforeAll(async () => {
  const [http, smtp, exchanger, dns, directory, assistant] = await Promise.all(
    Array.from({ length: 6 }, () => freePort()),
  );
  world = await createWorld({
    standin: false,
    env: {
      SAUDADE_DEMO: "1",
      SAUDADE_DNS: `127.0.0.1:${dns}`,
      SAUDADE_MX_PORT: String(exchanger),
      SAUDADE_DIRECTORY: `http://127.0.0.1:${directory}`,
      SAUDADE_ASSISTANT: `http://127.0.0.1:${assistant}`,
    },
  });
  const start = async (file: string, env: Record<string, string>) => {
    running.push(await startProcess(file, file, env));
  };
  await Promise.all([
    start("standins/mail/main.ts", {
      STANDIN_STATE: ":memory:",
      STANDIN_HTTP_PORT: String(http),
      STANDIN_SMTP_PORT: String(smtp),
      STANDIN_EXCHANGER_PORT: String(exchanger),
    }),
    start("standins/dns/main.ts", { DNS_PORT: String(dns) }),
    start("standins/directory/main.ts", { DIRECTORY_PORT: String(directory), DIRECTORY_SLOW: "1" }),
    start("standins/assistant/main.ts", { ASSISTANT_PORT: String(assistant) }),
  ]);
});
afterAll(async () => {
  await Promise.all(running.map((each) => each.stop()));
  await world.close();
});

async function bring(listName: string, csv: string): Promise<number> {
  const bytes = new TextEncoder().encode(csv);
  const outcome = await importProspects(world.app, world.userId, { name: "a.csv", bytes, listName });
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
  return outcome.value.listId;
}
const verdicts = (listId: number) =>
  Object.fromEntries(
    rows<{ email: string; verdict: string; reason: string }>(
      world,
      `SELECT email, verdict, verdict_reason AS reason FROM prospects WHERE id IN (SELECT prospect_id FROM list_prospects WHERE list_id = ${listId})`,
    ).map(({ email, verdict, reason }) => [email, `${verdict}: ${reason}`]),
  );

describe("an address", () => {
  it("is judged by DNS and its own mail server; a silence is never bad, and is asked about again", async () => {
    const listId = await bring(
      "Judged",
      "email\nilse@kai.example\nnobody@kai.example\ninfo@kai.example\nana@accepts-all-house.example\nana@no-domain-house.example\nana@null-mx-house.example\nana@silent-house.example\nana@later-house.example\nana@implicit-house.example\nana.lima@kai.example\n",
    );
    // As files brought it before letters in disguise were read as Latin ones.
    world.app.db.exec("UPDATE prospects SET email = 'аna@kai.example' WHERE email = 'ana.lima@kai.example'");
    await verifyAddresses(world.app, { listId }, unwatched);
    expect(verdicts(listId)).toEqual({
      "ilse@kai.example": "good: accepted",
      "nobody@kai.example": "bad: refused",
      "info@kai.example": "risky: role",
      "ana@accepts-all-house.example": "risky: accepts_all",
      "ana@no-domain-house.example": "bad: no_domain",
      "ana@null-mx-house.example": "bad: no_mail",
      "ana@silent-house.example": "unknown: dns_silent",
      "ana@later-house.example": "unknown: later",
      "ana@implicit-house.example": "good: accepted",
      "аna@kai.example": "risky: look_alike",
    });
    expect(rows(world, "SELECT 1 FROM jobs WHERE kind = 'verify' AND not_before > 0")).toHaveLength(1);
  });

  it("is risky at best while no mail server is asked, and good once somebody has answered from it", async () => {
    setProbe(world.app, null, false);
    const listId = await bring("Unasked", "email\nbia@mar.example\ncaio@mar.example\n");
    world.app.db.pragma("foreign_keys = OFF");
    world.app.db.exec(
      `INSERT INTO replies (mailbox_id, message_id, prospect_id, kind, from_address, from_name, subject, text, at)
       SELECT 1, 'x', id, 'person', email, '', '', '', 0 FROM prospects WHERE email = 'caio@mar.example'`,
    );
    await verifyAddresses(world.app, { listId }, unwatched);
    expect(verdicts(listId)).toEqual({
      "bia@mar.example": "risky: not_probed",
      "caio@mar.example": "good: answered_before",
    });
    setProbe(world.app, null, true);
  });

  it("that is missing is found by the company's pattern, else by the usual ones, and says by which evidence", async () => {
    const listId = await bring(
      "Missing",
      "email,first name,last name,company,website\nf.harms@elbe.example,Frieda,Harms,Elbe,elbe.example\na.tietz@elbe.example,Anke,Tietz,Elbe,elbe.example\n,Jörn,Möhring,Elbe,elbe.example\n,Anke,Terz,Accepts,accepts-all-elbe.example\n,Ruth,Wiebe,Nord,nord-elbe.example\n",
    );
    await findAddresses(world.app, listId, unwatched);
    const found = rows<{ email: string | null; detail: string | null }>(
      world,
      `SELECT p.email, c.detail FROM prospects p LEFT JOIN changes c ON c.prospect_id = p.id AND c.source = 'pattern'
       WHERE p.last_name IN ('Möhring', 'Terz', 'Wiebe') ORDER BY p.last_name`,
    );
    expect(found).toEqual([
      {
        email: "j.moehring@elbe.example",
        detail: expect.stringContaining("2 of 2 known addresses at elbe.example are f.last"),
      },
      { email: null, detail: null },
      { email: "ruth.wiebe@nord-elbe.example", detail: expect.stringContaining("first.last is a usual one") },
    ]);
  });

  it("that stands on the company's own site is theirs, and shows how its others are written", async () => {
    setProbe(world.app, null, false);
    const people = ["Falk,Tietz", "Greta,Ohlsen", "Wiebke,Kestner"].map(
      (name) => `,${name},Quay,quay-elbe.example`,
    );
    const listId = await bring(
      "On their site",
      `email,first name,last name,company,website\n${people.join("\n")}\n`,
    );
    const shown = ["office@quay-elbe.example", "ftietz@quay-elbe.example", "gohlsen@quay-elbe.example"];
    world.app.db
      .prepare("INSERT INTO sites (domain, state, reading, at) VALUES ('quay-elbe.example', 'read', ?, 0)")
      .run(JSON.stringify({ addresses: shown }));
    expect(canFindAddresses(world.app, listId)).toBe(true);
    await findAddresses(world.app, listId, unwatched);
    const found = rows<{ email: string | null; detail: string }>(
      world,
      `SELECT p.email, c.detail FROM prospects p JOIN changes c ON c.prospect_id = p.id AND c.source = 'pattern'
       WHERE p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = ${listId}) ORDER BY p.last_name`,
    );
    expect(found).toEqual([
      { email: "wkestner@quay-elbe.example", detail: expect.stringContaining("2 of 2 known addresses") },
      { email: "gohlsen@quay-elbe.example", detail: expect.stringContaining("stands on their web site") },
      { email: "ftietz@quay-elbe.example", detail: expect.stringContaining("stands on their web site") },
    ]);
    setProbe(world.app, null, true);
  });
});

it("a paragraph becomes a profile, the directory is searched with it, and only those who fit are kept, cleaned", async () => {
  const { app, userId } = world;
  const described = await describeProfile(
    app,
    "We sell loggers. Looking for registrars and conservators at mid-size museums in northern Europe, not assistants.",
  );
  expect(described).toMatchObject({
    ok: true,
    value: {
      industries: ["Museums"],
      titles: ["registrar", "conservator"],
      titlesWithout: ["assistant"],
      countries: ["NO", "SE", "DK", "FI"],
      employeesFrom: 20,
      employeesTo: 250,
    },
  });
  const definition = described.ok ? described.value : null;
  const saved = saveProfile(app, userId, { id: null, name: "North", description: "", definition });
  expect(saveProfile(app, userId, { id: null, name: "North", description: "", definition })).toMatchObject({
    errors: { name: expect.any(String) },
  });
  const search = startSearch(app, userId, saved.ok ? saved.value : 0);
  const searchId = search.ok ? search.value : 0;
  // Cut off after its first page, it goes on from the second.
  await runSearch(app, searchId, () => true);
  expect(rows(world, "SELECT next_page FROM searches")).toEqual([{ next_page: 2 }]);
  await runSearch(app, searchId, unwatched);
  const { counts, reasons } = searchById(app, searchId) as NonNullable<ReturnType<typeof searchById>>;
  expect(counts.fits).toBeGreaterThan(100);
  expect(counts.misfits).toBeGreaterThan(counts.fits / 5);
  expect(counts.withoutAddress / counts.fits).toBeGreaterThan(0.1);
  expect(reasons[0]?.reason).toBe("title");
  const people = foundPeople(app, null, searchId, "fits", 0);
  for (const { found } of people) expect(found.fields.title).toMatch(/registra|loans|conservat/i);
  const kept = keepFound(app, userId, {
    searchId,
    listName: "North",
    ids: people.slice(0, 5).map(({ id }) => id),
  });
  expect(kept).toMatchObject({ ok: true, value: { kept: 5 } });
  expect(
    rows(world, "SELECT count(*) AS n FROM prospects WHERE origin = 'directory' AND owner_id IS NOT NULL"),
  ).toEqual([{ n: 5 }]);
  expect(keepFound(app, userId, { searchId, listName: "North", ids: [] }).ok).toBe(false);
});
