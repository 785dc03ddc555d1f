import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import type { OpenSession, User } from "../../server/accounts/session";
import { Field } from "../components/field";
import { Pill } from "../components/pill";
import { Refusal } from "../components/refusal";
import { Row } from "../components/row";
import { useAction } from "../components/use-action";
import { dayTime } from "../components/words";
import { ZoneField } from "../components/zone-field";
import { Part, type Said, two } from "./parts";

export function AboutYou({ user }: { user: User }) {
  const profile = useAction<Said>();
  const password = useAction<Said>();
  const [zone, setZone] = useState(user.zone);
  const fields = useRef<HTMLDivElement>(null);
  // A password that was changed is not left standing in its fields.
  const changed = password.value?.words;
  useEffect(() => {
    if (changed) for (const input of fields.current?.querySelectorAll("input") ?? []) input.value = "";
  }, [changed]);
  return (
    <>
      <Part title="Profile" intent="profile" button="Save the profile" of={profile}>
        <Box sx={two}>
          <Field
            errors={profile.errors}
            name="name"
            label="Your name"
            defaultValue={user.name}
            autoComplete="name"
          />
          <ZoneField value={zone} onChange={setZone} error={profile.errors.zone} />
        </Box>
        <Typography variant="body2" color="textSecondary">
          You sign in with {user.email}, as a {user.role}.
        </Typography>
      </Part>
      <Part title="Password" intent="password" button="Change the password" of={password}>
        <input type="hidden" name="username" autoComplete="username" value={user.email} readOnly />
        <Box sx={two} ref={fields}>
          <Field
            errors={password.errors}
            name="current"
            label="Present password"
            type="password"
            autoComplete="current-password"
          />
          <Field
            errors={password.errors}
            name="password"
            label="New password"
            type="password"
            autoComplete="new-password"
            helperText="At least 10 characters."
          />
        </Box>
      </Part>
    </>
  );
}

/** "Firefox on Linux", as far as a browser tells. */
function agentWords(agent: string): string {
  const browser = /Firefox/.test(agent)
    ? "Firefox"
    : /Edg\//.test(agent)
      ? "Edge"
      : /Chrom/.test(agent)
        ? "Chromium"
        : /Safari/.test(agent)
          ? "Safari"
          : "A browser";
  const system = /Windows/.test(agent)
    ? "Windows"
    : /Android/.test(agent)
      ? "Android"
      : /iPhone|iPad/.test(agent)
        ? "iOS"
        : /Mac OS/.test(agent)
          ? "macOS"
          : /Linux/.test(agent)
            ? "Linux"
            : "";
  return system ? `${browser} on ${system}` : browser;
}

export function Sessions({ sessions, now, zone }: { sessions: OpenSession[]; now: number; zone: string }) {
  const { press, isBusy: busy, errors } = useAction<Said>();
  const seen = (at: number) => (now - at < 15 * 60_000 ? "in use" : `last used ${dayTime(at, zone)}`);
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Where you are signed in
      </Typography>
      <Refusal errors={errors} />
      {sessions.map((session) => (
        <Row key={session.id} sx={{ gap: 2, alignItems: "center", py: 1, minHeight: 50 }}>
          <Typography sx={{ flex: 1 }}>{agentWords(session.agent)}</Typography>
          <Typography variant="body2" color="textSecondary">
            {seen(session.seenAt)}, since {dayTime(session.createdAt, zone)}
          </Typography>
          {session.isThis ? (
            <Pill tone="kelp">this one</Pill>
          ) : (
            <Button
              size="small"
              type="button"
              disabled={busy}
              onClick={() => press({ intent: "end-session", id: String(session.id) })}
            >
              End it
            </Button>
          )}
        </Row>
      ))}
      {sessions.length > 1 && (
        <Button disabled={busy} sx={{ mt: 1.5 }} onClick={() => press({ intent: "end-others" })}>
          {sessions.length === 2 ? "End the other" : `End the ${sessions.length - 1} others`}
        </Button>
      )}
    </Box>
  );
}
