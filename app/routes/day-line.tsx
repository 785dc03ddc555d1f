import { webApp } from "../../server/app";
import { askMove, cancelMove } from "../../server/clock/ask-move";
import { dayLine } from "../../server/sending/day-line";
import { userContext } from "../session";
import type { Route } from "./+types/day-line";

export function loader({ context }: Route.LoaderArgs) {
  return dayLine(webApp(), context.get(userContext));
}

export async function action({ request }: Route.ActionArgs) {
  const intent = (await request.formData()).get("intent");
  if (intent === "cancel") cancelMove(webApp());
  else askMove(webApp(), { kind: intent });
  return null;
}
