import { mayNot } from "../../accounts/may-not.ts";
import type { User } from "../../accounts/session.ts";
import type { App } from "../../app.ts";
import { type Mailbox, mailboxById } from "../../db/mailboxes.ts";
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
  const [smtp, imap] = await Promise.all([checkSmtp(mailbox, credentials), checkImap(mailbox, credentials)]);
  return done({ smtp, imap: imap.trouble, folders: imap.trouble === null ? imap.found : null });
}
