/** Letters as other mail programs read them: messages (RFC 5322), one by one or as an mbox (RFC 4155). */
import MailComposer from "nodemailer/lib/mail-composer";
import { plainLine } from "../../core/plain-line.ts";
import { textAsRead } from "../../core/writing/format.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";

interface Letter {
  id: string;
  at: number;
  fromName: string;
  fromAddress: string;
  to: string;
  subject: string;
  text: string;
  markup: string | null;
  messageId: string | null;
  inReplyTo: string | null;
}

/** Those that went and came with somebody, or (null) with everybody, the oldest first. */
function* lettersWith(db: Db, prospectId: number | null): Generator<Letter> {
  // Of one person by the index; of everybody from end to end.
  const of = (column: string) => (prospectId === null ? "@prospectId IS NULL" : `${column} = @prospectId`);
  yield* db
    .prepare<{ prospectId: number | null }, Letter>(
      `SELECT 't' || t.id AS id, t.sent_at AS at, m.sender_name AS fromName, m.address AS fromAddress, t.recipient AS "to", t.subject, t.body AS text,
         t.markup, t.message_id AS messageId, t.in_reply_to AS inReplyTo
       FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id
       WHERE t.sent_at IS NOT NULL AND t.kind != 'test' AND ${of("t.prospect_id")}
       UNION ALL
       SELECT 'r' || r.id, r.at, r.from_name, r.from_address, m.address, r.subject, r.text || iif(r.quoted = '', '', char(10, 10) || r.quoted), NULL,
         r.message_id, t.message_id
       FROM replies r JOIN mailboxes m ON m.id = r.mailbox_id LEFT JOIN touches t ON t.id = r.touch_id
       WHERE r.prospect_id IS NOT NULL AND ${of("r.prospect_id")}
       ORDER BY at, id`,
    )
    .iterate({ prospectId });
}

const composed = ({ at, fromName, fromAddress, to, subject, text, markup, messageId, inReplyTo }: Letter) =>
  new MailComposer({
    from: { name: plainLine(fromName, 200), address: fromAddress },
    ...{ to, subject: plainLine(subject, 900), date: new Date(at), text: textAsRead(text, markup) },
    ...(messageId ? { messageId } : {}),
    ...(inReplyTo ? { inReplyTo, references: inReplyTo } : {}),
  })
    .compile()
    .build();

/** Each letter with somebody as a message of its own, with a name for its file. */
export async function messagesWith(
  { db }: App,
  prospectId: number,
): Promise<{ name: string; message: Buffer }[]> {
  const found: { name: string; message: Buffer }[] = [];
  for (const letter of [...lettersWith(db, prospectId)]) {
    const day = new Date(letter.at).toISOString().slice(0, 10);
    const about = letter.subject
      .replace(/[^\p{L}\p{N}]+/gu, "-")
      .replace(/^-|-$/g, "")
      .slice(0, 60);
    const nth = String(found.length + 1).padStart(3, "0");
    found.push({ name: `${nth} ${day} ${about || "letter"}.eml`, message: await composed(letter) });
  }
  return found;
}

/** Lines that would begin a letter are marked (">From"), as mboxrd has it, so that they can be told again. */
export async function* mboxOf(db: Db): AsyncGenerator<string> {
  for (const letter of lettersWith(db, null)) {
    const text = (await composed(letter)).toString("utf8").replaceAll("\r\n", "\n");
    const day = new Date(letter.at)
      .toUTCString()
      .replace(/^(\w{3}), (\d{2}) (\w{3}) (\d{4}) ([\d:]+) GMT$/, "$1 $3 $2 $5 $4");
    yield `From ${letter.fromAddress.replace(/\s/g, "") || "MAILER-DAEMON"} ${day}\n${text.replace(/^(>*From )/gm, ">$1")}\n\n`;
  }
}

/** How many letters there are. */
export const countLetters = (db: Db): number =>
  sql(
    db,
    `SELECT (SELECT count(*) FROM touches WHERE sent_at IS NOT NULL AND kind != 'test')
       + (SELECT count(*) FROM replies WHERE prospect_id IS NOT NULL) AS count`,
  ).get<{ count: number }>([])?.count ?? 0;
