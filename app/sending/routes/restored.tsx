/** Where a person decides about those who may have been written to before a restore. */
import { webApp } from "../../../server/app";
import { decideRestored } from "../../../server/sending/restored";
import { userContext } from "../../accounts/session";
import { readJson } from "../../desk/read-form";
import type { Route } from "./+types/restored";

export async function action({ request, context }: Route.ActionArgs) {
  return decideRestored(webApp(), context.get(userContext).id, await readJson(request));
}
