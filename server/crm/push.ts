/** What goes to the CRM: changes of people, people it does not know yet, what was done, and deals. One after the other. */
import { z } from "zod";
import { partAt, putAt, valueAt } from "../../core/connections/json-path.ts";
import type { Values } from "../../core/crm/merge.ts";
import { plainLine } from "../../core/plain-line.ts";
import { renderMerge } from "../../core/writing/merge.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { personKey } from "../db/erased.ts";
import { fieldsIn, jsonOf } from "../db/json.ts";
import { sql, transact } from "../db/open.ts";
import { fullName, type Prospect, prospectById, prospectValues, remainingProspect } from "../db/prospects.ts";
import { filterSql } from "../prospects/filters/filter-sql.ts";
import { filterSeenBy } from "../prospects/people/list-prospects.ts";
import { type CrmClient, CrmProblem } from "./ask-crm.ts";
import type { Crm } from "./crm.ts";
import { keepDeal, type Link, linkOf, linkWith, meetPerson } from "./meet.ts";
import { externalId } from "./news.ts";
import { bodyOf, companyIn, valuesHere, valuesThere } from "./translate.ts";

/** A turn with the CRM: what it is, how it is asked, as whom. */
export interface Turn {
  app: App;
  crm: Crm;
  client: CrmClient;
  user: User;
}

const isGone = (error: unknown) => error instanceof CrmProblem && error.what === "gone";
const isRefused = (error: unknown) => error instanceof CrmProblem && error.what === "refused";

/** Brings the next person into step who changed here; false if there is none. */
export async function pushChange({ app, crm, client, user }: Turn): Promise<boolean> {
  const { db } = app;
  const { people } = crm.dialect;
  const next = sql(
    db,
    "SELECT id, there_id AS thereId FROM crm_links WHERE crm_id = @crmId AND is_dirty > 0 AND state = 'linked' ORDER BY id LIMIT 1",
  ).get<{ id: number; thereId: string }>({ crmId: crm.id });
  if (!next) return false;
  const path = `${people.path}/${encodeURIComponent(next.thereId)}`;
  try {
    const item = await client.ask("GET", path);
    const { toThere, link } = transact(app, (app) => {
      const met = meetPerson(app, crm, user, item, false);
      // What changes from here on is a new change; if this one breaks off, it is told again.
      sql(app.db, "UPDATE crm_links SET is_dirty = @is WHERE id = @id").run({
        ...{ id: next.id, is: Object.keys(met.toThere).length > 0 ? 2 : 0 },
      });
      return met;
    });
    if (!link || Object.keys(toThere).length === 0) return true;
    const body = await bodyWithCompany({ app, crm, client }, link, toThere);
    // What has no word there (a stage that is not mapped) is no news for it.
    const told = Object.keys(body).length === 0 ? null : await client.ask("PATCH", path, { body });
    keepTold(app, crm, link.id, toThere, told);
  } catch (error) {
    if (isGone(error))
      sql(db, "UPDATE crm_links SET state = 'gone_there', is_dirty = 0 WHERE id = @id").run({ id: next.id });
    else if (isRefused(error)) noteRefusal(app, crm, next.id, error as CrmProblem);
    else throw error;
  }
  return true;
}

/** A change of the company's fields names the company whole: half of it would be another one. */
async function bodyWithCompany(
  { app, crm, client }: Pick<Turn, "app" | "crm" | "client">,
  link: Link,
  toThere: Values,
): Promise<Record<string, unknown>> {
  const body = bodyOf(app, crm, toThere);
  const person =
    companyIn(crm, toThere) && link.prospectId !== null ? prospectById(app.db, link.prospectId) : null;
  const company = person ? companyIn(crm, valuesHere(crm, person)) : null;
  if (company) putAt(body, crm.dialect.company, await companyThere({ app, crm, client }, company));
  return body;
}

