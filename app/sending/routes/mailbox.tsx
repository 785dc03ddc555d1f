import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, redirect, useFetcher } from "react-router";
import { mayChange } from "../../../server/accounts/roles";
import { webApp } from "../../../server/app";
import type { Outcome } from "../../../server/errors";
import { type ConnectionCheck, checkConnection } from "../../../server/sending/mailboxes/check-connection";
import { countMailboxes, openMailbox } from "../../../server/sending/mailboxes/open-mailbox";
import { saveMailbox, setMailboxState } from "../../../server/sending/mailboxes/save-mailbox";
import { userContext } from "../../accounts/session";
import { Field } from "../../components/field";
import { MarginNote, Page } from "../../components/page";
import { count, day, restWords } from "../../components/words";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/mailbox";

export function loader({ params, context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  if (params.id === "new") return { mailbox: null, isMine: true, userName: user.name, zone: user.zone };
  const mailbox = openMailbox(webApp(), Number(params.id));
  if (!mailbox) throw data("This mailbox does not exist, or no longer.", { status: 404 });
  return { mailbox, isMine: mayChange(user, mailbox.userId), userName: user.name, zone: user.zone };
}

interface Answer {
  check: ConnectionCheck | null;
  errors: Record<string, string> | null;
}

export async function action({ request, params, context }: Route.ActionArgs): Promise<Answer | Response> {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  const input = params.id === "new" ? form : { ...form, id: params.id };
  const answer = (outcome: Outcome<ConnectionCheck | null>): Answer =>
    outcome.ok ? { check: outcome.value, errors: null } : { check: null, errors: outcome.errors };
  switch (form.intent) {
    case "check":
      return answer(await checkConnection(app, user, input));
    case "pause":
    case "wake":
      return answer(
        setMailboxState(app, user, Number(params.id), form.intent === "pause" ? "paused" : "active"),
      );
    case "save": {
      const isFirst = countMailboxes(app) === 0;
      const saved = saveMailbox(app, user, input);
      if (!saved.ok) return { check: null, errors: saved.errors };
      // Whoever sets up goes on with the next of Today's steps.
      return redirect(isFirst ? "/" : "/sending");
    }
    default:
      return unknownIntent(form.intent);
  }
}

/** The fields that are folded away. */
const MORE = ["auth", "imapUsername", "tokenUrl", "clientId", "clientSecret", "certificate", "moreFolders"];

const SECURITY = [
  ["tls", "TLS from the start"],
  ["starttls", "STARTTLS"],
  ["none", "None (this machine only)"],
] as const;

export default function MailboxPage({ loaderData }: Route.ComponentProps) {
  const { mailbox, isMine, userName, zone } = loaderData;
  const fetcher = useFetcher<Answer>();
  const busy = fetcher.state !== "idle";
  const errors: Record<string, string> = fetcher.data?.errors ?? {};
  const check = busy ? null : fetcher.data?.check;
  const [address, setAddress] = useState(mailbox?.address ?? "");
  const [auth, setAuth] = useState(mailbox?.auth ?? "password");
  const hasMore =
    mailbox !== null &&
    (mailbox.auth === "token" ||
      mailbox.imapUsername !== "" ||
      mailbox.certificate !== "" ||
      mailbox.moreFolders !== "[]");
  const field = (name: string, label: string, value: string | number, more: object = {}) => (
    <Field name={name} label={label} defaultValue={value} errors={errors} {...more} />
  );
  const security = (name: "smtpSecurity" | "imapSecurity") =>
    field(name, "Encryption", mailbox?.[name] ?? "tls", {
      select: true,
      children: SECURITY.map(([value, label]) => (
        <MenuItem key={value} value={value}>
          {label}
        </MenuItem>
      )),
    });
  return (
    <Page
      heading={mailbox ? mailbox.address : "Add a mailbox"}
      sub={
        mailbox
          ? `${mailbox.ownerName}'s`
          : "Your provider's help names the servers; search it for “SMTP” and “IMAP”."
      }
      margin={<MailboxMargin mailbox={mailbox} isMine={isMine} zone={zone} />}
    >
      <Box component={fetcher.Form} method="post" sx={{ display: "grid", gap: 3, maxWidth: 860 }}>
        {errors.form && <Alert severity="error">{errors.form}</Alert>}
        <Group title="Who writes">
          {field("address", "Email address", address, {
            onChange: (event: React.ChangeEvent<HTMLInputElement>) => setAddress(event.target.value),
          })}
          {field("senderName", "Sender's name", mailbox?.senderName ?? userName)}
          {field("signature", "Signature", mailbox?.signature ?? userName, {
            multiline: true,
            minRows: 2,
            sx: { gridColumn: "1 / -1" },
          })}
        </Group>
        <Group title="Outgoing server (SMTP)" columns="2fr 1fr 1.5fr">
          {field("smtpHost", "Server", mailbox?.smtpHost ?? "")}
          {field("smtpPort", "Port", mailbox?.smtpPort ?? 465)}
          {security("smtpSecurity")}
        </Group>
        <Group title="Incoming server (IMAP)" columns="2fr 1fr 1.5fr">
          {field("imapHost", "Server", mailbox?.imapHost ?? "")}
          {field("imapPort", "Port", mailbox?.imapPort ?? 993)}
          {security("imapSecurity")}
        </Group>
        <Group title="Sign-in to both">
          <Field
            key={mailbox ? "known" : address}
            name="username"
            label="User name"
            defaultValue={mailbox?.username ?? address}
            errors={errors}
          />
          {field("password", auth === "token" ? "Refresh token" : "Password", "", {
            type: "password",
            autoComplete: "off",
            helperText:
              errors.password ?? (mailbox ? "Leave it empty to keep the one stored." : "Stored encrypted."),
          })}
          <CheckResult check={check} busy={busy} />
        </Group>
        <Box
          component="details"
          open={hasMore || Object.keys(errors).some((name) => MORE.includes(name))}
          sx={{ "& > summary": { cursor: "pointer", fontWeight: 600, mb: 1.5 } }}
        >
          <summary>Another sign-in, an own certificate, more folders</summary>
          <Box sx={{ display: "grid", gap: 1.75, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } }}>
            {field("auth", "Signed in with", auth, {
              select: true,
              onChange: (event: React.ChangeEvent<HTMLInputElement>) =>
                setAuth(event.target.value === "token" ? "token" : "password"),
              children: [
                <MenuItem key="password" value="password">
                  A password, or an app password
                </MenuItem>,
                <MenuItem key="token" value="token">
                  A refresh token (OAuth 2.0)
                </MenuItem>,
              ],
            })}
            {field("imapUsername", "Read with another name", mailbox?.imapUsername ?? "")}
            {auth === "token" && (
              <>
                {field("tokenUrl", "Provider's token address", mailbox?.tokenUrl ?? "", {
                  helperText: errors.tokenUrl ?? "Where a refresh token is changed into access.",
                })}
                {field("clientId", "Client id", mailbox?.clientId ?? "")}
                {field("clientSecret", "Client secret, if there is one", "", {
                  type: "password",
                  autoComplete: "off",
                })}
              </>
            )}
            {field("certificate", "Certificate of the servers' own authority", mailbox?.certificate ?? "", {
              multiline: true,
              minRows: 2,
              maxRows: 5,
              helperText: errors.certificate ?? "Only for servers of your own: PEM, from BEGIN to END.",
              sx: { gridColumn: "1 / -1" },
            })}
            {field(
              "moreFolders",
              "Folders read besides the inbox and Junk, one in each line",
              (JSON.parse(mailbox?.moreFolders ?? "[]") as string[]).join("\n"),
              { multiline: true, minRows: 1, sx: { gridColumn: "1 / -1" } },
            )}
          </Box>
        </Box>
        <Group title="How much" columns="1fr 1fr 1fr">
          {field("dailyLimit", "Emails a day at most", mailbox?.dailyLimit ?? 30)}
          {field("gapLeast", "Minutes between two, from", mailbox?.gapLeast ?? 9)}
          {field("gapMost", "to", mailbox?.gapMost ?? 14)}
        </Group>
        <Box
          sx={{
            display: "flex",
            flexWrap: "wrap",
            gap: 1.25,
            position: "sticky",
            bottom: -20,
            py: 1.5,
            bgcolor: "background.default",
            borderTop: "1px solid",
            borderColor: "divider",
          }}
        >
          <Button type="submit" name="intent" value="save" variant="contained" disabled={busy || !isMine}>
            {mailbox ? "Save" : "Add the mailbox"}
          </Button>
          <Button type="submit" name="intent" value="check" disabled={busy || !isMine}>
            Check connection
          </Button>
          {mailbox?.state === "active" && (
            <Button type="submit" name="intent" value="pause" disabled={busy || !isMine}>
              Pause it
            </Button>
          )}
          {mailbox && (mailbox.state !== "active" || mailbox.smtpStopped === 1) && (
            <Button type="submit" name="intent" value="wake" disabled={busy || !isMine}>
              Let it send again
            </Button>
          )}
        </Box>
      </Box>
    </Page>
  );
}

