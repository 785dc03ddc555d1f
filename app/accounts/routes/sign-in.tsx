import Button from "@mui/material/Button";
import Divider from "@mui/material/Divider";
import Stack from "@mui/material/Stack";
import { Form, redirect } from "react-router";
import { hasUsers } from "../../../server/accounts/create-user";
import { demoUsers, signIn, signInToDemo } from "../../../server/accounts/sign-in";
import { webApp } from "../../../server/app";
import type { FieldErrors } from "../../components/field";
import { readForm } from "../../desk/read-form";
import { Entry } from "../entry";
import { EmailField, EntryForm, PasswordField } from "../entry-form";
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
  if (!outcome.ok) return outcome;
  return redirect(ownPath(new URL(request.url).searchParams.get("to")), {
    headers: await signedIn(outcome.value, form.demo ?? form.email ?? ""),
  });
}

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  const errors: FieldErrors = actionData?.errors ?? {};
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
      <EntryForm errors={errors} submit="Sign in">
        <EmailField errors={errors} />
        <PasswordField errors={errors} />
      </EntryForm>
    </Entry>
  );
}
