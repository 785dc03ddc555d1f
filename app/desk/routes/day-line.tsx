import { webApp } from "../../../server/app";
import { askMove, cancelMove } from "../../../server/desk/ask-move";
import { dayLine } from "../../../server/desk/day-line";
import { done } from "../../../server/errors";
import { userContext } from "../../accounts/session";
import { readForm, unknownIntent } from "../read-form";
import type { Route } from "./+types/day-line";

export function loader({ context }: Route.LoaderArgs) {
  return dayLine(webApp(), context.get(userContext));
}

export async function action({ request }: Route.ActionArgs) {
  const { intent } = await readForm(request);
  if (intent === "cancel") cancelMove(webApp());
  else if (intent === "next_event" || intent === "next_morning") askMove(webApp(), { kind: intent });
  else return unknownIntent(intent);
  return done(null);
}
