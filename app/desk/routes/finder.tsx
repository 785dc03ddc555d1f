import { webApp } from "../../../server/app";
import { find } from "../../../server/desk/find";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/finder";

export function loader({ request, context }: Route.LoaderArgs) {
  const q = new URL(request.url).searchParams.get("q") ?? "";
  return { found: find(webApp(), context.get(userContext).id, q) };
}
