/** Asked by the pages with fetch, so that a wait can be cancelled. */
import { webApp } from "../../../server/app";
import { createSequence } from "../../../server/sequences/create-sequence";
import { draftEmail, draftSequence, otherWordings } from "../../../server/sequences/draft-help";
import { userContext } from "../../accounts/session";
import { readJson, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/help";

export async function action({ request, context }: Route.ActionArgs): Promise<Response> {
  const app = webApp();
  const body = await readJson(request);
  switch (body.task) {
    case "sequence": {
      const draft = await draftSequence(app, body.brief, request.signal);
      if (!draft.ok) return Response.json({ errors: draft.errors });
      // Cancelled while it was written: nothing is made.
      if (request.signal.aborted) return Response.json({ errors: { form: "Cancelled." } });
      const { name, path } = draft.value;
      const made = createSequence(app, context.get(userContext).id, { name }, path);
      return Response.json(made.ok ? { id: made.value } : { errors: made.errors });
    }
    case "email": {
      const draft = await draftEmail(app, body.brief, request.signal);
      return Response.json(draft.ok ? { email: draft.value } : { errors: draft.errors });
    }
    case "wordings": {
      const wordings = await otherWordings(app, body, request.signal);
      return Response.json(wordings.ok ? { wordings: wordings.value } : { errors: wordings.errors });
    }
    default:
      return unknownIntent(body.task);
  }
}
