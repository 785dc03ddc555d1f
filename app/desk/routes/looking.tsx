/** Whose things Today and Replies show: chosen here, remembered. */
import { lookAt } from "../../../server/accounts/whose";
import { webApp } from "../../../server/app";
import { userContext } from "../../accounts/session";
import { readJson } from "../read-form";
import type { Route } from "./+types/looking";

export async function action({ request, context }: Route.ActionArgs) {
  return lookAt(webApp(), context.get(userContext).id, await readJson(request));
}
