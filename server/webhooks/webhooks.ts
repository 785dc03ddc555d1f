/** Webhooks: which happenings are told to which address, and what came of it. */
import { z } from "zod";
import { DAY } from "../../core/calendar.ts";
import { type Channel, channelSchema } from "../../core/connections/channel.ts";
import { HAPPENING_KINDS, type HappeningKind } from "../../core/connections/happenings.ts";
import { parseFilter } from "../../core/prospects/filter.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App, AppTx } from "../app.ts";
import { jsonOf } from "../db/json.ts";
import { newestHappening, renewListeners } from "../db/listeners.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { addressSchema, isRefusedInside } from "../outside/ask.ts";
import { seal } from "../secrets.ts";
import { type Payload, rulePayload, testPayload } from "./payload.ts";
import { newSecret } from "./sign.ts";

const MOST_WEBHOOKS = 50;
/** So long the secret before still signs beside the new one. */
const OVERLAP = DAY;

const kindsSchema = z.array(z.enum(HAPPENING_KINDS));
const webhookForm = z.object({
  name: z.string().trim().min(1, "Name it after the program that listens.").max(60),
  url: addressSchema,
  kinds: kindsSchema.min(1, "Choose what it is told of."),
  filter: z
    .string()
    .max(8_000)
    .refine((text) => text === "" || parseFilter(text) !== null, "This is no filter.")
    .default(""),
  /** Null: a program, which is told as JSON. */
  channel: channelSchema.nullable().default(null),
});

export interface Webhook {
  id: number;
  name: string;
  url: string;
  kinds: HappeningKind[];
  filter: string;
  channel: Channel | null;
  ownerId: number;
  owner: string;
  state: "on" | "off";
  offBecause: string | null;
  failingSince: number | null;
  retryAt: number | null;
  /** What waits to be told, and what was told. */
  due: number;
  told: number;
}

/** Every webhook of the team, the newest last. */
export function allWebhooks({ db }: App): Webhook[] {
  return sql(
    db,
    `SELECT w.id, w.name, w.url, w.kinds, w.filter, w.channel, w.user_id AS ownerId, u.name AS owner, w.state, w.off_because AS offBecause,
       w.failing_since AS failingSince, w.retry_at AS retryAt,
       (SELECT count(*) FROM deliveries d WHERE d.webhook_id = w.id AND d.state = 'due') AS due,
       (SELECT count(*) FROM deliveries d WHERE d.webhook_id = w.id AND d.state = 'done') AS told
     FROM webhooks w JOIN users u ON u.id = w.user_id ORDER BY w.id`,
  )
    .all<Omit<Webhook, "kinds" | "channel"> & { kinds: string; channel: string | null }>([])
    .map((row) => ({ ...row, kinds: jsonOf(kindsSchema, row.kinds), channel: channelOf(row.channel) }));
}

/** As somebody may see them: an address can be as good as a key, so only its beginning is shown to who may not change it. */
export const webhooksSeenBy = (app: App, by: By): Webhook[] =>
  allWebhooks(app).map((each) =>
    mayNot(app, by, "webhook.change", each.id)
      ? { ...each, url: new URL(each.url).origin, filter: "", channel: null }
      : each,
  );

/** As its row has it. */
export const channelOf = (text: string | null): Channel | null =>
  text === null ? null : jsonOf(channelSchema, text);

export const webhookById = (app: App, id: number): Webhook | null =>
  allWebhooks(app).find((each) => each.id === id) ?? null;

const GONE = { ...refused({ form: "This webhook is no longer here." }), code: "not_found" as const };

