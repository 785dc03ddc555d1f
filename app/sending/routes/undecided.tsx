/** What a rep decides on the Sending page about emails and messages that nobody else can judge; no page of its own. */

import { webApp } from "../../../server/app";
import type { Outcome } from "../../../server/errors";
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
  const said = (outcome: Outcome<number>) =>
    outcome.ok ? { changed: outcome.value } : { changed: 0, errors: outcome.errors };
  const decision = DECISIONS.find((each) => each === form.intent);
  if (decision) return said(decide(app, userId, ids, decision));
  if (form.intent === "seen") return said(forgetSetAside(app, userId, ids));
  if (form.intent === "unblock") return said(undoMistakenBlocks(app, userId));
  return unknownIntent(form.intent);
}
