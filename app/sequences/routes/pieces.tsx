import { webApp } from "../../../server/app";
import { allPieces, dropPiece, keepPiece } from "../../../server/sequences/pieces";
import { userContext } from "../../accounts/session";
import { readJson } from "../../desk/read-form";
import type { Route } from "./+types/pieces";

export const loader = (): Response => Response.json({ pieces: allPieces(webApp()) });

export async function action({ request, context }: Route.ActionArgs): Promise<Response> {
  const app = webApp();
  const body = (await readJson(request)) as Record<string, unknown>;
  if (body.intent === "drop") dropPiece(app, Number(body.id));
  else {
    const kept = keepPiece(app, context.get(userContext).id, body);
    if (!kept.ok) return Response.json({ errors: kept.errors });
  }
  return Response.json({ pieces: allPieces(app) });
}
