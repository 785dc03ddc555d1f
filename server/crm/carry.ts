/**
 * Keeps the CRM in step, as the worker's lane: first what is to be told there, then what changed there, a page at a time, so
 * that whatever breaks off goes on where it was. A CRM that does not answer is tried less and less often; nobody waits for it.
 */
import { setImmediate as breathe } from "node:timers/promises";
import { DAY, MINUTE } from "../../core/calendar.ts";
import { valueAt } from "../../core/connections/json-path.ts";
import { TRIED_FOR, waitAfter } from "../../core/connections/retry.ts";
import { type User, userById } from "../accounts/session.ts";
import type { App, AppTx } from "../app.ts";
import { renewListeners } from "../db/listeners.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { openRecovery } from "../db/recoveries.ts";
import { tell } from "../notices/write-notices.ts";
import { unseal } from "../secrets.ts";
import { CrmProblem } from "./ask-crm.ts";
import { askChoices } from "./choices.ts";
import { type Crm, clientOf, crmOf, type Pass, READ } from "./crm.ts";
import { meetCompany, meetDeal, meetPerson } from "./meet.ts";
import { noteNews } from "./news.ts";
import { deleteThere, pushChange, pushMissing, pushNext, type Turn, wouldBeMade } from "./push.ts";
import { addFound, type Report } from "./report.ts";

/** Between two passes by the machine's clock, where it does not say itself that something changed. */
const PASS_EVERY = 10 * MINUTE;
/** Things of a page that are looked at in one transaction. */
const IN_ONE = 25;
/** What was told is kept for so long. */
const KEPT = 30 * DAY;
/** Told and brought into step before it is looked what changed there. */
const MOST_PUSHED = 500;

export class CrmCarrier {
  private turn: Promise<void> | null = null;

  constructor(
    private readonly app: App,
    private readonly noteFailure: (error: unknown) => void,
  ) {}

  /** Sets off a turn if the one before has ended. */
  look(): void {
    this.turn ??= this.take()
      .catch(this.noteFailure)
      .finally(() => {
        this.turn = null;
      });
  }

  /** When nothing is under way any more. */
  async rest(): Promise<void> {
    await this.turn;
  }

  private async take(): Promise<void> {
    const { app } = this;
    const crm = crmOf(app);
    const now = app.clock.now();
    if (!crm || !["looking", "on"].includes(crm.state) || (crm.retryAt !== null && crm.retryAt > now)) return;
    // Of a restored copy it is not known yet what happened since.
    if (openRecovery(app.db)) return;
    const user = userById(app.db, crm.userId);
    if (!user)
      return hold(
        app,
        crm,
        "As whom it acts is not a user here any more. Part from it, and connect it anew.",
      );
    const turn: Turn = { app, crm, client: clientOf(app, crm), user };
    try {
      if (crm.state === "on") await this.push(turn);
      await this.pull(turn);
      if (crm.state === "on") await this.push(turn);
      well(app.db, crm.id);
    } catch (error) {
      if (!(error instanceof CrmProblem)) {
        // Parted from in the middle: what was on its way has nowhere to go.
        if (crmOf(app)?.id !== crm.id) return;
        throw error;
      }
      if (error.what === "slower") slowDown(app, crm, error);
      else if (error.what === "wait" || error.what === "gone")
        wait(app, crm, error, turn.client.progress > 0);
      else hold(app, crm, error.message);
    }
  }

  private async push(turn: Turn): Promise<void> {
    const { app, crm } = turn;
    while (noteNews(app, crm.id)) await breathe();
    for (let pushed = 0; pushed < MOST_PUSHED; pushed++) {
      if (!isStill(app, crm)) return;
      const more =
        (await pushChange(turn)) ||
        (await pushMissing(turn)) ||
        (await pushNext(turn)) ||
        (await endNext(turn));
      if (!more) return;
    }
  }

