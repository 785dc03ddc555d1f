/** A mailbox's form: the address and the password first; servers, pace and the rest behind. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import type { OpenedMailbox } from "../../server/sending/mailboxes/open-mailbox";
import { Field, type FieldErrors } from "../components/field";
import { type Action, ActionForm } from "../components/use-action";
import { PauseButton } from "../desk/pause-button";
import { CheckResult } from "./connection-result";
import type { Planned } from "./consequence-dialog";
import type { Answer } from "./mailbox-answer";

/** The fields of each part that is folded away. */
const SERVERS = ["smtpHost", "smtpPort", "smtpSecurity", "imapHost", "imapPort", "imapSecurity", "username"];
const PACE = [
  "hourlyLimit",
  "rampStart",
  "rampStep",
  "opens",
  "closes",
  "tags",
  "pools",
  "replyTo",
  "copyTo",
];
const MORE = ["auth", "imapUsername", "tokenUrl", "clientId", "clientSecret", "certificate", "moreFolders"];

const SECURITY = [
  ["tls", "TLS from the start"],
  ["starttls", "STARTTLS"],
  ["none", "None (this machine only)"],
] as const;

export function MailboxForm(props: {
  mailbox: OpenedMailbox | null;
  isMine: boolean;
  userName: string;
  act: Action<Answer>;
  zone: string;
  onPlan: (planned: Planned) => void;
}) {
  const { mailbox, isMine, userName, act, zone, onPlan } = props;
  const { isBusy: busy, errors } = act;
  const found = act.value?.found ?? null;
  const check = busy ? null : act.value?.check;
  const form = useRef<HTMLFormElement>(null);
  const [address, setAddress] = useState(mailbox?.address ?? "");
  const [auth, setAuth] = useState(mailbox?.auth ?? "password");
  const hours = mailbox?.hours ?? null;
  const field = (name: string, label: string, value: string | number, more: object = {}) => (
    <Field
      key={found?.[name] ?? name}
      name={name}
      label={label}
      defaultValue={found?.[name] || value}
      errors={errors}
      {...more}
    />
  );
  const has = (names: readonly string[]) => Object.keys(errors).some((name) => names.includes(name));
  const security = (name: "smtpSecurity" | "imapSecurity") =>
    field(name, "Encryption", mailbox?.[name] ?? "tls", {
      select: true,
      children: SECURITY.map(([value, label]) => (
        <MenuItem key={value} value={value}>
          {label}
        </MenuItem>
      )),
    });
  const plan = (change: Planned["change"], intent: string) => {
    if (!form.current) return;
    const data = new FormData(form.current);
    data.set("intent", intent);
    onPlan({ change, form: data });
  };
  /** A lower limit makes people late: that is said before it is saved. */
  const askFirst = (event: React.FormEvent<HTMLFormElement>) => {
    const submitter = (event.nativeEvent as SubmitEvent).submitter as HTMLButtonElement | null;
    const limit = Number(new FormData(event.currentTarget).get("dailyLimit"));
    if (!mailbox || submitter?.value !== "save" || limit >= mailbox.dailyLimit || limit < 1) return;
    event.preventDefault();
    plan("limit", "save");
  };
  return (
    <ActionForm of={act} ref={form} onSubmit={askFirst} sx={{ display: "grid", gap: 2.5, maxWidth: 860 }}>
      <Group title="Who writes">
        {field("address", "Email address", address, {
          onChange: (event: React.ChangeEvent<HTMLInputElement>) => setAddress(event.target.value),
        })}
        {field("senderName", "Sender's name", mailbox?.senderName ?? userName)}
        {field("password", auth === "token" ? "Refresh token" : "Password", "", {
          type: "password",
          autoComplete: "off",
          helperText:
            errors.password ??
            (mailbox ? "Leave it empty to keep the one stored." : "Stored encrypted. Often an app password."),
        })}
        {field("dailyLimit", "Emails a day at most", mailbox?.dailyLimit ?? 30)}
        <CheckResult check={check} busy={busy} />
      </Group>
      <Box
        sx={{
          display: "flex",
          flexWrap: "wrap",
          gap: 1.25,
          position: "sticky",
          top: -20,
          zIndex: 1,
          py: 1.25,
          bgcolor: "background.default",
          borderBottom: "1px solid",
          borderColor: "divider",
        }}
      >
        {mailbox ? (
          <>
            <Button type="submit" name="intent" value="save" variant="contained" disabled={busy || !isMine}>
              Save
            </Button>
            <Button type="submit" name="intent" value="check" disabled={busy || !isMine}>
              Check connection
            </Button>
            {mailbox.state === "active" && (
              <Button onClick={() => plan("pause", "pause")} disabled={busy || !isMine}>
                Pause it …
              </Button>
            )}
            {(mailbox.state !== "active" || mailbox.smtpStopped === 1) && (
              <PauseButton
                of="mailbox"
                ids={[mailbox.id]}
                name={mailbox.address}
                becomes="running"
                zone={zone}
                undoId={null}
                label="Let it send again"
                button={{ disabled: busy || !isMine }}
                onAct={() => act.press({ intent: "wake" })}
              />
            )}
            <Button
              variant="text"
              color="error"
              sx={{ ml: "auto" }}
              onClick={() => plan("remove", "remove")}
              disabled={busy || !isMine}
            >
              Remove it …
            </Button>
          </>
        ) : (
          <Button type="submit" name="intent" value="add" variant="contained" disabled={busy}>
            {busy ? "Finding its servers, checking …" : "Check and add"}
          </Button>
        )}
      </Box>
      <Folded title="Servers" open={found !== null || has(SERVERS)}>
        <Group title="Outgoing (SMTP)" columns="2fr 1fr 1.5fr">
          {field("smtpHost", "Server", mailbox?.smtpHost ?? "", {
            helperText: errors.smtpHost ?? (mailbox ? undefined : "Left empty, it is found."),
          })}
          {field("smtpPort", "Port", mailbox?.smtpPort ?? 465)}
          {security("smtpSecurity")}
        </Group>
        <Group title="Incoming (IMAP)" columns="2fr 1fr 1.5fr">
          {field("imapHost", "Server", mailbox?.imapHost ?? "")}
          {field("imapPort", "Port", mailbox?.imapPort ?? 993)}
          {security("imapSecurity")}
        </Group>
        <Field
          key={mailbox ? "known" : address}
          name="username"
          label="User name on both"
          defaultValue={mailbox?.username ?? address}
          errors={errors}
        />
      </Folded>
      <PaceFields {...{ mailbox, userName, hours, field, errors }} isOpen={mailbox !== null || has(PACE)} />
      <MoreFields {...{ mailbox, field, errors, auth, setAuth }} isOpen={has(MORE) || usesMore(mailbox)} />
    </ActionForm>
  );
}