/** The company's id there: one that is known by its web domain or its name, else a new one. Null for none. */
async function companyThere(
  { app, crm, client }: Pick<Turn, "app" | "crm" | "client">,
  { name, domain }: { name: string; domain: string },
): Promise<string | null> {
  const { companies, companyName, companyDomain } = crm.dialect;
  if (name === "" && domain === "") return null;
  const known = sql(
    app.db,
    `SELECT there_id AS id, there FROM crm_links WHERE crm_id = @crmId AND kind = 'company'
       AND ((@domain != '' AND lower(there ->> @domainAt) = lower(@domain)) OR (@domain = '' AND lower(there ->> @nameAt) = lower(@name)))
     LIMIT 1`,
  ).get<{ id: string; there: string }>({
    ...{ crmId: crm.id, name, domain, domainAt: `$.${companyDomain}`, nameAt: `$.${companyName}` },
  });
  if (known) {
    const record: unknown = JSON.parse(known.there);
    // Known by its web domain, and called otherwise here by now: it is called so there, too.
    if (name !== "" && domain !== "" && valueAt(record, companyName) !== name) {
      const renamed: Record<string, unknown> = {};
      putAt(renamed, companyName, name);
      await client.ask("PATCH", `${companies.path}/${encodeURIComponent(known.id)}`, { body: renamed });
      putAt(record as Record<string, unknown>, companyName, name);
      sql(
        app.db,
        "UPDATE crm_links SET there = @there WHERE crm_id = @crmId AND kind = 'company' AND there_id = @id",
      ).run({
        ...{ crmId: crm.id, id: known.id, there: JSON.stringify(record) },
      });
    }
    return known.id;
  }
  const body: Record<string, unknown> = {};
  putAt(body, companyName, name || domain);
  if (domain !== "") putAt(body, companyDomain, domain);
  putAt(body, crm.dialect.externalId, externalId(app, "company", (domain || name).toLowerCase()));
  const made = await client.ask("POST", companies.path, { body });
  const id = valueAt(made, companies.id);
  if (id === "") throw new CrmProblem("refused", "A company that was made there got no id.");
  sql(
    app.db,
    `INSERT INTO crm_links (crm_id, kind, there_id, there, there_at) VALUES (@crmId, 'company', @id, @there, 0) ON CONFLICT DO NOTHING`,
  ).run({ crmId: crm.id, id, there: JSON.stringify(made) });
  return id;
}

function keepTold(app: App, crm: Crm, linkId: number, told: Values, item: unknown): void {
  transact(app, ({ db }) => {
    const row = sql(db, "SELECT base, there FROM crm_links WHERE id = @linkId").get<{
      base: string | null;
      there: string;
    }>({
      linkId,
    });
    if (!row) return;
    sql(
      db,
      "UPDATE crm_links SET base = @base, there = @there, company_there = coalesce(@company, company_there), is_dirty = iif(is_dirty = 2, 0, is_dirty) WHERE id = @linkId",
    ).run({
      linkId,
      base: JSON.stringify({ ...fieldsIn(row.base ?? "{}"), ...told }),
      there: JSON.stringify({ ...fieldsIn(row.there), ...told }),
      company: valueAt(item, crm.dialect.company) || null,
    });
  });
}

/** What it does not take of somebody is shown in the log; with their next change it is tried again. */
function noteRefusal({ db, clock }: App, crm: Crm, linkId: number, { message }: CrmProblem): void {
  sql(
    db,
    `INSERT INTO crm_outbox (crm_id, kind, prospect_id, external_id, body, at, state, tried_at, answer)
     SELECT crm_id, 'person', prospect_id, 'change ' || id, '{}', @now, 'failed', @now, @message FROM crm_links
     WHERE id = @linkId AND prospect_id IS NOT NULL AND crm_id = @crmId
     ON CONFLICT (crm_id, external_id) DO UPDATE SET tried_at = @now, answer = @message`,
  ).run({ crmId: crm.id, linkId, message: plainLine(message, 300), now: clock.now() });
  sql(db, "UPDATE crm_links SET is_dirty = 0 WHERE id = @linkId").run({ linkId });
}

/** Those of ours who are to be there, and are not. @crmId and what the filter asks. */
const MISSING = (where: string) => `FROM prospects p WHERE p.live = 1 AND p.email IS NOT NULL AND ${where}
  AND NOT EXISTS (SELECT 1 FROM crm_links l WHERE l.prospect_id = p.id AND l.crm_id = @crmId)
  AND NOT EXISTS (SELECT 1 FROM crm_outbox o WHERE o.prospect_id = p.id AND o.kind = 'person' AND o.state = 'failed')`;

function missing({ app, crm }: Pick<Turn, "app" | "crm">) {
  const filter = filterSql(filterSeenBy(app, crm.userId, crm.settings.filter), app.clock.now());
  return { from: MISSING(filter.where), values: { ...filter.values, crmId: crm.id } };
}

