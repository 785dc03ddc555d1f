import { webApp } from "../../server/app";
import { find } from "../../server/finder/find";
import type { Route } from "./+types/finder";

export function loader({ request }: Route.LoaderArgs) {
  return { found: find(webApp(), new URL(request.url).searchParams.get("q") ?? "") };
}
