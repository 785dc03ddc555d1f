import { lookup } from "node:dns/promises";
import { setTimeout as pause } from "node:timers/promises";
import { mayNot } from "../../accounts/may-not.ts";
import type { User } from "../../accounts/session.ts";
import type { App } from "../../app.ts";
import { type Mailbox, mailboxById } from "../../db/mailboxes.ts";
import { sql } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { checkImap, checkSmtp, type FoundFolders } from "../../mail/check.ts";
import {
  type Credentials,
  fetchAccess,
  keepRefreshToken,
  newestToken,
  succeed,
} from "../../mail/credentials.ts";
import { troubleWords } from "../../mail/trouble.ts";
import { mayBeInside } from "../../outside/ask.ts";
import { leadsInside } from "../../outside/inside.ts";
import { unseal } from "../../secrets.ts";
import { mailboxForm, passwordProblem } from "./save-mailbox.ts";

export interface ConnectionCheck {
  /** What is wrong with sending, or null. */
  smtp: string | null;
  /** What is wrong with reading, or null. */
  imap: string | null;
  /** Which folders replies and copies go by, where reading works. */
  folders: FoundFolders | null;
}

/** Asks both servers with the form's settings whether they would work; nothing is sent, read or saved. */
export async function checkConnection(
  app: App,
  user: User,
  input: unknown,
): Promise<Outcome<ConnectionCheck>> {
  const read = mailboxForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const form = read.data;
  const known = form.id === undefined ? undefined : mailboxById(app.db, form.id);
  const no = known
    ? mayNot(app, user.id, "mailbox.change", known.id)
    : mayNot(app, user.id, "mailbox.create");
  if (no) return no;
  const problem = passwordProblem(form, known);
  if (problem) return refused({ password: problem });
  const secret = form.password
    ? newestToken(form, form.password)
    : unseal(known?.passwordSealed ?? "", app.key);
  const mailbox = { ...form } as unknown as Mailbox;
  let credentials: Credentials = { user: form.username, pass: secret };
  if (form.auth === "token")
    try {
      const clientSecret =
        form.clientSecret || (known?.clientSecretSealed ? unseal(known.clientSecretSealed, app.key) : "");
      const { tokenUrl, clientId } = form;
      const access = await fetchAccess(
        app.config,
        { tokenUrl, clientId, clientSecret, refreshToken: secret },
        Date.now(),
      );
      credentials = { user: form.username, accessToken: access.accessToken };
      if (access.refreshToken !== null && access.refreshToken !== secret) {
        if (form.password) succeed(form, secret, access.refreshToken);
        else if (known) keepRefreshToken(app, known.id, access.refreshToken);
      }
    } catch (error) {
      const trouble = troubleWords(error, "outgoing", form.smtpHost, form.smtpPort);
      return done({ smtp: trouble, imap: trouble, folders: null });
    }
  const [smtp, imap] = await Promise.all([
    unlessHidden(app, form.smtpHost, form.smtpPort, () =>
      checkSmtp(mailbox, credentials).then((trouble) => ({ trouble })),
    ),
    unlessHidden(app, form.imapHost, form.imapPort, () => checkImap(mailbox, credentials)),
  ]);
  return done({ smtp: smtp.trouble, imap: imap.trouble, folders: "found" in imap ? imap.found : null });
}

/** So long every failed check of a hidden host takes, so that the time tells nothing either. */
const HIDDEN_TAKES = 6_000;

/**
 * A host inside the network that no mailbox uses and nobody allowed is a mail server that works, or nothing is said of it:
 * which of its ports are open is no business of whoever types addresses.
 */
async function unlessHidden<Checked extends { trouble: string | null }>(
  app: App,
  host: string,
  port: number,
  check: () => Promise<Checked>,
): Promise<Checked | { trouble: string }> {
  if (!(await isHidden(app, host, port))) return check();
  const enough = pause(HIDDEN_TAKES, null);
  const checked = await Promise.race([check(), enough]);
  if (checked?.trouble === null) return checked;
  await enough;
  return {
    trouble: `${host} leads inside this network, and no mailbox uses it yet: what is wrong is not said of such a server. Look at the name, the port, the encryption and the password, or let whoever runs the installation allow it (SAUDADE_INSIDE).`,
  };
}

async function isHidden({ config, db }: App, host: string, port: number): Promise<boolean> {
  if (mayBeInside(config, { hostname: host.toLowerCase(), host: `${host.toLowerCase()}:${port}` }))
    return false;
  const isUsed =
    sql(
      db,
      "SELECT 1 FROM mailboxes WHERE removed_at IS NULL AND lower(@host) IN (lower(smtp_host), lower(imap_host))",
    ).get({ host }) !== undefined;
  if (isUsed) return false;
  const addresses = await lookup(host, { all: true }).catch(() => []);
  return addresses.some(({ address }) => leadsInside(address));
}
