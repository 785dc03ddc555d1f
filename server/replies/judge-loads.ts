/** Takes each load of an email for a person's or a machine's once what came beside it is known; only a person's is an event. */
import { judgeLoads, type Load, SETTLES } from "../../core/replies/loads.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { touchById } from "../db/ledger.ts";
import { sql, transact } from "../db/open.ts";

const MOST_AT_ONCE = 200;
/** Of one email so many opens, and as many clicks, are told of; more say nothing new. */
const MOST_EVENTS = 5;

type Row = Omit<Load, "isHead" | "isOwn"> & {
  id: number;
  isHead: number;
  isOwn: number;
  trust: string | null;
};

/** Of each email whose loads have come to rest. What was judged stands. */
export function judgeLoadsOf(app: App): void {
  const { db, clock } = app;
  const waiting = sql(
    db,
    `SELECT DISTINCT touch_id AS touchId FROM loads WHERE trust IS NULL AND at <= @before ORDER BY at LIMIT ${MOST_AT_ONCE}`,
  ).all<{ touchId: number }>({ before: clock.now() - SETTLES });
  for (const { touchId } of waiting) judgeEmail(app, touchId);
}

function judgeEmail(app: App, touchId: number): void {
  transact(app, ({ db }) => {
    const touch = touchById(db, touchId);
    if (!touch) return;
    const rows = sql(
      db,
      `SELECT id, kind, at, agent, network, url, is_head AS isHead, is_own AS isOwn, trust FROM loads
       WHERE touch_id = @touchId ORDER BY at, id`,
    ).all<Row>({ touchId });
    const judged = judgeLoads(
      touch.sentAt ?? 0,
      rows.map((row) => ({ ...row, isHead: row.isHead === 1, isOwn: row.isOwn === 1 })),
    );
    const told = { opened: 0, clicked: 0 };
    for (const [nth, row] of rows.entries()) {
      const { trust, because } = judged[nth] as (typeof judged)[number];
      if (row.trust === "person") told[row.kind]++;
      if (row.trust !== null) continue;
      sql(db, "UPDATE loads SET trust = @trust, because = @because WHERE id = @id").run({
        id: row.id,
        trust,
        because,
      });
      if (trust !== "person" || ++told[row.kind] > MOST_EVENTS) continue;
      const { prospectId, journeyId, mailboxId } = touch;
      apply(db, row.kind === "opened" ? { kind: "opened" } : { kind: "clicked", url: row.url ?? "" }, {
        ...{ at: row.at, prospectId, journeyId, mailboxId, touchId },
      });
    }
  });
}