type FieldOf = (name: string, label: string, value: string | number, more?: object) => React.ReactNode;

function PaceFields(props: {
  mailbox: OpenedMailbox | null;
  userName: string;
  hours: OpenedMailbox["hours"];
  field: FieldOf;
  errors: FieldErrors;
  isOpen: boolean;
}) {
  const { mailbox, userName, hours, field, errors, isOpen } = props;
  return (
    <Folded title="Signature, pace and pools" open={isOpen}>
      {field("signature", "Signature", mailbox?.signature ?? userName, { multiline: true, minRows: 2 })}
      <Columns columns="1fr 1fr 1fr">
        {field("gapLeast", "Minutes between two, from", mailbox?.gapLeast ?? 9)}
        {field("gapMost", "to", mailbox?.gapMost ?? 14)}
        {field("hourlyLimit", "At most in an hour", mailbox?.hourlyLimit ?? "", {
          placeholder: "no limit",
        })}
        {field("rampStart", "Begins with, a day", mailbox?.rampStart ?? "", {
          placeholder: "the full limit",
          helperText: errors.rampStart ?? "A young mailbox: 5 to 10.",
        })}
        {field("rampStep", "and rises a day by", mailbox?.rampStep ?? 2)}
        {field("replyTo", "Answers go to", mailbox?.replyTo ?? "", { placeholder: "this address" })}
        {field("copyTo", "A blind copy goes to", mailbox?.copyTo ?? "", { placeholder: "nobody" })}
        {field("opens", "Sends from", hours?.opens ?? "", { placeholder: "their hours" })}
        {field("closes", "until", hours?.closes ?? "", { placeholder: "their hours" })}
        {field("tags", "Tags", mailbox?.tags.join(", ") ?? "")}
      </Columns>
      {field("pools", "Pools", mailbox?.pools.join(", ") ?? "", {
        helperText:
          errors.pools ??
          "Names with commas between. A sequence can send from a pool instead of single mailboxes.",
      })}
    </Folded>
  );
}

const usesMore = (mailbox: OpenedMailbox | null): boolean =>
  mailbox !== null &&
  (mailbox.auth === "token" ||
    mailbox.imapUsername !== "" ||
    mailbox.certificate !== "" ||
    mailbox.moreFolders.length > 0);

function MoreFields(props: {
  mailbox: OpenedMailbox | null;
  field: FieldOf;
  errors: FieldErrors;
  auth: string;
  setAuth: (auth: "password" | "token") => void;
  isOpen: boolean;
}) {
  const { mailbox, field, errors, auth, setAuth, isOpen } = props;
  return (
    <Folded title="Another sign-in, an own certificate, more folders" open={isOpen}>
      <Columns columns="1fr 1fr">
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
          mailbox?.moreFolders.join("\n") ?? "",
          { multiline: true, minRows: 1, sx: { gridColumn: "1 / -1" } },
        )}
      </Columns>
    </Folded>
  );
}

function Folded({ title, open, children }: { title: string; open: boolean; children: React.ReactNode }) {
  return (
    <Box
      component="details"
      // Opened again when an error lies within.
      key={String(open)}
      open={open}
      sx={{ "& > summary": { cursor: "pointer", fontWeight: 600, mb: 1.5 } }}
    >
      <summary>{title}</summary>
      <Box sx={{ display: "grid", gap: 1.75 }}>{children}</Box>
    </Box>
  );
}

function Columns({ columns, children }: { columns: string; children: React.ReactNode }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: columns }, gap: 1.75 }}>{children}</Box>
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
      <Columns columns={columns}>{children}</Columns>
    </Box>
  );
}
