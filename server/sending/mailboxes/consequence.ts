/** What a change of one mailbox would move, before it is made. */
import type { Outlook } from "../../../core/sending/outlook.ts";
import { NOTHING_ELSE } from "../../../core/sending/what-if.ts";
import type { App } from "../../app.ts";
import { forecast } from "../forecast.ts";
import { openMailbox } from "./open-mailbox.ts";

export interface Consequence {
  /** People whose thread is here and goes on. */
  threads: number;
  /** Emails that were to leave it today and on the next working day. */
  planned: number;
  /** The plan as it is, and as it would be. */
  before: Outlook;
  after: Outlook;
}

/** `dailyLimit` null: it is paused or taken out. */
export async function consequenceOf(
  app: App,
  id: number,
  dailyLimit: number | null,
  zone: string,
): Promise<Consequence | null> {
  const mailbox = openMailbox(app, id);
  if (!mailbox) return null;
  const change =
    dailyLimit === null
      ? { ...NOTHING_ELSE, paused: [id] }
      : { ...NOTHING_ELSE, onlyMailbox: id, dailyLimit };
  const before = await forecast(app, zone);
  return {
    threads: mailbox.threads,
    planned: mailbox.planned,
    before,
    after: await forecast(app, zone, change),
  };
}
