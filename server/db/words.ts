/** Puts the words of emails that left into the index of all messages: many at once cost little more than one. */
import { isBusy } from "../errors.ts";
import { type Db, sql } from "./open.ts";

/** Emails in one transaction: others write in between. */
const AT_ONCE = 500;
/** As in the triggers for replies: scripts that do not put spaces between words are found by pieces. */
const UNSPACED = "*[฀-๿぀-ヿ㐀-鿿가-힣]*";
const ROWID = "2 * t.id + 1";

/** Before a search: what just left is found, unless somebody holds the database; then the search does not wait for them. */
export function keepWordsIfFree(db: Db): void {
  const patience = db.pragma("busy_timeout", { simple: true });
  db.pragma("busy_timeout = 0");
  try {
    keepWords(db);
  } catch (error) {
    if (!isBusy(error)) throw error;
  } finally {
    db.pragma(`busy_timeout = ${patience}`);
  }
}

/** The worker calls it now and then, so that little is left to do for whoever searches. */
export function keepWords(db: Db): void {
  const isDue = sql(db, "SELECT 1 FROM words_due LIMIT 1");
  while (isDue.get<unknown>([]) !== undefined) db.transaction(() => keepSome(db)).immediate();
}

function keepSome(db: Db): void {
  const due = sql(db, `SELECT touch_id AS id FROM words_due ORDER BY touch_id LIMIT ${AT_ONCE}`).all<{
    id: number;
  }>([]);
  const ids = JSON.stringify(due.map(({ id }) => id));
  const emails = "FROM json_each(@ids) JOIN touches t ON t.id = value WHERE t.state = 'sent'";
  sql(
    db,
    `INSERT INTO message_words (rowid, subject, body, who) SELECT ${ROWID}, t.subject, t.body, t.recipient ${emails}`,
  ).run({ ids });
  sql(
    db,
    `INSERT INTO message_pieces (rowid, body) SELECT ${ROWID}, t.subject || ' ' || t.body ${emails} AND t.subject || t.body GLOB '${UNSPACED}'`,
  ).run({ ids });
  sql(db, "DELETE FROM words_due WHERE touch_id IN (SELECT value FROM json_each(@ids))").run({ ids });
}
