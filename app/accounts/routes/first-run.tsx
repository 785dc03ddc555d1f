import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";
import { Form, redirect } from "react-router";
import { createFirstUser, hasUsers } from "../../../server/accounts/create-user";
import { openSession } from "../../../server/accounts/session";
import { webApp } from "../../../server/app";
import { ZoneField } from "../../components/zone-field";
import { readForm } from "../../desk/read-form";
import { Entry } from "../entry";
import { callerOf, signedIn } from "../session";
import type { Route } from "./+types/first-run";

export function loader() {
  if (hasUsers(webApp())) throw redirect("/sign-in");
  return null;
}

export async function action({ request }: Route.ActionArgs) {
  const app = webApp();
  const form = await readForm(request);
  const outcome = await createFirstUser(app, form);
  if (!outcome.ok) return { errors: outcome.errors };
  const token = openSession(app, outcome.value, (await callerOf(request)).agent);
  return redirect("/", { headers: await signedIn(token, form.email ?? "") });
}

export default function FirstRun({ actionData }: Route.ComponentProps) {
  const errors: Record<string, string> = actionData?.errors ?? {};
  const [zone, setZone] = useState("UTC");
  useEffect(() => setZone(Intl.DateTimeFormat().resolvedOptions().timeZone), []);
  return (
    <Entry
      heading="Who are you?"
      text="This installation is new. You are its first user, and look after it; everything stays in one file on this machine."
    >
      <Form method="post">
        <Stack spacing={2}>
          {errors.form && <Alert severity="error">{errors.form}</Alert>}
          <TextField
            name="name"
            label="Your name"
            autoComplete="name"
            error={!!errors.name}
            helperText={errors.name}
          />
          <TextField
            name="email"
            label="Email address"
            type="email"
            autoComplete="username"
            error={!!errors.email}
            helperText={errors.email}
          />
          <TextField
            name="password"
            label="Password"
            type="password"
            autoComplete="new-password"
            error={!!errors.password}
            helperText={
              errors.password ?? "At least 10 characters, and none of those that everybody tries first."
            }
          />
          <ZoneField value={zone} onChange={setZone} error={errors.zone} />
          <Box>
            <Button type="submit" variant="contained">
              Begin
            </Button>
          </Box>
        </Stack>
      </Form>
    </Entry>
  );
}