  private async pull(first: Turn): Promise<void> {
    const { app, client, user } = first;
    for (;;) {
      const crm = crmOf(app);
      if (!crm || !isStill(app, first.crm)) return;
      const isTrial = crm.state === "looking";
      if (crm.pass === null) {
        if (!isTrial && crm.nextWall > Date.now()) return;
        await begin({ ...first, crm });
      }
      const pass = crm.pass ?? { at: READ[0], cursor: null, newest: "", done: 0 };
      const things = crm.dialect[pass.at];
      const { items, next } = await client
        .page(things, {
          ...{ cursor: pass.cursor, since: isTrial ? null : (crm.seen[pass.at] ?? null) },
          view: pass.at === "people" ? crm.settings.view : "",
        })
        .catch((error: unknown) => {
          // Not every CRM has companies and deals.
          if (pass.at !== "people" && error instanceof CrmProblem && error.what === "gone")
            return { items: [], next: null };
          throw error;
        });
      const report: Report = crm.pass === null ? {} : (crm.report ?? {});
      for (let from = 0; from < items.length; from += IN_ONE) {
        await breathe();
        transact(app, (app) => {
          for (const item of items.slice(from, from + IN_ONE))
            meet(app, crm, user, pass.at, item, isTrial, report);
        });
      }
      const newest = items.reduce<string>(
        (last, item) => later(last, valueAt(item, things.updated)),
        pass.newest,
      );
      const isOver = transact(app, (app) =>
        stepOn(app, crm, { ...pass, newest, cursor: next, done: pass.done + items.length }, report),
      );
      client.progress++;
      if (isOver) return;
      // What happens meanwhile does not wait for the last page.
      if (!isTrial) await this.push({ ...first, crm: crmOf(app) ?? crm });
    }
  }
}

/** Still the same, and in the same mind: somebody may have switched it off meanwhile. */
function isStill(app: App, was: Crm): boolean {
  const now = crmOf(app);
  const mind = ({ id, state, settings }: Crm) => JSON.stringify([id, state, settings]);
  return now !== null && mind(now) === mind(was);
}

const later = (one: string, other: string) =>
  (Date.parse(other) || Number(other) || 0) > (Date.parse(one) || Number(one) || 0) ? other : one;

function meet(
  app: AppTx,
  crm: Crm,
  user: User,
  at: Pass["at"],
  item: unknown,
  isTrial: boolean,
  report: Report,
): void {
  if (at === "companies") meetCompany(app, crm, item);
  else {
    const found =
      at === "people" ? meetPerson(app, crm, user, item, isTrial).found : meetDeal(app, crm, item, isTrial);
    for (const each of found) addFound(report, each);
  }
}

/** Before a pass: what can be chosen there, and, the first time, that it is to tell us of changes. */
async function begin({ app, crm, client }: Turn): Promise<void> {
  const choices = JSON.stringify(await askChoices(client, crm.dialect));
  sql(app.db, "UPDATE crms SET choices = @choices WHERE id = @id").run({ id: crm.id, choices });
  if (crm.state !== "on" || crm.dialect.hooks === "" || Object.keys(crm.seen).length > 0) return;
  const row = sql(app.db, "SELECT hook_secret_sealed AS secret FROM crms WHERE id = @id").get<{
    secret: string;
  }>({
    id: crm.id,
  });
  try {
    await client.ask("POST", crm.dialect.hooks, {
      body: { url: `${app.config.url}/hook/${crm.address}`, secret: unseal(row?.secret ?? "", app.key) },
    });
  } catch (error) {
    // One that does not tell is asked from time to time.
    if (!(error instanceof CrmProblem && (error.what === "gone" || error.what === "refused"))) throw error;
  }
}

/** The next page, the next kind of thing, or the end of the pass; whether it was the end. */
function stepOn(app: AppTx, crm: Crm, pass: Pass, report: Report): boolean {
  const { db, clock } = app;
  const now = crmOf(app);
  if (!isStill(app, crm) || JSON.stringify([now?.pass, now?.seen]) !== JSON.stringify([crm.pass, crm.seen]))
    return true;
  const isTrial = crm.state === "looking";
  const seen = { ...crm.seen };
  const nextKind = READ[READ.indexOf(pass.at) + 1];
  // A kind of which nothing was there yet was looked at all the same: what comes is news.
  if (pass.cursor === null && !isTrial)
    seen[pass.at] = pass.newest || seen[pass.at] || new Date(0).toISOString();
  const isOver = pass.cursor === null && nextKind === undefined;
  const next: Pass | null =
    pass.cursor !== null
      ? pass
      : nextKind === undefined
        ? null
        : { at: nextKind, cursor: null, newest: "", done: pass.done };
  if (isOver && isTrial) {
    const { count, examples } = wouldBeMade({ app, crm });
    if (count > 0) report.out = { count, examples };
  }
  const at = clock.now();
  sql(
    db,
    `UPDATE crms SET pass = @pass, seen = @seen, report = @report, state = iif(@isOver AND state = 'looking', 'looked', state),
       looked_at = iif(@isOver, @at, looked_at), passed_wall = iif(@isOver, @wall, passed_wall),
       next_wall = iif(@isOver, @wall + ${PASS_EVERY}, next_wall) WHERE id = @id`,
  ).run({
    ...{ id: crm.id, at, wall: Date.now(), isOver: isOver ? 1 : 0 },
    pass: next && JSON.stringify(next),
    seen: JSON.stringify(seen),
    report: JSON.stringify(report),
  });
  if (isOver && !isTrial) lookWhoLeft(db, crm.id, at);
  return isOver;
}

