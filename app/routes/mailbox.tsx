import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, redirect, useFetcher } from "react-router";
import { webApp } from "../../server/app";
import { checkConnection } from "../../server/mailboxes/check-connection";
import { openMailbox } from "../../server/mailboxes/open-mailbox";
import { saveMailbox, setMailboxState } from "../../server/mailboxes/save-mailbox";
import { MarginNote, Page } from "../components/page";
import { day, restWords } from "../components/words";
import { userContext } from "../session";
import type { Route } from "./+types/mailbox";

export function loader({ params, context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  if (params.id === "new") return { mailbox: null, userName: user.name, zone: user.zone };
  const mailbox = openMailbox(webApp(), Number(params.id));
  if (!mailbox) throw data("This mailbox does not exist, or no longer.", { status: 404 });
  return { mailbox, userName: user.name, zone: user.zone };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const form = Object.fromEntries(await request.formData());
  const input = params.id === "new" ? form : { ...form, id: params.id };
  if (form.intent === "check") {
    const check = await checkConnection(app, input);
    if (check) return { check, errors: null };
    // An incomplete form is told the same as when it is saved, without saving.
    return {
      check: null,
      errors: { form: "Fill in both servers, the user name and the limits first." } as Record<string, string>,
    };
  }
  if (form.intent === "pause" || form.intent === "wake") {
    setMailboxState(app, Number(params.id), form.intent === "pause" ? "paused" : "active");
    return { check: null, errors: null };
  }
  const saved = saveMailbox(app, context.get(userContext).id, input);
  if (!saved.ok) return { check: null, errors: saved.errors };
  return redirect("/sending");
}

const SECURITY = [
  ["tls", "TLS from the start"],
  ["starttls", "STARTTLS"],
  ["none", "None (this machine only)"],
] as const;

export default function MailboxPage({ loaderData }: Route.ComponentProps) {
  const { mailbox, userName, zone } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const busy = fetcher.state !== "idle";
  const errors: Record<string, string> = fetcher.data?.errors ?? {};
  const check = busy ? null : fetcher.data?.check;
  const [address, setAddress] = useState(mailbox?.address ?? "");
  const field = (name: string, label: string, value: string | number, more: object = {}) => (
    <TextField
      name={name}
      label={label}
      defaultValue={value}
      error={!!errors[name]}
      helperText={errors[name]}
      {...more}
    />
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
      margin={<MailboxMargin mailbox={mailbox} check={check} busy={busy} zone={zone} />}
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
          <TextField
            key={mailbox ? "known" : address}
            name="username"
            label="User name"
            defaultValue={mailbox?.username ?? address}
            error={!!errors.username}
            helperText={errors.username}
          />
          {field("password", "Password", "", {
            type: "password",
            autoComplete: "off",
            helperText:
              errors.password ?? (mailbox ? "Leave it empty to keep the one stored." : "Stored encrypted."),
          })}
        </Group>
        <Group title="How much" columns="1fr 1fr 1fr">
          {field("dailyLimit", "Emails a day at most", mailbox?.dailyLimit ?? 30)}
          {field("gapLeast", "Minutes between two, from", mailbox?.gapLeast ?? 9)}
          {field("gapMost", "to", mailbox?.gapMost ?? 14)}
        </Group>
        <Box sx={{ display: "flex", gap: 1.25 }}>
          <Button type="submit" name="intent" value="save" variant="contained" disabled={busy}>
            {mailbox ? "Save" : "Add the mailbox"}
          </Button>
          <Button type="submit" name="intent" value="check" disabled={busy}>
            Check connection
          </Button>
          {mailbox?.state === "active" && (
            <Button type="submit" name="intent" value="pause" disabled={busy}>
              Pause it
            </Button>
          )}
          {mailbox && mailbox.state !== "active" && (
            <Button type="submit" name="intent" value="wake" disabled={busy}>
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
      <Box sx={{ display: "grid", gridTemplateColumns: columns, gap: 1.75 }}>{children}</Box>
    </Box>
  );
}

type Mailbox = Route.ComponentProps["loaderData"]["mailbox"];

function MailboxMargin(props: {
  mailbox: Mailbox;
  check: { smtp: string | null; imap: string | null } | null | undefined;
  busy: boolean;
  zone: string;
}) {
  const { mailbox, check, busy, zone } = props;
  return (
    <>
      <MarginNote title="Connection">
        {busy && <Typography>Connecting …</Typography>}
        {check && (
          <Box role="status" sx={{ display: "grid", gap: 1.25 }}>
            <Verdict good="Sending works: the outgoing server let us in." bad={check.smtp} />
            <Verdict good="Reading works: the incoming server let us in." bad={check.imap} />
          </Box>
        )}
        {!busy && !check && (
          <Typography>
            {mailbox?.trouble ??
              "“Check connection” signs in to both servers with what the form says, and sends nothing."}
          </Typography>
        )}
      </MarginNote>
      {mailbox && (
        <MarginNote title="State, and why">
          <Typography>
            {mailbox.state === "active" && "It sends and is read."}
            {mailbox.state === "paused" &&
              "You paused it. It is still read, so replies keep stopping follow-ups."}
            {mailbox.state === "resting" &&
              `It rests by itself until ${mailbox.restUntil ? day(mailbox.restUntil, zone) : "you wake it"}: ${restWords(mailbox.restReason)}. Threads that began here wait; it is still read.`}
          </Typography>
          {mailbox.threads > 0 && (
            <Typography sx={{ mt: 1 }}>
              {mailbox.threads} people have a thread here that goes on.{" "}
              {mailbox.state === "active"
                ? "Pausing it would hold their follow-ups."
                : "Their follow-ups wait."}
            </Typography>
          )}
        </MarginNote>
      )}
      <MarginNote title="Why a limit">
        <Typography variant="body2" color="textSecondary">
          Receiving servers look at how much a mailbox sends and how regularly. Some 30 a day, minutes apart,
          look like a person at work.
        </Typography>
      </MarginNote>
    </>
  );
}

function Verdict({ good, bad }: { good: string; bad: string | null }) {
  return (
    <Typography sx={{ color: bad ? "clay.main" : "kelp.main", fontWeight: 500 }}>
      {bad ? "! " : "✓ "}
      {bad ?? good}
    </Typography>
  );
}
