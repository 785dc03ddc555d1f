import { webApp } from "../../../server/app";
import { find } from "../../../server/desk/find";
import type { Route } from "./+types/finder";

export function loader({ request }: Route.LoaderArgs) {
  return { found: find(webApp(), new URL(request.url).searchParams.get("q") ?? "") };
}