/** How many people would be made there, and some of them. */
export function wouldBeMade(turn: Pick<Turn, "app" | "crm">): {
  count: number;
  examples: { name: string; words: string }[];
} {
  if (!turn.crm.settings.makesPeople) return { count: 0, examples: [] };
  const { from, values } = missing(turn);
  const { db } = turn.app;
  return {
    count: sql(db, `SELECT count(*) AS count ${from}`).get<{ count: number }>(values)?.count ?? 0,
    examples: sql(
      db,
      `SELECT trim(p.first_name || ' ' || p.last_name) AS name, p.email AS words ${from} ORDER BY p.id LIMIT 5`,
    ).all<{ name: string; words: string }>(values),
  };
}

const MADE_AT_ONCE = 50;

/** Makes the next people there whom it does not know; false if nobody is left. */
export async function pushMissing(turn: Turn): Promise<boolean> {
  const { app, crm } = turn;
  if (!crm.settings.makesPeople) return false;
  const { from, values } = missing(turn);
  const ids = sql(app.db, `SELECT p.id ${from} ORDER BY p.id LIMIT ${MADE_AT_ONCE}`)
    .all<{ id: number }>(values)
    .map(({ id }) => id);
  for (const id of ids) await personThere(turn, id);
  return ids.length > 0;
}

/** Somebody's link; made there if they are not. Null where that is refused, or they are gone on one side. */
async function personThere(turn: Turn, prospectId: number): Promise<Link | null> {
  const { app, crm, client, user } = turn;
  const { people, email } = crm.dialect;
  const person = remainingProspect(app.db, prospectId);
  if (!person || person.erasedAt !== null) return null;
  const known = linkOf(app.db, crm.id, person.id);
  if (known) return known.state === "linked" ? known : null;
  try {
    // Whoever made them there: nobody stands there twice.
    const found = await client.ask("GET", people.path, { query: { [email]: person.email } });
    const items = partAt(found, people.items);
    const same = Array.isArray(items)
      ? items.find((item) => valuesThere(app, crm, item, null).email === person.email.toLowerCase())
      : undefined;
    const made = same ?? (await client.ask("POST", people.path, { body: await wholeBody(turn, person) }));
    const thereId = valueAt(made, people.id);
    if (thereId === "") throw new CrmProblem("refused", "Somebody who was made there got no id.");
    // What it answers to the making may be half of them.
    const item = same ?? (await client.ask("GET", `${people.path}/${encodeURIComponent(thereId)}`));
    const link = transact(app, (app) => {
      linkWith(app.db, crm, person.id, thereId);
      return meetPerson(app, crm, user, item, false).link;
    });
    if (link?.prospectId === person.id) return link;
    throw new CrmProblem("refused", "Stands there as somebody else.");
  } catch (error) {
    if (!isRefused(error) && !isGone(error)) throw error;
    sql(
      app.db,
      `INSERT INTO crm_outbox (crm_id, kind, prospect_id, external_id, body, at, state, tried_at, answer)
       VALUES (@crmId, 'person', @prospectId, @externalId, '{}', @now, 'failed', @now, @answer)
       ON CONFLICT (crm_id, external_id) DO UPDATE SET tried_at = @now, answer = @answer`,
    ).run({
      ...{ crmId: crm.id, prospectId: person.id, now: app.clock.now() },
      externalId: externalId(app, "person", personKey(person)),
      answer: plainLine((error as CrmProblem).message, 300),
    });
    return null;
  }
}

async function wholeBody(turn: Turn, person: Prospect): Promise<Record<string, unknown>> {
  const { app, crm } = turn;
  const values = valuesHere(crm, person);
  const body = bodyOf(
    app,
    crm,
    Object.fromEntries(Object.entries(values).filter(([, value]) => value !== "")),
  );
  const company = companyIn(crm, values);
  const companyId = company ? await companyThere(turn, company) : null;
  if (companyId !== null) putAt(body, crm.dialect.company, companyId);
  putAt(body, crm.dialect.externalId, externalId(app, "person", personKey(person)));
  return body;
}

interface Due {
  id: number;
  kind: "activity" | "deal";
  prospectId: number;
  externalId: string;
  body: string;
}

