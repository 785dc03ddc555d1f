import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import type { SequenceForm } from "./save-sequence.ts";

export function sequenceOf({ db }: App, id: number): Sequence | undefined {
  return sequenceById(db, id);
}

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
  dailyLimit: number;
  state: string;
}

export interface SenderChoices {
  mailboxes: MailboxChoice[];
  pools: { id: number; name: string; mailboxIds: number[] }[];
  /** Social accounts that are connected. */
  accounts: { id: number; name: string }[];
}

/** Whatever a sequence may send from. */
export function senderChoices(app: App): SenderChoices {
  const pools = sql<[], { id: number; name: string; mailboxIds: string }>(
    app.db,
    `SELECT id, name, (SELECT json_group_array(mailbox_id) FROM pool_mailboxes WHERE pool_id = id) AS mailboxIds
     FROM pools ORDER BY name`,
  ).all([]);
  return {
    mailboxes: mailboxChoices(app),
    pools: pools.map(({ mailboxIds, ...pool }) => ({
      ...pool,
      mailboxIds: JSON.parse(mailboxIds) as number[],
    })),
    accounts: sql<[], { id: number; name: string }>(
      app.db,
      "SELECT id, name FROM social_accounts ORDER BY name",
    ).all([]),
  };
}

export function mailboxChoices({ db }: App): MailboxChoice[] {
  return allMailboxes(db).map(({ id, address, dailyLimit, state }) => ({ id, address, dailyLimit, state }));
}
