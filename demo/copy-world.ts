/** A demo's world, made once and copied: the browser tests of each file have one of their own, at ports of its own. */
import { cpSync, mkdirSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import type { Ports } from "./ports.ts";

/** Where a world is, and where it can be reached. */
export interface Place {
  folder: string;
  url: string;
  ports: Ports;
}

const DATABASES = ["demo.db", "standin.db", "social.db", "crm.db"];

/** Copies a world that nobody runs at present, and moves what it says of its own servers to the new place. */
export async function copyWorld(from: Place, to: Place): Promise<void> {
  mkdirSync(to.folder, { recursive: true });
  for (const name of DATABASES) {
    const source = new Database(join(from.folder, name), { readonly: true });
    await source.backup(join(to.folder, name));
    source.close();
  }
  cpSync(from.folder, to.folder, {
    recursive: true,
    filter: (path) => !/\.db(-wal|-shm)?$/.test(path),
  });
  const by = to.ports.http - from.ports.http;
  const app = new Database(join(to.folder, "demo.db"));
  app.prepare("UPDATE mailboxes SET smtp_port = smtp_port + @by, imap_port = imap_port + @by").run({ by });
  app
    .prepare("UPDATE social_accounts SET url = replace(url, @was, @is)")
    .run({ was: `:${from.ports.social}`, is: `:${to.ports.social}` });
  app
    .prepare("UPDATE webhooks SET url = replace(url, @was, @is)")
    .run({ was: `:${from.ports.receiver}`, is: `:${to.ports.receiver}` });
  app
    .prepare("UPDATE crms SET url = replace(url, @was, @is)")
    .run({ was: `:${from.ports.crm}`, is: `:${to.ports.crm}` });
  app.close();
  const crm = new Database(join(to.folder, "crm.db"));
  crm.prepare("UPDATE hooks SET url = replace(url, @was, @is)").run({ was: from.url, is: to.url });
  crm.close();
  const recipients = new Database(join(to.folder, "standin.db"));
  recipients.prepare("UPDATE account SET imap_port = imap_port + @by").run({ by });
  // The links of the emails that they still have to act on.
  recipients
    .prepare("UPDATE pending SET detail = replace(detail, @was, @is)")
    .run({ was: from.url, is: to.url });
  recipients.close();
}
