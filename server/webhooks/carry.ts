/**
 * Carries happenings to whoever listens: at least once, in order for each person. It is the worker's, and each webhook has a
 * lane of its own; one that does not answer is tried less and less often with one happening at a time.
 */

import { createHash } from "node:crypto";
import { DAY } from "../../core/calendar.ts";
import { retryAfter, TRIED_FOR, waitAfter } from "../../core/connections/retry.ts";
import { isQuiet } from "../../core/notices/notices.ts";
import { plainLine } from "../../core/plain-line.ts";
import { hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { jsonOf, wordsIn } from "../db/json.ts";
import { renewListeners } from "../db/listeners.ts";
import { sql, transact } from "../db/open.ts";
import { tell } from "../notices/write-notices.ts";
import { askOutside, NoAnswer } from "../outside/ask.ts";
import { filterSql } from "../prospects/filters/filter-sql.ts";
import { filterSeenBy } from "../prospects/people/list-prospects.ts";
import { unseal } from "../secrets.ts";
import { channelMessage } from "./channel-message.ts";
import { type Happened, payloadOf, payloadSchema } from "./payload.ts";
import { signedHeaders } from "./sign.ts";
import { channelOf } from "./webhooks.ts";

/** Looked at in one transaction. */
const MOST_AT_ONCE = 200;
/** To one receiver at a time; of one that fails, one. */
const BESIDE = 5;
const PATIENCE = 15_000;
const MOST_ANSWER = 64 * 1024;
const ANSWER_KEPT = 1_000;
/** What was told is kept for so long, to be looked at and told once more. */
const KEPT = 30 * DAY;
const MOST_SWEPT = 1_000;

interface Listening {
  id: number;
  userId: number;
  kinds: string;
  filter: string;
  seen: number;
}

/** Turns what happened since the last look into deliveries; true if more may be left. */
export function spread(app: App): boolean {
  const webhooks = sql(
    app.db,
    `SELECT id, user_id AS userId, kinds, filter, seen_happening AS seen FROM webhooks
     WHERE state = 'on' AND seen_happening < coalesce((SELECT max(id) FROM happenings), 0)`,
  ).all<Listening>([]);
  let isMore = false;
  for (const webhook of webhooks) if (spreadFor(app, webhook)) isMore = true;
  return isMore;
}

function spreadFor(app: App, { id, userId, kinds, filter, seen }: Listening): boolean {
  return transact(app, (app) => {
    const { db } = app;
    const rows = sql(
      db,
      `SELECT h.id, h.kind, h.at, h.prospect_id AS prospectId, h.journey_id AS journeyId, h.touch_id AS touchId,
         h.reply_id AS replyId, h.mailbox_id AS mailboxId, h.user_id AS userId, h.detail, h.payload IS NOT NULL AS hasPayload,
         (SELECT sequence_id FROM journeys j WHERE j.id = h.journey_id) AS sequenceId
       FROM happenings h WHERE h.id > @seen ORDER BY h.id LIMIT ${MOST_AT_ONCE}`,
    ).all<Happened & { hasPayload: number; sequenceId: number | null }>({ seen });
    const listensFor = new Set<string>(wordsIn(kinds));
    const hidden = hiddenFrom(app, userId, "sequence.see");
    const wanted = rows.filter(
      ({ kind, sequenceId }) => listensFor.has(kind) && (sequenceId === null || !hidden.has(sequenceId)),
    );
    const fitting = filter === "" ? null : peopleFitting(app, userId, filter, wanted);
    for (const { hasPayload, sequenceId: _, ...happened } of wanted) {
      if (fitting && (happened.prospectId === null || !fitting.has(happened.prospectId))) continue;
      if (!hasPayload)
        sql(db, "UPDATE happenings SET payload = @payload WHERE id = @id").run({
          id: happened.id,
          payload: JSON.stringify(payloadOf(app, happened)),
        });
      sql(
        db,
        `INSERT INTO deliveries (webhook_id, happening_id, prospect_id) VALUES (@webhook, @happening, @prospect)
         ON CONFLICT DO NOTHING`,
      ).run({ webhook: id, happening: happened.id, prospect: happened.prospectId });
    }
    const to = rows.at(-1)?.id ?? seen;
    sql(db, "UPDATE webhooks SET seen_happening = @to WHERE id = @id").run({ id, to });
    return rows.length === MOST_AT_ONCE;
  });
}

/** As the webhook's owner sees lists and sequences. */
function peopleFitting(
  app: App,
  userId: number,
  filter: string,
  wanted: readonly { prospectId: number | null }[],
): ReadonlySet<number> {
  const { db, clock } = app;
  const { where, values } = filterSql(filterSeenBy(app, userId, filter), clock.now());
  const ids = JSON.stringify(wanted.flatMap(({ prospectId }) => prospectId ?? []));
  return new Set(
    sql(db, `SELECT p.id FROM prospects p WHERE p.id IN (SELECT value FROM json_each(@among)) AND ${where}`)
      .all<{ id: number }>({ ...values, among: ids })
      .map(({ id }) => id),
  );
}

/** What happened so long ago that nobody tells it again goes, with its deliveries. */
export function sweepHappenings({ db, clock }: App): void {
  sql(
    db,
    `DELETE FROM happenings WHERE id IN (SELECT id FROM happenings WHERE at < @before ORDER BY at LIMIT ${MOST_SWEPT})`,
  ).run({ before: clock.now() - KEPT });
}

interface Receiver {
  id: number;
  userId: number;
  name: string;
  url: string;
  channel: string | null;
  zone: string;
  secret: string;
  oldSecret: string | null;
  oldUntil: number | null;
  failingSince: number | null;
  tries: number;
}

interface Due {
  id: number;
  happeningId: number;
  body: string;
  tries: number;
  firstTriedAt: number | null;
}

/** The lanes that are under way, by webhook. */
export class Carrier {
  private readonly lanes = new Map<number, Promise<void>>();

  constructor(
    private readonly app: App,
    private readonly noteFailure: (error: unknown) => void,
  ) {}

  /** One look: spreads what happened, and sets off every lane that has something due and rests. Resolves with its lanes' ends. */
  async look(): Promise<void> {
    while (spread(this.app)) await new Promise((resolve) => setImmediate(resolve));
    for (const id of this.due())
      if (!this.lanes.has(id))
        this.lanes.set(
          id,
          this.carry(id)
            .catch(this.noteFailure)
            .finally(() => this.lanes.delete(id)),
        );
  }

  /** When nothing is under way any more. */
  async rest(): Promise<void> {
    while (this.lanes.size > 0) await Promise.all(this.lanes.values());
  }

  private due(): number[] {
    return sql(
      this.app.db,
      `SELECT w.id FROM webhooks w WHERE w.state = 'on' AND (w.retry_at IS NULL OR w.retry_at <= @now)
         AND EXISTS (SELECT 1 FROM deliveries d WHERE d.webhook_id = w.id AND d.state = 'due' AND d.next_at <= @now)`,
    )
      .all<{ id: number }>({ now: this.app.clock.now() })
      .map(({ id }) => id);
  }

  /** Round after round, until nothing is due or the receiver fails. */
  private async carry(webhookId: number): Promise<void> {
    for (;;) {
      const receiver = receiverOf(this.app, webhookId);
      if (!receiver || isLeftInPeace(this.app, receiver)) return;
      const due = dueOf(this.app, webhookId, receiver.tries > 0 ? 1 : BESIDE);
      if (due.length === 0) return;
      const outcomes = await Promise.all(due.map((each) => deliver(this.app, receiver, each)));
      let fails = false;
      transact(this.app, (app) => {
        for (const [nth, each] of due.entries())
          if (!settle(app, receiver, each, outcomes[nth] as Outcome)) fails = true;
      });
      if (fails) return;
    }
  }
}

function receiverOf({ db, clock }: App, id: number): Receiver | undefined {
  return sql(
    db,
    `SELECT id, user_id AS userId, name, url, channel, (SELECT time_zone FROM users u WHERE u.id = user_id) AS zone, secret_sealed AS secret, old_secret_sealed AS oldSecret, old_secret_until AS oldUntil,
       failing_since AS failingSince, tries FROM webhooks
     WHERE id = @id AND state = 'on' AND (retry_at IS NULL OR retry_at <= @now)`,
  ).get<Receiver>({ id, now: clock.now() });
}

/** A channel's quiet hours are where its owner is. */
function isLeftInPeace({ clock }: App, { channel, zone }: Receiver): boolean {
  const quiet = channelOf(channel);
  return quiet !== null && isQuiet(clock.now(), quiet, zone);
}

/** The oldest ones that are due, none of a person of whom an earlier one waits. */
function dueOf({ db, clock }: App, webhookId: number, limit: number): Due[] {
  return sql(
    db,
    `SELECT d.id, d.happening_id AS happeningId, h.payload AS body, d.tries, d.first_tried_at AS firstTriedAt
     FROM deliveries d JOIN happenings h ON h.id = d.happening_id
     WHERE d.webhook_id = @webhookId AND d.state = 'due' AND d.next_at <= @now
       AND (d.prospect_id IS NULL OR NOT EXISTS (SELECT 1 FROM deliveries e WHERE e.webhook_id = @webhookId AND e.state = 'due'
         AND e.prospect_id = d.prospect_id AND e.happening_id < d.happening_id))
     ORDER BY d.id LIMIT @limit`,
  ).all<Due>({ webhookId, limit, now: clock.now() });
}

interface Outcome {
  /** Null where there was no answer. */
  status: number | null;
  words: string;
  /** What the receiver asks for, in ms. */
  waits: number;
}

/** The id under which a receiver knows the same happening again. After a restore the same number is another's: it says what is told, too. */
const messageId = ({ happeningId, body }: Pick<Due, "happeningId" | "body">) =>
  `evt_${happeningId}_${createHash("sha256").update(body).digest("base64url").slice(0, 12)}`;

async function deliver(app: App, receiver: Receiver, due: Due): Promise<Outcome> {
  const { body: payload } = due;
  const { config, key, clock } = app;
  const channel = channelOf(receiver.channel);
  const body =
    channel === null
      ? payload
      : JSON.stringify(channelMessage(jsonOf(payloadSchema, payload), channel.words, config.url));
  const secrets = [unseal(receiver.secret, key)];
  if (receiver.oldSecret !== null && (receiver.oldUntil ?? 0) > clock.now())
    secrets.push(unseal(receiver.oldSecret, key));
  const wall = Date.now();
  try {
    const { status, headers, text } = await askOutside(config, receiver.url, {
      method: "POST",
      headers: {
        "content-type": "application/json",
        ...signedHeaders(messageId(due), Math.floor(wall / 1_000), body, secrets),
      },
      ...{ body, patience: PATIENCE, mostBytes: MOST_ANSWER },
    });
    return {
      ...{ status, words: plainLine(text, ANSWER_KEPT) },
      waits: retryAfter(headers["retry-after"], wall),
    };
  } catch (error) {
    if (!(error instanceof NoAnswer)) throw error;
    return { status: null, words: error.message, waits: 0 };
  }
}

/** These are about the receiver, and not about what it was told. */
const isReceivers = (status: number | null) =>
  status === null ||
  status >= 500 ||
  status === 408 ||
  status === 425 ||
  status === 429 ||
  (status >= 300 && status < 400);

/** Writes down what became of a try. False if the receiver is not to be asked for now. */
function settle(
  app: App,
  receiver: Receiver,
  { id, tries, firstTriedAt }: Due,
  { status, words, waits }: Outcome,
): boolean {
  const { db, clock } = app;
  const now = clock.now();
  const isTaken = status !== null && status >= 200 && status < 300;
  const first = firstTriedAt ?? now;
  const isOver = !isTaken && now - first >= TRIED_FOR;
  sql(
    db,
    `UPDATE deliveries SET state = @state, tries = tries + 1, tried_at = @now, first_tried_at = @first, next_at = @next,
       status = @status, answer = @words WHERE id = @id`,
  ).run({
    ...{ id, now, first, status, words },
    state: isTaken ? "done" : isOver || status === 410 ? "failed" : "due",
    next: isTaken || isReceivers(status) ? 0 : now + waitAfter(tries + 1, waits),
  });
  if (isTaken) {
    sql(
      db,
      "UPDATE webhooks SET failing_since = NULL, retry_at = NULL, tries = 0 WHERE id = @id AND tries > 0",
    ).run({
      id: receiver.id,
    });
    return true;
  }
  if (status === 410) return switchOff(app, receiver, "It says that nobody listens there any more (410).");
  if (isOver || (receiver.failingSince !== null && now - receiver.failingSince >= TRIED_FOR))
    return switchOff(
      app,
      receiver,
      `For three days it did not take what it was told. Last: ${status ?? words}.`,
    );
  if (!isReceivers(status)) return true;
  sql(
    db,
    `UPDATE webhooks SET failing_since = coalesce(failing_since, @now), tries = @tries, retry_at = @retry WHERE id = @id`,
  ).run({
    id: receiver.id,
    now,
    tries: receiver.tries + 1,
    retry: now + waitAfter(receiver.tries + 1, waits),
  });
  return false;
}

function switchOff(app: App, { id, userId, name }: Receiver, because: string): false {
  const now = app.clock.now();
  const { changes } = sql(
    app.db,
    "UPDATE webhooks SET state = 'off', off_because = @because WHERE id = @id AND state = 'on'",
  ).run({ id, because });
  renewListeners(app.db);
  if (changes === 1)
    tell(app, userId, now, {
      kind: "connection",
      text: `The webhook “${name}” was switched off. ${because}`,
      path: `/connections/webhooks/${id}`,
      about: `webhook ${id} ${now}`,
    });
  return false;
}
