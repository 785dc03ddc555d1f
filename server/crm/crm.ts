/** The team's CRM: its row, and what people decide about it. What follows is carried out by the worker (carry.ts). */
import { z } from "zod";
import { type Dialect, dialectSchema } from "../../core/crm/dialect.ts";
import { type CrmSettings, settingsSchema, USUAL_SETTINGS } from "../../core/crm/settings.ts";
import { parseDialect } from "../../core/crm/typed-dialect.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App, AppTx } from "../app.ts";
import { jsonOf } from "../db/json.ts";
import { type Listened, newestHappening, renewListeners } from "../db/listeners.ts";
import { sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { addressSchema, isRefusedInside } from "../outside/ask.ts";
import { newToken, seal, unseal } from "../secrets.ts";
import { isSigned, newSecret } from "../webhooks/sign.ts";
import { type Access, CrmClient, CrmProblem } from "./ask-crm.ts";
import { askChoices, type Choices, choicesSchema } from "./choices.ts";
import { type Report, reportSchema } from "./report.ts";

/** The kinds of things that are read there, in this order: who somebody works for stands before them, and their deals after. */
export const READ = ["companies", "people", "deals"] as const;

const passSchema = z.object({
  at: z.enum(READ),
  cursor: z.string().nullable(),
  /** The newest change that was seen of this kind. */
  newest: z.string(),
  /** Things looked at so far. */
  done: z.number(),
});
export type Pass = z.infer<typeof passSchema>;

const seenSchema = z.partialRecord(z.enum(READ), z.string());

export interface Crm {
  id: number;
  userId: number;
  owner: string;
  name: string;
  url: string;
  dialect: Dialect;
  settings: CrmSettings;
  state: "new" | "looking" | "looked" | "on" | "off" | "held";
  heldBecause: string | null;
  choices: Choices;
  pass: Pass | null;
  seen: z.infer<typeof seenSchema>;
  report: Report | null;
  lookedAt: number | null;
  /** The next pass, by the machine's clock. */
  nextWall: number;
  failingSince: number | null;
  failingBecause: string | null;
  retryAt: number | null;
  tries: number;
  seenHappening: number;
  address: string;
}

type Row = Omit<Crm, "dialect" | "settings" | "choices" | "pass" | "seen" | "report"> &
  Record<"dialect" | "settings" | "seen", string> &
  Record<"choices" | "pass" | "report", string | null>;

/** The team's CRM, or null. */
export function crmOf({ db }: Pick<App, "db">): Crm | null {
  const row = sql(
    db,
    `SELECT c.id, c.user_id AS userId, u.name AS owner, c.name, c.url, c.dialect, c.settings, c.state, c.held_because AS heldBecause,
       c.choices, c.pass, c.seen, c.report, c.looked_at AS lookedAt, c.next_wall AS nextWall, c.failing_since AS failingSince,
       c.failing_because AS failingBecause, c.retry_at AS retryAt, c.tries, c.seen_happening AS seenHappening, c.address
     FROM crms c JOIN users u ON u.id = c.user_id ORDER BY c.id LIMIT 1`,
  ).get<Row>([]);
  return row === undefined
    ? null
    : {
        ...row,
        dialect: jsonOf(dialectSchema, row.dialect),
        settings: jsonOf(settingsSchema, row.settings),
        seen: jsonOf(seenSchema, row.seen),
        choices:
          row.choices === null ? { views: [], stages: [], owners: [] } : jsonOf(choicesSchema, row.choices),
        pass: row.pass === null ? null : jsonOf(passSchema, row.pass),
        report: row.report === null ? null : jsonOf(reportSchema, row.report),
      };
}

/** What it is asked with; what a renewed token brings is kept at once, since the one before is worth nothing any more. */
export function clientOf(app: App, { id, url, dialect }: Crm): CrmClient {
  const { db, key } = app;
  const row = sql(
    db,
    `SELECT client_id AS clientId, client_secret_sealed AS clientSecret, key_sealed AS ownKey, access_sealed AS access,
       access_until_wall AS accessUntil FROM crms WHERE id = @id`,
  ).get<{ clientId: string; clientSecret: string; ownKey: string; access: string; accessUntil: number }>({
    id,
  });
  const open = (sealed: string | undefined) => (sealed ? unseal(sealed, key) : "");
  const access: Access = {
    clientId: row?.clientId ?? "",
    clientSecret: open(row?.clientSecret),
    key: open(row?.ownKey),
    access: open(row?.access),
    accessUntil: row?.accessUntil ?? 0,
  };
  return new CrmClient(app.config, { url, dialect }, access, (renewed) =>
    sql(
      db,
      "UPDATE crms SET key_sealed = @ownKey, access_sealed = @access, access_until_wall = @until WHERE id = @id",
    ).run({
      ...{ id, until: renewed.accessUntil },
      ownKey: seal(renewed.key, key),
      access: seal(renewed.access, key),
    }),
  );
}

const connectForm = z.object({
  name: z.string().trim().min(1, "Name it as you call it.").max(60),
  url: addressSchema,
  clientId: z.string().trim().max(200).default(""),
  clientSecret: z.string().trim().max(500).default(""),
  /** A refresh token, or, where the dialect has no place for tokens, the key itself. */
  key: z.string().trim().min(1, "Paste the token that it gave you.").max(4_000),
  dialect: z.string().max(20_000).default(""),
});

/** Connects the team's CRM, once it has answered; nothing is taken over by that. */
export async function connectCrm(app: App, by: number, input: unknown): Promise<Outcome<null>> {
  const no = mayNot(app, by, "crm.change");
  if (no) return no;
  const read = connectForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, clientId, clientSecret } = read.data;
  const dialect = parseDialect(read.data.dialect);
  if (!dialect.ok) return refused({ dialect: dialect.problem });
  const url = read.data.url.replace(/\/+$/, "");
  if (isRefusedInside(app.config, new URL(url)))
    return refused({
      url: "This address leads inside this network, where nothing is asked. Whoever runs the installation can allow it (SAUDADE_INSIDE).",
    });
  if (crmOf(app)) return refused({ form: "There is a CRM already. Part from it first." });
  let access: Access = { clientId, clientSecret, key: read.data.key, access: "", accessUntil: 0 };
  const client = new CrmClient(app.config, { url, dialect: dialect.value }, access, (renewed) => {
    access = renewed;
  });
  let choices: Choices;
  try {
    choices = await askChoices(client, dialect.value);
  } catch (error) {
    if (!(error instanceof CrmProblem)) throw error;
    return refused({ [error.what === "key" ? "key" : "url"]: error.message });
  }
  const { key, clock } = app;
  return transact(app, ({ db }): Outcome<null> => {
    if (sql(db, "SELECT 1 FROM crms").get([])) return refused({ form: "There is a CRM already." });
    sql(
      db,
      `INSERT INTO crms (user_id, name, url, dialect, settings, client_id, client_secret_sealed, key_sealed, access_sealed,
         access_until_wall, choices, address, hook_secret_sealed, made_at)
       VALUES (@by, @name, @url, @dialect, @settings, @clientId, @clientSecret, @ownKey, @access, @until, @choices, @address, @hook, @now)`,
    ).run({
      ...{ by, name, url, clientId, address: newToken(), now: clock.now(), until: access.accessUntil },
      dialect: JSON.stringify(dialect.value),
      settings: JSON.stringify(USUAL_SETTINGS),
      clientSecret: clientSecret === "" ? "" : seal(clientSecret, key),
      ownKey: seal(access.key, key),
      access: seal(access.access, key),
      choices: JSON.stringify(choices),
      hook: seal(newSecret(), key),
    });
    return done(null);
  });
}

