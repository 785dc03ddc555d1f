/** What the CRM asks a person, and what it was told: both as its page shows them. */
import { z } from "zod";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { stopByRep } from "../sequences/stop-by-rep.ts";
import { changingCrm, crmOf } from "./crm.ts";
import { fieldWords, linkOf } from "./meet.ts";

export interface Conflict {
  id: number;
  prospectId: number;
  name: string;
  field: string;
  here: string;
  there: string;
}

const SHOWN = 50;
const LOGGED = 20;

/** What both sides changed, and nobody has settled; and of how many. */
export function openConflicts({ db }: App, crmId: number): { shown: Conflict[]; total: number } {
  const shown = sql(
    db,
    `SELECT k.id, l.prospect_id AS prospectId, ${nameSql()} AS name, k.field, k.here, k.there
     FROM crm_conflicts k JOIN crm_links l ON l.id = k.link_id JOIN prospects p ON p.id = l.prospect_id
     WHERE k.crm_id = @crmId AND k.decided IS NULL ORDER BY k.id LIMIT ${SHOWN}`,
  ).all<Conflict>({ crmId });
  const { total } = sql(
    db,
    "SELECT count(*) AS total FROM crm_conflicts WHERE crm_id = @crmId AND decided IS NULL",
  ).get<{ total: number }>({ crmId }) ?? { total: 0 };
  return { total, shown: shown.map((row) => ({ ...row, field: fieldWords(row.field) })) };
}

const decisionForm = z.object({
  /** A conflict's number; without it all of them. */
  id: z.coerce.number().int().optional(),
  side: z.enum(["here", "there"]),
});

/** Says which side counts; both have it with the next look. Returns of how many. */
export function decideConflicts(app: App, by: By, input: unknown): Outcome<number> {
  const read = decisionForm.safeParse(input);
  if (!read.success) return refused({ form: "Say which side counts." });
  const { id = null, side } = read.data;
  return changingCrm(app, by, ({ db }, crm) => {
    const values = { crmId: crm.id, id, side };
    const { changes } = sql(
      db,
      id === null
        ? "UPDATE crm_conflicts SET decided = @side WHERE crm_id = @crmId AND decided IS NULL AND @id IS NULL"
        : "UPDATE crm_conflicts SET decided = @side WHERE crm_id = @crmId AND id = @id",
    ).run(values);
    if (changes === 0) return refused({ form: "This was settled meanwhile." });
    sql(
      db,
      `UPDATE crm_links SET is_dirty = 1 WHERE crm_id = @crmId
         AND id IN (SELECT link_id FROM crm_conflicts WHERE crm_id = @crmId AND decided IS NOT NULL)`,
    ).run({ crmId: crm.id });
    return done(changes);
  });
}

export interface Gone {
  id: number;
  /** Null for whoever is no longer here. */
  prospectId: number | null;
  name: string;
  where: "here" | "there";
}

const ASKED =
  "crm_id = @crmId AND state IN ('gone_there', 'gone_here') AND NOT (state = 'gone_here' AND is_dirty > 0)";

/** Who is gone on one side, and nobody has said what follows; and how many. */
export function openDeletions({ db }: App, crmId: number): { shown: Gone[]; total: number } {
  const shown = sql(
    db,
    `SELECT l.id, l.prospect_id AS prospectId, iif(p.id IS NULL, 'Somebody who was erased here', ${nameSql()}) AS name,
       iif(l.state = 'gone_there', 'there', 'here') AS "where"
     FROM crm_links l LEFT JOIN prospects p ON p.id = l.prospect_id AND l.state = 'gone_there'
     WHERE l.id IN (SELECT id FROM crm_links WHERE ${ASKED} ORDER BY id LIMIT ${SHOWN}) ORDER BY l.id`,
  ).all<Gone>({ crmId });
  const { total } = sql(db, `SELECT count(*) AS total FROM crm_links WHERE ${ASKED}`).get<{ total: number }>({
    crmId,
  }) ?? { total: 0 };
  return { total, shown };
}

/** "keep": each side keeps what it has. "stop": what is planned here stops. "erase": the other side follows. */
const deletionForm = z.object({ id: z.coerce.number().int(), what: z.enum(["keep", "stop", "erase"]) });

