/** Where a one-time link leads: somebody new, or somebody who forgot the password, sets one. */
import { redirect } from "react-router";
import { ownerOfLink, usePasswordLink as setWithLink } from "../../../server/accounts/password";
import { openSession } from "../../../server/accounts/session";
import { webApp } from "../../../server/app";
import type { FieldErrors } from "../../components/field";
import { Notice } from "../../components/notice";
import { readForm } from "../../desk/read-form";
import { Entry } from "../entry";
import { EntryForm, PasswordField } from "../entry-form";
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
  if (!set.ok) return set;
  const token = openSession(app, set.value, (await callerOf(request)).agent);
  return redirect("/", { headers: await signedIn(token, owner?.email ?? "") });
}

export default function Welcome({ loaderData, actionData }: Route.ComponentProps) {
  const errors: FieldErrors = actionData?.errors ?? {};
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
      <EntryForm errors={errors} submit="Begin">
        <input type="hidden" name="username" autoComplete="username" value={owner.email} readOnly />
        <PasswordField errors={errors} fresh />
      </EntryForm>
    </Entry>
  );
}
