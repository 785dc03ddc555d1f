/** Where a one-time link leads: somebody new, or somebody who forgot the password, sets one. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import { Form, redirect } from "react-router";
import { ownerOfLink, usePasswordLink as setWithLink } from "../../../server/accounts/password";
import { openSession } from "../../../server/accounts/session";
import { webApp } from "../../../server/app";
import { Notice } from "../../components/notice";
import { readForm } from "../../desk/read-form";
import { Entry } from "../entry";
import { callerOf, signedIn } from "../session";
import type { Route } from "./+types/welcome";

export function loader({ params }: Route.LoaderArgs) {
  const owner = ownerOfLink(webApp(), params.token);
  return { owner: owner && { name: owner.name, email: owner.email } };
}

export async function action({ request, params }: Route.ActionArgs) {
  const app = webApp();
  const { password = "" } = await readForm(request);
  const owner = ownerOfLink(app, params.token);
  const set = await setWithLink(app, params.token, password);
  if (!set.ok) return { errors: set.errors };
  const token = openSession(app, set.value, (await callerOf(request)).agent);
  return redirect("/", { headers: await signedIn(token, owner?.email ?? "") });
}

export default function Welcome({ loaderData, actionData }: Route.ComponentProps) {
  const errors: Record<string, string> = actionData?.errors ?? {};
  const { owner } = loaderData;
  if (!owner)
    return (
      <Notice
        heading="This link was used already, or is too old."
        text="It works once, for three days. Ask a manager of your team for another."
        action={{ to: "/sign-in", label: "Sign in" }}
      />
    );
  return (
    <Entry
      heading={`Choose a password, ${owner.name.split(" ")[0]}`}
      text={`You sign in with ${owner.email}.`}
    >
      <Form method="post">
        <Stack spacing={2}>
          {errors.form && <Alert severity="error">{errors.form}</Alert>}
          <input type="hidden" name="username" autoComplete="username" value={owner.email} readOnly />
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
