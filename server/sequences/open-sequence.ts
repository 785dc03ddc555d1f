import { limitToday } from "../../core/sending/sender.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { numbersIn } from "../db/json.ts";
import { allMailboxes, senderOf } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { type Pause, pauseOf } from "../db/pauses.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import type { SequenceForm } from "./save-sequence.ts";

/** A sequence that somebody may see; a colleague's personal one is not there for them. */
export function sequenceOf(app: App, by: By, id: number): Sequence | undefined {
  return mayNot(app, by, "sequence.see", id) ? undefined : sequenceById(app.db, id);
}

/** Who paused it, and when; null while it is not. */
export const pauseOfSequence = ({ db }: App, { id }: Pick<Sequence, "id">): Pause | null =>
  pauseOf(db, "sequence", id);

/** A sequence as its page edits and saves it. */
export function sequenceForm({
  id,
  name,
  listId,
  zone,
  revision,
  hours,
  writesTo,
  isPersonal,
  poolId,
  mailboxIds,
  settings,
  path,
}: Sequence): SequenceForm {
  return {
    id,
    name,
    listId,
    zone,
    days: [...hours.days],
    opens: hours.opens,
    closes: hours.closes,
    revision,
    writesTo,
    isPersonal,
    poolId,
    mailboxIds,
    settings,
    path,
  };
}

export interface MailboxChoice {
  id: number;
  address: string;
  /** How many it may send today, as its ramp stands: what every screen says of it. */
  aDay: number;
  state: string;
  /** Whose it is, where the asking user may not send from it. */
  notYours: string | null;
}

export interface SenderChoices {
  mailboxes: MailboxChoice[];
  pools: { id: number; name: string; mailboxIds: number[] }[];
  /** Social accounts that are connected. */
  accounts: { id: number; name: string; notYours: string | null }[];
  /** Pages that it may write with. */
  pages: { id: number; name: string }[];
}

/** Whatever a sequence may send from. */
export function senderChoices(app: App, by: By): SenderChoices {
  const pools = sql(
    app.db,
    `SELECT id, name, (SELECT json_group_array(mailbox_id) FROM pool_mailboxes WHERE pool_id = id) AS mailboxIds
     FROM pools ORDER BY name`,
  ).all<{ id: number; name: string; mailboxIds: string }>([]);
  return {
    mailboxes: mailboxChoices(app, by),
    pools: pools.map(({ mailboxIds, ...pool }) => ({
      ...pool,
      mailboxIds: numbersIn(mailboxIds),
    })),
    accounts: sql(
      app.db,
      "SELECT a.id, a.name, u.name AS owner FROM social_accounts a JOIN users u ON u.id = a.user_id ORDER BY a.name",
    )
      .all<{ id: number; name: string; owner: string }>([])
      .map(({ owner, ...account }) => ({
        ...account,
        notYours: mayNot(app, by, "account.use", account.id) ? owner : null,
      })),
    pages: sql(app.db, "SELECT id, name FROM page_templates WHERE removed_at IS NULL ORDER BY name")
      .all<{ id: number; name: string }>([])
      .filter(({ id }) => mayNot(app, by, "page.use", id) === null),
  };
}

export function mailboxChoices(app: App, by: By): MailboxChoice[] {
  const now = app.clock.now();
  return allMailboxes(app.db).map((mailbox) => ({
    id: mailbox.id,
    address: mailbox.address,
    aDay: limitToday(senderOf(app.db, mailbox, now)),
    state: mailbox.state,
    notYours: mayNot(app, by, "mailbox.use", mailbox.id) ? mailbox.ownerName : null,
  }));
}