/** Who is in step there and no longer here is asked about; what was told long ago is forgotten. */
function lookWhoLeft(db: Db, crmId: number, now: number): void {
  sql(
    db,
    `UPDATE crm_links SET state = 'gone_here' WHERE crm_id = @crmId AND kind = 'person' AND state = 'linked'
       AND (prospect_id IS NULL OR EXISTS (SELECT 1 FROM prospects p WHERE p.id = prospect_id AND p.live = 0 AND p.merged_into IS NULL))`,
  ).run({ crmId });
  sql(
    db,
    "DELETE FROM crm_outbox WHERE crm_id = @crmId AND state = 'done' AND at < @before AND kind = 'activity'",
  ).run({
    ...{ crmId, before: now - KEPT },
  });
}

/** Carries out what somebody decided about who was deleted here; false if there is nothing. */
async function endNext(turn: Turn): Promise<boolean> {
  const { app, crm } = turn;
  const next = sql(
    app.db,
    "SELECT id, there_id AS thereId FROM crm_links WHERE crm_id = @crmId AND state = 'gone_here' AND is_dirty = 1 ORDER BY id LIMIT 1",
  ).get<{ id: number; thereId: string }>({ crmId: crm.id });
  if (!next) return false;
  await deleteThere(turn, next.thereId);
  sql(app.db, "UPDATE crm_links SET state = 'left', is_dirty = 0 WHERE id = @id").run({ id: next.id });
  return true;
}

function well(db: Db, id: number): void {
  sql(
    db,
    "UPDATE crms SET failing_since = NULL, failing_because = NULL, retry_at = NULL, tries = 0 WHERE id = @id AND (tries > 0 OR retry_at IS NOT NULL)",
  ).run({ id });
}

/** Without a word how long it is waited for so long. */
const SLOWER = 5_000;

/** To be asked to go slower is no failure: what was got done by then is done. */
function slowDown({ db, clock }: App, { id }: Crm, { message, waits }: CrmProblem): void {
  const retry = clock.now() + Math.min(Math.max(waits, waits > 0 ? 0 : SLOWER), DAY);
  sql(db, "UPDATE crms SET failing_because = @message, retry_at = @retry WHERE id = @id").run({
    id,
    message,
    retry,
  });
}

/** It is tried again, later each time that nothing was got done; after three days of that a person has to look. */
function wait(app: App, crm: Crm, { message, waits }: CrmProblem, isProgress: boolean): void {
  const now = app.clock.now();
  const since = isProgress ? now : (crm.failingSince ?? now);
  const tries = (isProgress ? 0 : crm.tries) + 1;
  if (now - since >= TRIED_FOR) {
    hold(app, crm, `For three days it did not answer. Last: ${message}`);
    return;
  }
  sql(
    app.db,
    `UPDATE crms SET failing_since = @since, failing_because = @message, tries = @tries, retry_at = @retry WHERE id = @id`,
  ).run({
    ...{ id: crm.id, since, message, tries },
    retry: now + waitAfter(tries, waits),
  });
}

function hold(app: App, { id, userId, name }: Crm, because: string): void {
  transact(app, (app) => {
    const { changes } = sql(
      app.db,
      "UPDATE crms SET state = 'held', held_because = @because WHERE id = @id AND state IN ('on', 'looking')",
    ).run({ id, because });
    if (changes === 0) return;
    renewListeners(app.db);
    const now = app.clock.now();
    tell(app, userId, now, {
      kind: "connection",
      text: `${name} is not kept in step any more. ${because}`,
      path: "/connections/crm",
      about: `crm ${id} ${now}`,
    });
  });
}
