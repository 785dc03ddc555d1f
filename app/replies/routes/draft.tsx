/** Where the answer that is being typed is kept; no page of its own. */
import { webApp } from "../../../server/app";
import { done } from "../../../server/errors";
import { keepDraft } from "../../../server/replies/drafts";
import { userContext } from "../../accounts/session";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/draft";

export async function action({ request, context }: Route.ActionArgs) {
  const form = await readForm(request);
  const came = keepDraft(webApp(), context.get(userContext).id, form);
  return came === "unread" ? unknownIntent("draft") : Response.json(done({ kept: came === "kept" }));
}