function Group({
  title,
  columns = "1fr 1fr",
  children,
}: {
  title: string;
  columns?: string;
  children: React.ReactNode;
}) {
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0 }}>
      <Typography component="legend" variant="h2" sx={{ mb: 1.25, p: 0 }}>
        {title}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: columns }, gap: 1.75 }}>
        {children}
      </Box>
    </Box>
  );
}

type Mailbox = Route.ComponentProps["loaderData"]["mailbox"];

function MailboxMargin({ mailbox, isMine, zone }: { mailbox: Mailbox; isMine: boolean; zone: string }) {
  return (
    <>
      {mailbox && !isMine && (
        <MarginNote title="A colleague's">
          <Typography>
            This mailbox is {mailbox.ownerName}'s. They, or a manager, can change it; you see how it stands.
          </Typography>
        </MarginNote>
      )}
      {mailbox && (
        <MarginNote title="State, and why">
          <Typography>{stateSentence(mailbox, zone)}</Typography>
          {mailbox.threads > 0 && (
            <Typography sx={{ mt: 1 }}>
              {count(mailbox.threads, "person has a thread", "people have a thread")} here that goes on.{" "}
              {mailbox.state === "active" && mailbox.smtpStopped === 0
                ? "Pausing it would hold their follow-ups."
                : "Their follow-ups wait."}
            </Typography>
          )}
        </MarginNote>
      )}
      {mailbox && (
        <MarginNote title="Copies in your Sent folder">
          <Typography>{COPIES[mailbox.copies]}</Typography>
        </MarginNote>
      )}
      <MarginNote title="What the check does">
        <Typography variant="body2" color="textSecondary">
          It signs in to both servers with what the form says, opens the inbox, and asks the outgoing server
          whether this address may send, up to the point where an email would go. Nothing is sent, read or
          saved.
        </Typography>
      </MarginNote>
      <MarginNote title="Why a limit">
        <Typography variant="body2" color="textSecondary">
          Receiving servers look at how much a mailbox sends and how regularly. Some 30 a day, minutes apart,
          look like a person at work.
        </Typography>
      </MarginNote>
    </>
  );
}