/** Makes a webhook; returns it with its secret, which is shown once. */
export function makeWebhook(app: App, by: number, input: unknown): Outcome<{ id: number; secret: string }> {
  const no = mayNot(app, by, "webhook.create");
  if (no) return no;
  const read = readForm(app, input);
  if (!read.ok) return read;
  return transact(app, ({ db, key, clock }): Outcome<{ id: number; secret: string }> => {
    const count = sql(db, "SELECT count(*) AS count FROM webhooks").get<{ count: number }>([])?.count ?? 0;
    if (count >= MOST_WEBHOOKS)
      return refused({ form: `There are ${MOST_WEBHOOKS} webhooks. Remove one first.` });
    const secret = newSecret();
    const { kinds, channel, ...value } = read.value;
    const { lastInsertRowid } = sql(
      db,
      `INSERT INTO webhooks (user_id, name, url, kinds, filter, channel, secret_sealed, seen_happening, made_at)
       VALUES (@by, @name, @url, @kinds, @filter, @channel, @sealed, @seen, @now)`,
    ).run({
      ...{ ...value, by, kinds: JSON.stringify(kinds), sealed: seal(secret, key) },
      channel: channel && JSON.stringify(channel),
      ...{ seen: newestHappening(db), now: clock.now() },
    });
    renewListeners(db);
    return done({ id: Number(lastInsertRowid), secret });
  });
}

function readForm({ config }: App, input: unknown): Outcome<z.infer<typeof webhookForm>> {
  const read = webhookForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  if (isRefusedInside(config, new URL(read.data.url)))
    return refused({
      url: "This address leads inside this network, where nothing is told. Whoever runs the installation can allow it (SAUDADE_INSIDE).",
    });
  return done(read.data);
}

/** Changes what a webhook listens for, of whom, and where it is told. */
export function saveWebhook(app: App, by: By, id: number, input: unknown): Outcome<null> {
  return changing(app, by, id, (app) => {
    const read = readForm(app, input);
    if (!read.ok) return read;
    const { kinds, channel, ...value } = read.value;
    sql(
      app.db,
      `UPDATE webhooks SET name = @name, url = @url, kinds = @kinds, filter = @filter, channel = @channel, failing_since = NULL, retry_at = NULL, tries = 0
       WHERE id = @id`,
    ).run({ ...value, id, kinds: JSON.stringify(kinds), channel: channel && JSON.stringify(channel) });
    return done(null);
  });
}

export function removeWebhook(app: App, by: By, id: number): Outcome<null> {
  return changing(app, by, id, ({ db }) => {
    sql(db, "DELETE FROM webhooks WHERE id = @id").run({ id });
    return done(null);
  });
}

/** Switches it on or off by hand. What happened while it was off is told only when it is asked for (`replay`). */
export function switchWebhook(app: App, by: By, id: number, isOn: boolean): Outcome<null> {
  return changing(app, by, id, ({ db }) => {
    sql(
      db,
      `UPDATE webhooks SET state = @state, off_because = NULL, failing_since = NULL, retry_at = NULL, tries = 0,
         seen_happening = CASE WHEN state = 'off' AND @state = 'on' THEN @newest ELSE seen_happening END WHERE id = @id`,
    ).run({ id, state: isOn ? "on" : "off", newest: newestHappening(db) });
    // What waited and was given up begins anew.
    if (isOn)
      sql(
        db,
        "UPDATE deliveries SET state = 'due', tries = 0, next_at = 0, first_tried_at = NULL WHERE webhook_id = @id AND state != 'done'",
      ).run({ id });
    return done(null);
  });
}

/** A new secret; the one before signs beside it for a day, so that nothing is refused while the receiver changes over. */
export function rotateSecret(app: App, by: By, id: number): Outcome<string> {
  return changing(app, by, id, ({ db, key, clock }) => {
    const secret = newSecret();
    sql(
      db,
      "UPDATE webhooks SET old_secret_sealed = secret_sealed, old_secret_until = @until, secret_sealed = @sealed WHERE id = @id",
    ).run({ id, sealed: seal(secret, key), until: clock.now() + OVERLAP });
    return done(secret);
  });
}

const replayForm = z.union([
  z.object({ delivery: z.coerce.number().int() }),
  z.object({ since: z.union([z.coerce.number(), z.iso.datetime({ offset: true }).transform(Date.parse)]) }),
]);