const GONE = { ...refused({ form: "There is no CRM any more." }), code: "not_found" as const };

/** Something is changed of it by somebody who may. */
export function changingCrm<T>(app: App, by: By, work: (app: AppTx, crm: Crm) => Outcome<T>): Outcome<T> {
  return transact(app, (app): Outcome<T> => {
    const crm = crmOf(app);
    if (!crm) return GONE;
    const no = mayNot(app, by, "crm.change");
    if (no) return no;
    const outcome = work(app, crm);
    if (outcome.ok) renewListeners(app.db);
    return outcome;
  });
}

/** Saves what goes which way. Other people or other fields are read from the beginning. */
export function saveCrm(app: App, by: By, input: unknown): Outcome<null> {
  return changingCrm(app, by, ({ db }, { id, settings, choices, state }) => {
    const read = settingsSchema.safeParse(input);
    if (!read.success) return refused(fieldErrors(read.error));
    const fresh = read.data;
    if (fresh.view !== "" && !choices.views.some(({ id }) => id === fresh.view))
      return refused({ view: "This saved filter is no longer there. Choose another." });
    if (fresh.deals.at !== "never" && !choices.stages.some(({ id }) => id === fresh.deals.stage))
      return refused({ "deals.stage": "Choose the stage at which a deal begins." });
    const readsAnew =
      fresh.view !== settings.view ||
      JSON.stringify([fresh.fields, fresh.stages]) !== JSON.stringify([settings.fields, settings.stages]);
    sql(
      db,
      `UPDATE crms SET settings = @settings, kinds = @kinds, report = NULL, pass = NULL, next_wall = 0,
         seen = iif(@readsAnew, '{}', seen), state = iif(state IN ('looking', 'looked'), 'new', state) WHERE id = @id`,
    ).run({
      ...{ id, readsAnew: readsAnew ? 1 : 0, settings: JSON.stringify(fresh) },
      kinds: JSON.stringify(state === "on" ? kindsOf(fresh) : []),
    });
    return done(null);
  });
}

