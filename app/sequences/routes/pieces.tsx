import { webApp } from "../../../server/app";
import { done, whenDone } from "../../../server/errors";
import { allPieces, dropPiece, keepPiece } from "../../../server/sequences/pieces";
import { userContext } from "../../accounts/session";
import { readJson } from "../../desk/read-form";
import type { Route } from "./+types/pieces";

export const loader = ({ context }: Route.LoaderArgs): Response =>
  Response.json(done(allPieces(webApp(), context.get(userContext).id)));

export async function action({ request, context }: Route.ActionArgs): Promise<Response> {
  const app = webApp();
  const userId = context.get(userContext).id;
  const body = await readJson(request);
  const kept =
    body.intent === "drop" ? dropPiece(app, userId, Number(body.id)) : keepPiece(app, userId, body);
  return Response.json(whenDone(kept, () => allPieces(app, userId)));
}