/** Tells the next thing that is due; false if there is none. One that is refused does not hold up the rest. */
export async function pushNext(turn: Turn): Promise<boolean> {
  const { app, crm } = turn;
  const due = sql(
    app.db,
    `SELECT id, kind, prospect_id AS prospectId, external_id AS externalId, body FROM crm_outbox
     WHERE crm_id = @crmId AND state = 'due' ORDER BY id LIMIT 1`,
  ).get<Due>({ crmId: crm.id });
  if (!due) return false;
  let [state, answer] = ["done", ""];
  try {
    const link =
      due.kind === "deal" ? await personThere(turn, due.prospectId) : linkedHere(turn, due.prospectId);
    if (!link && due.kind === "activity") {
      // Nobody there whom it could be told of.
      sql(app.db, "DELETE FROM crm_outbox WHERE id = @id").run({ id: due.id });
      return true;
    }
    if (!link) [state, answer] = ["failed", "They are not in the CRM."];
    else if (due.kind === "activity") await tellActivity(turn, link, due);
    else answer = await tellDeal(turn, link, due);
  } catch (error) {
    if (!isRefused(error) && !isGone(error)) throw error;
    [state, answer] = ["failed", plainLine((error as CrmProblem).message, 300)];
  }
  sql(app.db, "UPDATE crm_outbox SET state = @state, answer = @answer, tried_at = @now WHERE id = @id").run({
    ...{ id: due.id, state, answer, now: app.clock.now() },
  });
  return true;
}

function linkedHere({ app, crm }: Turn, prospectId: number): Link | null {
  const person = remainingProspect(app.db, prospectId);
  const link = person && linkOf(app.db, crm.id, person.id);
  return link?.state === "linked" ? link : null;
}

const activity = z.object({
  kind: z.string(),
  at: z.string(),
  subject: z.string(),
  text: z.string(),
  url: z.string(),
});

async function tellActivity({ client, crm }: Turn, link: Link, due: Due): Promise<void> {
  const body: Record<string, unknown> = { ...jsonOf(activity, due.body) };
  putAt(body, crm.dialect.externalId, due.externalId);
  putAt(body, crm.dialect.dealPerson, link.thereId);
  await client.ask("POST", crm.dialect.activities, { body });
}

const dealBody = z.object({ name: z.string(), stage: z.string() });

/** Makes their deal, or moves the one that there is; in words what was done. */
async function tellDeal({ app, client, crm }: Turn, link: Link, due: Due): Promise<string> {
  const { dialect, choices } = crm;
  const person = link.prospectId === null ? undefined : prospectById(app.db, link.prospectId);
  if (!person) throw new CrmProblem("refused", "They are no longer here.");
  const { name, stage: asked } = jsonOf(dealBody, due.body);
  const stage = choices.stages.find(
    ({ id, name }) => id === asked || name.toLowerCase() === asked.toLowerCase(),
  );
  if (!stage) throw new CrmProblem("refused", `There is no stage “${asked}” of a deal there.`);
  const known = sql(
    app.db,
    "SELECT there_id AS thereId, name, value FROM crm_deals WHERE prospect_id = @id AND crm_id = @crmId ORDER BY id DESC LIMIT 1",
  ).get<{ thereId: string; name: string; value: string }>({ id: person.id, crmId: crm.id });
  const rendered = renderMerge(name, { ...prospectValues(person), full_name: fullName(person) });
  const title = known?.name ?? (rendered.ok && rendered.text !== "" ? rendered.text : fullName(person));
  const body: Record<string, unknown> = {};
  putAt(body, dialect.dealStage, stage.id);
  if (!known) {
    putAt(body, dialect.dealName, title);
    putAt(body, dialect.dealPerson, link.thereId);
    putAt(body, dialect.externalId, externalId(app, "deal", personKey(person)));
    const company = sql(app.db, "SELECT company_there AS id FROM crm_links WHERE id = @id").get<{
      id: string | null;
    }>({
      id: link.id,
    });
    if (company?.id) putAt(body, dialect.company, company.id);
  }
  const item = await (known
    ? client.ask("PATCH", `${dialect.deals.path}/${encodeURIComponent(known.thereId)}`, { body })
    : client.ask("POST", dialect.deals.path, { body }));
  const thereId = known?.thereId ?? valueAt(item, dialect.deals.id);
  if (thereId === "") throw new CrmProblem("refused", "A deal that was made there got no id.");
  // What it already is there, where it was made before an answer was lost, counts.
  const now = valueAt(item, dialect.dealStage) || stage.id;
  transact(app, (app) =>
    keepDeal(app, crm, {
      ...{ thereId, prospectId: person.id, name: title, stage: now },
      value: valueAt(item, dialect.dealValue) || known?.value || "",
    }),
  );
  return known ? `moved to “${stage.name}”` : `made: ${title}`;
}

/** Deletes somebody there, because a person said so. */
export async function deleteThere({ client, crm }: Turn, thereId: string): Promise<void> {
  try {
    await client.ask("DELETE", `${crm.dialect.people.path}/${encodeURIComponent(thereId)}`);
  } catch (error) {
    if (!isGone(error)) throw error;
  }
}
