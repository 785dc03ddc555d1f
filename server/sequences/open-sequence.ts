import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
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

export function mailboxChoices({ db }: App): MailboxChoice[] {
  return allMailboxes(db).map(({ id, address, dailyLimit, state }) => ({ id, address, dailyLimit, state }));
}
