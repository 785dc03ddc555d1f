/** Where the owner of a list, filter, piece or profile says who else may have it. */
import { share } from "../../../server/accounts/share";
import { webApp } from "../../../server/app";
import { userContext } from "../../accounts/session";
import { readForm } from "../read-form";
import type { Route } from "./+types/sharing";

export async function action({ request, context }: Route.ActionArgs) {
  return share(webApp(), context.get(userContext).id, await readForm(request));
}
