/** A first pass through a CRM of many people, of whom half are known here, against its pages read and their rows written down barely. */
import { mkdtempSync, rmSync } from "node:fs";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { USUAL_SETTINGS } from "../core/crm/settings.ts";
import type { App } from "../server/app.ts";
import { CrmCarrier } from "../server/crm/carry.ts";
import { connectCrm, crmOf, saveCrm, switchCrm, tryCrm } from "../server/crm/crm.ts";
import { sql } from "../server/db/open.ts";
import { prospectStore } from "../server/prospects/people/store-prospect.ts";
import { createCrm } from "../standins/crm/crm-server.ts";
import type { Figure } from "./figure.ts";
import { freshApp } from "./fresh-app.ts";
import { inventRows } from "./people.ts";

const PEOPLE = Number(process.env.BENCH_CRM_PEOPLE ?? 20_000);

export async function benchCrm(): Promise<Figure> {
  const fresh = freshApp();
  const { close } = fresh;
  const app: App = { ...fresh.app, config: { ...fresh.app.config, inside: ["127.0.0.1"] } };
  const folder = mkdtempSync(join(tmpdir(), "saudade-bench-crm-"));
  const server = createCrm({ state: join(folder, "crm.db"), rate: Number.POSITIVE_INFINITY });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  try {
    app.db.exec(
      `INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
       VALUES (1, 'helga@quillwater.example', 'Helga', '', 'Europe/Oslo', 'helga', 'manager', 0)`,
    );
    const people = inventRows(PEOPLE).map((each, nth) => ({
      ...each,
      email: `p${nth}@house-${nth % 5_000}.example`,
    }));
    const things = people.map(({ first, last, email, title, city, country, phone }) => ({
      kind: "people" as const,
      body: {
        email,
        name: { first, last },
        job_title: title,
        address: { city, country },
        phone,
        status: "contacted",
      },
    }));
    const seed = (refreshToken: string, things: object[]) =>
      fetch(`${url}/seed`, { method: "POST", body: JSON.stringify({ refreshToken, things }) });
    await seed("first", things);
    await seed("spare", []);
    const origin = {
      origin: "typed" as const,
      originId: null,
      ownerId: 1,
      listId: null,
      importId: null,
      now: 1,
    };
    const store = prospectStore(app.db, origin);
    app.db.transaction(() => {
      for (const [nth, { first, last, email }] of people.entries())
        if (nth % 2 === 0)
          store({
            email,
            fields: {
              ...{
                firstName: first,
                lastName: last,
                company: "",
                companyDomain: "",
                title: "",
                city: "",
                country: "",
              },
              ...{ phone: "", profile: "", language: "", timeZone: "" },
            },
            custom: {},
            changes: [],
          });
    })();
    const connected = await connectCrm(app, 1, { name: "Ledgerhouse", url, key: "first" });
    if (!connected.ok) throw new Error(JSON.stringify(connected.errors));
    saveCrm(app, 1, USUAL_SETTINGS);
    const carrier = new CrmCarrier(app, (error) => {
      throw error;
    });
    const turn = async () => {
      const began = performance.now();
      carrier.look();
      await carrier.rest();
      return performance.now() - began;
    };
    const baseline = await bare(url, app);
    tryCrm(app, 1);
    const trial = await turn();
    switchCrm(app, 1, true);
    const measured = await turn();
    const inStep = sql(
      app.db,
      "SELECT count(*) AS n FROM crm_links WHERE kind = 'person' AND base IS NOT NULL",
    ).get<{
      n: number;
    }>([])?.n;
    if (inStep !== PEOPLE)
      throw new Error(`${inStep} of ${PEOPLE} are in step: ${JSON.stringify(crmOf(app)?.report)}`);
    return {
      ...{ bench: "crm", ratio: measured / baseline, limit: 40, kind: "most" },
      ...{
        people: PEOPLE,
        baselineMs: Math.round(baseline),
        trialMs: Math.round(trial),
        ms: Math.round(measured),
      },
    };
  } finally {
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Each page asked for and parsed, and each thing written into a table. */
async function bare(url: string, app: App): Promise<number> {
  const answer = await fetch(`${url}/oauth/token`, {
    method: "POST",
    body: new URLSearchParams({ grant_type: "refresh_token", refresh_token: "spare" }),
  });
  const { access_token } = (await answer.json()) as { access_token: string };
  app.db.exec("CREATE TEMP TABLE bare (id TEXT PRIMARY KEY, body TEXT)");
  const insert = app.db.prepare("INSERT INTO bare VALUES (?, ?)");
  const began = performance.now();
  let cursor: string | null = null;
  do {
    const page = (await (
      await fetch(`${url}/people?limit=100${cursor === null ? "" : `&cursor=${cursor}`}`, {
        headers: { authorization: `Bearer ${access_token}` },
      })
    ).json()) as { items: { id: string }[]; next_cursor: string | null };
    app.db.transaction(() => {
      for (const item of page.items) insert.run(item.id, JSON.stringify(item));
    })();
    cursor = page.next_cursor;
  } while (cursor !== null);
  return performance.now() - began;
}