/** What it has to hear of. */
function kindsOf({ logs, deals }: CrmSettings): Listened[] {
  return [
    ...(["prospect.field_changed", "prospect.stage_changed", "prospect.owner_changed"] as const),
    ...(logs.sent || deals.at === "first_email" ? (["email.sent"] as const) : []),
    ...(logs.replies ? (["reply.received", "prospect.opted_out"] as const) : []),
    ...(deals.at === "positive" ? (["reply.labelled"] as const) : []),
    ...(logs.meetings || deals.at === "booked" ? (["meeting.booked"] as const) : []),
    ...(logs.meetings
      ? (["meeting.moved", "meeting.cancelled", "meeting.held", "meeting.missed"] as const)
      : []),
  ];
}

/** Looks through everything there without consequences, and reports what would follow. */
export function tryCrm(app: App, by: By): Outcome<null> {
  return changingCrm(app, by, ({ db }, { id, state }) => {
    if (state === "on") return refused({ form: "It is on: what it does stands below. Switch it off first." });
    sql(
      db,
      `UPDATE crms SET state = 'looking', held_because = NULL, report = NULL, pass = NULL, failing_since = NULL, retry_at = NULL,
         tries = 0 WHERE id = @id`,
    ).run({ id });
    return done(null);
  });
}

/** Switches it on, which looks through everything at once, or off. Only what was tried before is switched on for the first time. */
export function switchCrm(app: App, by: By, isOn: boolean): Outcome<null> {
  return changingCrm(app, by, ({ db }, { id, state, settings }) => {
    if (isOn && (state === "new" || state === "looking"))
      return refused({ form: "First look what it would do." });
    sql(
      db,
      `UPDATE crms SET state = @state, held_because = NULL, pass = NULL, next_wall = 0, failing_since = NULL, retry_at = NULL, tries = 0,
         kinds = @kinds, seen_happening = iif(@state = 'on' AND state = 'looked', @newest, seen_happening) WHERE id = @id`,
    ).run({
      ...{ id, state: isOn ? "on" : "off", newest: newestHappening(db) },
      kinds: JSON.stringify(isOn ? kindsOf(settings) : []),
    });
    return done(null);
  });
}

/** Reads everything there once more, from the beginning. */
export function readAnew(app: App, by: By): Outcome<null> {
  return changingCrm(app, by, ({ db }, { id }) => {
    sql(db, "UPDATE crms SET seen = '{}', pass = NULL, next_wall = 0, retry_at = NULL WHERE id = @id").run({
      id,
    });
    return done(null);
  });
}

const keyForm = connectForm.pick({ clientId: true, clientSecret: true, key: true });

/** A new token in place of one that is taken no more. */
export async function renewKey(app: App, by: By, input: unknown): Promise<Outcome<null>> {
  const read = keyForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const no = mayNot(app, by, "crm.change");
  if (no) return no;
  const crm = crmOf(app);
  if (!crm) return GONE;
  let access: Access = { ...read.data, access: "", accessUntil: 0 };
  try {
    await askChoices(
      new CrmClient(app.config, crm, access, (renewed) => {
        access = renewed;
      }),
      crm.dialect,
    );
  } catch (error) {
    if (!(error instanceof CrmProblem)) throw error;
    return refused({ key: error.message });
  }
  const { key } = app;
  return changingCrm(app, by, ({ db }, { id }) => {
    sql(
      db,
      `UPDATE crms SET client_id = @clientId, client_secret_sealed = @clientSecret, key_sealed = @ownKey, access_sealed = @access,
         access_until_wall = @until, state = iif(state = 'held', iif(seen = '{}', 'new', 'on'), state), held_because = NULL,
         failing_since = NULL, retry_at = NULL, tries = 0, next_wall = 0 WHERE id = @id`,
    ).run({
      ...{ id, clientId: access.clientId, until: access.accessUntil },
      clientSecret: access.clientSecret === "" ? "" : seal(access.clientSecret, key),
      ownKey: seal(access.key, key),
      access: seal(access.access, key),
    });
    return done(null);
  });
}

/** Parts from it: what is known here stays here, and what is there stays there. */
export function partFromCrm(app: App, by: By): Outcome<null> {
  return changingCrm(app, by, ({ db }, { id }) => {
    sql(db, "DELETE FROM crms WHERE id = @id").run({ id });
    return done(null);
  });
}

/** However often it says that something changed: what we told it is such a change, too. */
const PASSES_APART = 3_000;

/** It says that something changed: it is asked at once. False where nobody listens, or what it says is not signed by it. */
export function pokeCrm(
  app: App,
  address: string,
  headers: Readonly<Record<string, string | string[] | undefined>>,
  body: string,
): boolean {
  const { db, key } = app;
  const row = sql(
    db,
    "SELECT id, hook_secret_sealed AS secret FROM crms WHERE address = @address AND state = 'on'",
  ).get<{
    id: number;
    secret: string;
  }>({ address });
  if (!row || !isSigned(headers, body, unseal(row.secret, key), Date.now())) return false;
  const wall = Date.now();
  sql(db, "UPDATE crms SET next_wall = min(next_wall, max(@wall, passed_wall + @apart)) WHERE id = @id").run({
    ...{ id: row.id, wall, apart: PASSES_APART },
  });
  return true;
}
