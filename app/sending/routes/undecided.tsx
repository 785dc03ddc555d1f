/** What a rep decides on the Sending page about emails and messages that nobody else can judge; no page of its own. */
import { webApp } from "../../../server/app";
import { undoMistakenBlocks } from "../../../server/sending/mistaken-blocks";
import { DECISIONS, decide, forgetSetAside } from "../../../server/sending/undecided";
import { userContext } from "../../accounts/session";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/undecided";

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const form = await readForm(request);
  const ids = (form.ids ?? "").split(",").map(Number).filter(Number.isInteger);
  const decision = DECISIONS.find((each) => each === form.intent);
  if (decision) return { changed: decide(app, ids, decision) };
  if (form.intent === "seen") {
    for (const id of ids) forgetSetAside(app, id);
    return { changed: ids.length };
  }
  if (form.intent === "unblock") return { changed: undoMistakenBlocks(app, context.get(userContext).id) };
  return unknownIntent(form.intent);
}
