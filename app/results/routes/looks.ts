/** Keeps a look at results by a name, and drops it. */
import { webApp } from "../../../server/app";
import { dropLook, keepLook } from "../../../server/results/kept-looks";
import { userContext } from "../../accounts/session";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/looks";

export async function action({ request, context }: Route.ActionArgs) {
  const { id } = context.get(userContext);
  const form = await readForm(request);
  switch (form.intent) {
    case "keep":
      return keepLook(webApp(), id, form);
    case "drop":
      return dropLook(webApp(), id, Number(form.id));
    default:
      return unknownIntent(form.intent);
  }
}
