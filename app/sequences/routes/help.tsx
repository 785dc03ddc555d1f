/** Asked by the pages with fetch, so that a wait can be cancelled. */
import { webApp } from "../../../server/app";
import { refused, whenDone } from "../../../server/errors";
import { createSequence } from "../../../server/sequences/create-sequence";
import { draftEmail, draftSequence, otherWordings } from "../../../server/sequences/draft-help";
import { writeTo } from "../../../server/sequences/keep-sequences";
import { userContext } from "../../accounts/session";
import { readJson, unknownIntent } from "../../desk/read-form";
import type { Help } from "../ask-assistant";
import type { Route } from "./+types/help";

export async function action({ request, context }: Route.ActionArgs): Promise<Response> {
  const app = webApp();
  const body = await readJson(request);
  switch (body.task) {
    case "sequence": {
      const draft = await draftSequence(app, body.brief, request.signal);
      if (!draft.ok) return Response.json(draft);
      // Cancelled while it was written: nothing is made.
      if (request.signal.aborted) return Response.json(refused({ form: "Cancelled." }));
      const { name, path } = draft.value;
      const userId = context.get(userContext).id;
      const made = createSequence(app, userId, { name: String(body.name ?? "").trim() || name }, path);
      if (made.ok && Number(body.list) > 0) writeTo(app, userId, made.value, Number(body.list));
      return Response.json(whenDone(made, (id): Help => ({ id })));
    }
    case "email": {
      const draft = await draftEmail(app, body.brief, request.signal);
      return Response.json(whenDone(draft, (email): Help => ({ email })));
    }
    case "wordings": {
      const made = await otherWordings(app, body, request.signal);
      return Response.json(whenDone(made, (wordings): Help => ({ wordings })));
    }
    default:
      return unknownIntent(body.task);
  }
}
