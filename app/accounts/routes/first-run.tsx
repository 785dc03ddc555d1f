import { useEffect, useState } from "react";
import { redirect } from "react-router";
import { createFirstUser, hasUsers } from "../../../server/accounts/create-user";
import { openSession } from "../../../server/accounts/session";
import { webApp } from "../../../server/app";
import { Field, type FieldErrors } from "../../components/field";
import { ZoneField } from "../../components/zone-field";
import { readForm } from "../../desk/read-form";
import { Entry } from "../entry";
import { EmailField, EntryForm, PasswordField } from "../entry-form";
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
  if (!outcome.ok) return outcome;
  const token = openSession(app, outcome.value, (await callerOf(request)).agent);
  return redirect("/", { headers: await signedIn(token, form.email ?? "") });
}

export default function FirstRun({ actionData }: Route.ComponentProps) {
  const errors: FieldErrors = actionData?.errors ?? {};
  const [zone, setZone] = useState("UTC");
  useEffect(() => setZone(Intl.DateTimeFormat().resolvedOptions().timeZone), []);
  return (
    <Entry
      heading="Who are you?"
      text="This installation is new. You are its first user, and look after it; everything stays in one file on this machine."
    >
      <EntryForm errors={errors} submit="Begin">
        <Field name="name" label="Your name" autoComplete="name" errors={errors} />
        <EmailField errors={errors} />
        <PasswordField errors={errors} fresh />
        <ZoneField value={zone} onChange={setZone} error={errors.zone} />
      </EntryForm>
    </Entry>
  );
}
