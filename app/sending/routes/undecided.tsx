/** What a rep decides on the Sending page about emails and messages that nobody else can judge; no page of its own. */

import { webApp } from "../../../server/app";
import { undoMistakenBlocks } from "../../../server/sending/mistaken-blocks";
import { DECISIONS, decide, forgetSetAside } from "../../../server/sending/undecided";
import { userContext } from "../../accounts/session";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/undecided";

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const userId = context.get(userContext).id;
  const form = await readForm(request);
  const ids = (form.ids ?? "").split(",").map(Number).filter(Number.isInteger);
  const decision = DECISIONS.find((each) => each === form.intent);
  if (decision) return decide(app, userId, ids, decision);
  if (form.intent === "seen") return forgetSetAside(app, userId, ids);
  if (form.intent === "unblock") return undoMistakenBlocks(app, userId);
  return unknownIntent(form.intent);
}
