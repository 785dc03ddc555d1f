/** Looks in the ledger for the emails that an incoming message may be about, and says which it is. */

import { CALL } from "../../core/meetings/calendar-events.ts";
import { looksReturned } from "../../core/replies/delivery-report.ts";
import {
  bareSubject,
  companyDomain,
  type Incoming,
  isAnswered,
  type Match,
  matchIncoming,
  REMEMBERED_FOR,
  type SentEmail,
} from "../../core/replies/match.ts";
import { wordsIn } from "../db/json.ts";
import { type Db, sql, type Value } from "../db/open.ts";
import type { MessageHead } from "../mail/imap.ts";

const MOST_OF_A_COMPANY = 200;

const COLUMNS = `t.id AS touchId, t.prospect_id AS prospectId, t.message_id AS messageId, t.recipient, t.subject,
  coalesce(t.sent_at, t.claimed_at) AS sentAt,
  (SELECT json_group_array(x.email) FROM prospects x
    WHERE (x.id = t.prospect_id OR x.merged_into = t.prospect_id
      OR x.id = (SELECT merged_into FROM prospects WHERE id = t.prospect_id)) AND x.email IS NOT NULL) AS addresses`;

type Row = Omit<SentEmail, "addresses"> & { addresses: string };

/** Which sent email a message is about; null if none of ours. */
export function findEmail(db: Db, incoming: Incoming): Match | null {
  const found = new Map<number, SentEmail>();
  const add = (rows: Row[]) => {
    for (const row of rows) found.set(row.touchId, { ...row, addresses: wordsIn(row.addresses) });
  };
  const query = (from: string, values: Record<string, Value>) =>
    sql(
      db,
      `SELECT ${COLUMNS} FROM ${from} AND t.state IN ('claimed', 'sent') AND t.kind != 'test' AND t.recipient != ''`,
    ).all<Row>(values);
  add(
    query("touches t WHERE t.message_id IN (SELECT value FROM json_each(@ids))", {
      ids: JSON.stringify(incoming.ids),
    }),
  );
  if (incoming.envelopeTouchId !== null)
    add(query("touches t WHERE t.id = @id", { id: incoming.envelopeTouchId }));
  for (const address of incoming.addresses) {
    add(query("touches t WHERE t.recipient = @address", { address }));
    add(
      query(`prospects p JOIN touches t ON t.prospect_id IN (p.id, p.merged_into) WHERE p.email = @address`, {
        address,
      }),
    );
  }
  for (const address of incoming.quotedAddresses ?? [])
    add(query("touches t WHERE t.recipient = @address", { address }));
  const domain = incoming.mayBeColleague ? companyDomain(incoming.addresses[0] ?? "") : null;
  if (domain !== null)
    for (const host of new Set([domain, hostOf(incoming.addresses[0] ?? "")]))
      add(
        query(
          `(SELECT t.* FROM prospects p JOIN touches t ON t.prospect_id = p.id
             WHERE substr(p.email, instr(p.email, '@') + 1) = @host ORDER BY t.id DESC LIMIT ${MOST_OF_A_COMPANY}) t
           WHERE 1`,
          { host },
        ),
      );
  return matchIncoming(incoming, [...found.values()]);
}

const hostOf = (address: string) => address.slice(address.lastIndexOf("@") + 1);

/** Judges by its header alone whether a message may be about an email of ours; bodies of others are not fetched. */
export function mayBeOurs(db: Db, now: number): (head: MessageHead) => boolean {
  const sent = sql(
    db,
    "SELECT 1 FROM touches WHERE message_id IN (SELECT value FROM json_each(@ids)) LIMIT 1",
  );
  const known = sql(
    db,
    `SELECT 1 FROM touches WHERE recipient = @address
     UNION ALL SELECT 1 FROM prospects p JOIN touches t ON t.prospect_id IN (p.id, p.merged_into) WHERE p.email = @address LIMIT 1`,
  );
  const colleague = sql(
    db,
    `SELECT 1 FROM prospects p JOIN touches t ON t.prospect_id = p.id
     WHERE substr(p.email, instr(p.email, '@') + 1) = @host LIMIT 1`,
  );
  const calls = sql(
    db,
    `SELECT 1 FROM meetings m JOIN users u ON u.id = m.user_id
     WHERE m.cancelled_at IS NULL AND instr(@subject, '${CALL}' || m.name || ' and ' || u.name) > 0 LIMIT 1`,
  );
  const invited = sql(
    db,
    `SELECT 1 FROM service_mails WHERE message_id IN (SELECT value FROM json_each(@ids))
     UNION ALL SELECT 1 FROM meetings WHERE email = @address AND @address != '' LIMIT 1`,
  );
  // Whoever answers from an address that nobody knows keeps the subject; looked up only where nothing else is known.
  let subjects: Set<string> | null = null;
  const ourSubjects = () => {
    subjects ??= new Set(
      sql(db, "SELECT DISTINCT subject FROM touches WHERE sent_at >= @since AND kind != 'test'")
        .all<{ subject: string }>({ since: now - REMEMBERED_FOR })
        .map((row) => bareSubject(row.subject)),
    );
    return subjects;
  };
  return ({ answers, fromAddress, subject, fields }) => {
    if (answers.length > 0 && sent.get<unknown>({ ids: JSON.stringify(answers) })) return true;
    if (invited.get<unknown>({ ids: JSON.stringify(answers), address: fromAddress })) return true;
    if (/report|calendar/i.test(fields.get("content-type") ?? "") || fields.has("x-failed-recipients"))
      return true;
    if (/^(mailer-?daemon|postmaster)/.test(fromAddress) || /^<\s*>/.test(fields.get("return-path") ?? ""))
      return true;
    if (/\bunsubscribe\b/i.test(subject) || looksReturned(subject, "")) return true;
    // A calendar program's answer has the call's name in its subject, and no id of ours.
    if (subject.includes(CALL) && calls.get<unknown>({ subject })) return true;
    if (fromAddress === "") return false;
    if (known.get<unknown>({ address: fromAddress })) return true;
    if (isAnswered(subject) && ourSubjects().has(bareSubject(subject))) return true;
    const domain = companyDomain(fromAddress);
    return (
      domain !== null &&
      (colleague.get<unknown>({ host: domain }) !== undefined ||
        colleague.get<unknown>({ host: hostOf(fromAddress) }) !== undefined)
    );
  };
}
