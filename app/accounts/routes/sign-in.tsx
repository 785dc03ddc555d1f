import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Divider from "@mui/material/Divider";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { Form, redirect, useNavigation } from "react-router";
import { hasUsers } from "../../../server/accounts/create-user";
import { demoUsers, signIn, signInToDemo } from "../../../server/accounts/sign-in";
import { webApp } from "../../../server/app";
import { readForm } from "../../desk/read-form";
import { Entry } from "../entry";
import { callerOf, ownPath, signedIn } from "../session";
import type { Route } from "./+types/sign-in";

export function loader() {
  const app = webApp();
  if (!hasUsers(app)) throw redirect("/first-run");
  return { demo: demoUsers(app) };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const outcome =
    form.demo === undefined
      ? await signIn(webApp(), form, await callerOf(request))
      : signInToDemo(webApp(), form.demo);
  if (!outcome.ok) return { errors: outcome.errors };
  return redirect(ownPath(new URL(request.url).searchParams.get("to")), {
    headers: await signedIn(outcome.value, form.demo ?? form.email ?? ""),
  });
}

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  const errors: Record<string, string> = actionData?.errors ?? {};
  const busy = useNavigation().state !== "idle";
  return (
    <Entry heading="Sign in" text="Your sequences went on while you were away.">
      {loaderData.demo.length > 0 && (
        <Form method="post">
          <Stack spacing={1}>
            {loaderData.demo.map(({ name, email }) => (
              <Button
                key={email}
                type="submit"
                name="demo"
                value={email}
                variant={email.startsWith("marta") ? "contained" : "outlined"}
              >
                Open the demo as {name}
              </Button>
            ))}
          </Stack>
          <Divider sx={{ my: 3, color: "text.secondary", fontSize: 13 }}>or with a password</Divider>
        </Form>
      )}
      <Form method="post">
        <Stack spacing={2}>
          {errors.form && <Alert severity="error">{errors.form}</Alert>}
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
            autoComplete="current-password"
            error={!!errors.password}
            helperText={errors.password}
          />
          <Box>
            <Button type="submit" variant="contained" disabled={busy}>
              Sign in
            </Button>
          </Box>
        </Stack>
      </Form>
    </Entry>
  );
}