/** Tells once more: one happening, or everything since an instant that is still kept, also what happened while it was off. Returns how many. */
export function replay(app: App, by: By, id: number, input: unknown): Outcome<number> {
  const read = replayForm.safeParse(input);
  if (!read.success) return refused({ form: "Say which, or since when." });
  return changing(app, by, id, ({ db }) => {
    const again =
      "UPDATE deliveries SET state = 'due', tries = 0, next_at = 0, first_tried_at = NULL WHERE webhook_id = @id";
    if ("delivery" in read.data) {
      const { changes } = sql(db, `${again} AND id = @delivery`).run({ id, delivery: read.data.delivery });
      return changes === 1 ? done(1) : refused({ form: "This is no longer kept." });
    }
    const { since } = read.data;
    const { changes } = sql(
      db,
      `${again} AND happening_id IN (SELECT id FROM happenings WHERE at >= @since)`,
    ).run({ id, since });
    const first = sql(db, "SELECT min(id) AS id FROM happenings WHERE at >= @since").get<{
      id: number | null;
    }>({ since });
    if (first?.id != null)
      sql(db, "UPDATE webhooks SET seen_happening = min(seen_happening, @first - 1) WHERE id = @id").run({
        id,
        first: first.id,
      });
    return done(changes);
  });
}

/** A letter of no consequence, told like every other. */
export function pressTest(app: App, by: By, id: number): Outcome<null> {
  return changing(app, by, id, ({ db, clock }) => {
    tellNow(db, id, { at: clock.now(), kind: "test", prospectId: null, payload: testPayload(clock.now()) });
    // Whoever presses wants to see it now.
    sql(db, "UPDATE webhooks SET retry_at = NULL WHERE id = @id").run({ id });
    return done(null);
  });
}

/** Tells a webhook of somebody because a rule says so. False if it is not there, or switched off. */
export function tellWebhook(app: AppTx, id: number, about: { prospectId: number; detail: string }): boolean {
  const { db, clock } = app;
  if (!sql(db, "SELECT 1 FROM webhooks WHERE id = @id AND state = 'on'").get({ id })) return false;
  const at = clock.now();
  tellNow(db, id, {
    at,
    kind: "rule.acted",
    prospectId: about.prospectId,
    payload: rulePayload(app, at, about),
  });
  return true;
}

function tellNow(
  db: Db,
  webhookId: number,
  { payload, ...news }: { at: number; kind: string; prospectId: number | null; payload: Payload },
): void {
  const { lastInsertRowid } = sql(
    db,
    "INSERT INTO happenings (kind, at, prospect_id, payload) VALUES (@kind, @at, @prospectId, @payload)",
  ).run({ ...news, payload: JSON.stringify(payload) });
  sql(
    db,
    "INSERT INTO deliveries (webhook_id, happening_id, prospect_id) VALUES (@webhookId, @happening, @prospectId)",
  ).run({ webhookId, happening: Number(lastInsertRowid), prospectId: news.prospectId });
}

function changing<T>(app: App, by: By, id: number, work: (app: AppTx) => Outcome<T>): Outcome<T> {
  return transact(app, (app): Outcome<T> => {
    if (!sql(app.db, "SELECT 1 FROM webhooks WHERE id = @id").get({ id })) return GONE;
    const no = mayNot(app, by, "webhook.change", id);
    if (no) return no;
    const outcome = work(app);
    if (outcome.ok) renewListeners(app.db);
    return outcome;
  });
}

export interface Delivery {
  id: number;
  kind: string;
  at: number;
  /** Of whom it tells; null for nobody. */
  name: string | null;
  state: "due" | "done" | "failed";
  tries: number;
  nextAt: number;
  triedAt: number | null;
  status: number | null;
  answer: string;
  body: string;
}

const LOGGED = 50;

/** What a webhook was told last, and what it said to it; its owner's and the managers' to see. */
export function deliveriesOf(app: App, by: By, webhookId: number): Delivery[] {
  if (mayNot(app, by, "webhook.change", webhookId)) return [];
  return sql(
    app.db,
    `SELECT d.id, h.kind, h.at, (SELECT trim(first_name || ' ' || last_name) FROM prospects WHERE id = h.prospect_id) AS name,
       d.state, d.tries, d.next_at AS nextAt, d.tried_at AS triedAt, d.status, d.answer, coalesce(h.payload, '') AS body
     FROM deliveries d JOIN happenings h ON h.id = d.happening_id WHERE d.webhook_id = @webhookId ORDER BY d.id DESC LIMIT ${LOGGED}`,
  ).all<Delivery>({ webhookId });
}