/** Says what follows from somebody's deletion on one side: nothing does by itself. */
export function decideDeletion(app: App, user: User, input: unknown): Outcome<null> {
  const read = deletionForm.safeParse(input);
  if (!read.success) return refused({ form: "Say what is to follow." });
  const { id, what } = read.data;
  const no = mayNot(app, user.id, "crm.change");
  if (no) return no;
  return transact(app, (app): Outcome<null> => {
    const { db } = app;
    const link = sql(
      db,
      "SELECT prospect_id AS prospectId, state FROM crm_links WHERE id = @id AND state IN ('gone_there', 'gone_here')",
    ).get<{ prospectId: number | null; state: "gone_there" | "gone_here" }>({ id });
    if (!link) return refused({ form: "This was decided meanwhile." });
    const part = (state: string, isDirty: number) =>
      sql(db, "UPDATE crm_links SET state = @state, is_dirty = @isDirty WHERE id = @id").run({
        id,
        state,
        isDirty,
      });
    if (link.state === "gone_here") {
      // The worker deletes them there.
      part(what === "erase" ? "gone_here" : "left", what === "erase" ? 1 : 0);
      return done(null);
    }
    const { prospectId } = link;
    if (prospectId !== null && what !== "keep") {
      const notMine = mayNot(
        app,
        user.id,
        what === "erase" ? "prospect.erase" : "prospect.change",
        prospectId,
      );
      if (notMine) return notMine;
    }
    part("left", 0);
    if (prospectId === null || what === "keep") return done(null);
    if (what === "stop") {
      const stopped = stopByRep(app, prospectId, user.id);
      // Nothing was planned: then nothing is.
      return stopped.ok || stopped.code !== "not_yours" ? done(null) : stopped;
    }
    sql(db, "UPDATE crm_links SET prospect_id = NULL WHERE id = @id").run({ id });
    eraseForGood(app, prospectId);
    return done(null);
  });
}

export interface Told {
  id: number;
  kind: "person" | "deal" | "email" | "reply" | "meeting" | "note";
  prospectId: number;
  name: string;
  /** A letter's subject, or what happened to a call. */
  what: string;
  /** When it happened here. */
  at: number;
  state: "due" | "done" | "failed";
  answer: string;
}

/** What was told there last, and what came of it; the managers' to see: a colleague's own sequence is among it. */
export function toldLast(app: App, by: By, crmId: number): Told[] {
  if (mayNot(app, by, "crm.change")) return [];
  return sql(
    app.db,
    `SELECT o.id, o.prospect_id AS prospectId, ${nameSql()} AS name,
       coalesce(o.body ->> '$.kind', o.kind) AS kind, coalesce(o.body ->> '$.subject', '') AS what, o.at, o.state, o.answer
     FROM crm_outbox o JOIN prospects p ON p.id = o.prospect_id WHERE o.crm_id = @crmId ORDER BY o.id DESC LIMIT ${LOGGED}`,
  ).all<Told>({ crmId });
}

export interface CrmCounts {
  people: number;
  deals: number;
  due: number;
  failed: number;
}

export function crmCounts({ db }: App, crmId: number): CrmCounts {
  return (
    sql(
      db,
      `SELECT (SELECT count(*) FROM crm_links WHERE crm_id = @crmId AND kind = 'person' AND state = 'linked' AND base IS NOT NULL) AS people,
         (SELECT count(*) FROM crm_deals WHERE crm_id = @crmId) AS deals,
         (SELECT count(*) FROM crm_outbox WHERE crm_id = @crmId AND state = 'due') AS due,
         (SELECT count(*) FROM crm_outbox WHERE crm_id = @crmId AND state = 'failed') AS failed`,
    ).get<CrmCounts>({ crmId }) ?? { people: 0, deals: 0, due: 0, failed: 0 }
  );
}

/** What failed is tried once more. */
export function tellAgain(app: App, by: By): Outcome<number> {
  return changingCrm(app, by, ({ db }, { id }) => {
    sql(db, "DELETE FROM crm_outbox WHERE crm_id = @id AND state = 'failed' AND kind = 'person'").run({ id });
    const { changes } = sql(
      db,
      "UPDATE crm_outbox SET state = 'due', answer = '' WHERE crm_id = @id AND state = 'failed'",
    ).run({ id });
    return done(changes);
  });
}

/** How somebody stands in the CRM, for their page: with which deals. Null for who is not there. */
export function standingThere(
  app: App,
  prospectId: number,
): { crm: string; deals: { name: string; stage: string; value: string }[] } | null {
  const crm = crmOf(app);
  if (!crm || linkOf(app.db, crm.id, prospectId)?.state !== "linked") return null;
  const deals = sql(
    app.db,
    "SELECT name, stage, value FROM crm_deals WHERE prospect_id = @prospectId AND crm_id = @crmId ORDER BY id",
  )
    .all<{ name: string; stage: string; value: string }>({ prospectId, crmId: crm.id })
    .map(({ stage, ...deal }) => ({
      ...deal,
      stage: crm.choices.stages.find(({ id }) => id === stage)?.name ?? stage,
    }));
  return { crm: crm.name, deals };
}