const COPIES = {
  unknown:
    "It is seen with the first emails whether your server keeps them; if not, Saudade puts them there.",
  server: "Your server keeps a copy of each email by itself.",
  app: "Saudade puts a copy of each email there, since your server does not.",
  none: "There is no such folder.",
} as const;

function stateSentence(mailbox: NonNullable<Mailbox>, zone: string): string {
  if (mailbox.smtpStopped === 1)
    return `It was stopped at once, and nobody's address was touched. ${mailbox.smtpTrouble ?? ""} Mend that, then let it send again.`;
  if (mailbox.trouble) return mailbox.trouble;
  if (mailbox.state === "paused")
    return "It is paused by hand. It is still read, so replies keep stopping follow-ups.";
  if (mailbox.state === "resting")
    return `It rests by itself until ${mailbox.restUntil ? day(mailbox.restUntil, zone) : "you wake it"}: ${restWords(mailbox.restReason)}. Threads that began here wait; it is still read.`;
  return mailbox.connectedWall === null ? "It has not connected yet." : "It sends and is read.";
}

/** Beside the password, where the eye is after the press. */
function CheckResult({ check, busy }: { check: ConnectionCheck | null | undefined; busy: boolean }) {
  return (
    <Box
      role="status"
      sx={{ gridColumn: "1 / -1", display: "grid", gap: 0.75, minHeight: 44, alignContent: "center" }}
    >
      {busy && <Typography color="textSecondary">Connecting …</Typography>}
      {!busy && !check && (
        <Typography variant="body2" color="textSecondary">
          “Check connection” says here whether both servers let this mailbox send and read.
        </Typography>
      )}
      {check && (
        <>
          <Verdict good="Sending works: the outgoing server lets this address send." bad={check.smtp} />
          <Verdict good={`Reading works: ${folderWords(check)}`} bad={check.imap} />
        </>
      )}
    </Box>
  );
}

function folderWords({ folders }: ConnectionCheck): string {
  const junk = folders?.junk
    ? `the inbox and “${folders.junk}” are watched for replies`
    : "the inbox is watched for replies";
  return `${junk}; ${folders?.sent ? `copies go to “${folders.sent}”` : "a Sent folder will be made for copies"}.`;
}

function Verdict({ good, bad }: { good: string; bad: string | null }) {
  return (
    <Typography sx={{ color: bad ? "clay.main" : "kelp.main", fontWeight: 500 }}>
      {bad ? "! " : "✓ "}
      {bad ?? good}
    </Typography>
  );
}
