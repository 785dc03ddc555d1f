/** What is known of somebody, for the sheet beside Today; no page of its own. */
import { webApp } from "../../../server/app";
import { callSheet } from "../../../server/today/call-sheet";
import type { Route } from "./+types/sheet";

export function loader({ params }: Route.LoaderArgs) {
  return callSheet(webApp(), Number(params.id));
}
