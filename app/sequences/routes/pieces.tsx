import { webApp } from "../../../server/app";
import { done } from "../../../server/errors";
import { allPieces, dropPiece, keepPiece } from "../../../server/sequences/pieces";
import { writtenEmails } from "../../../server/sequences/written-emails";
import { userContext } from "../../accounts/session";
import { readJson } from "../../desk/read-form";
import type { Route } from "./+types/pieces";

/** The pieces; with `?written=words` the emails of earlier sequences that hold the words. */
export async function loader({ request, context }: Route.LoaderArgs): Promise<Response> {
  const userId = context.get(userContext).id;
  const written = new URL(request.url).searchParams.get("written");
  return Response.json(
    done(await (written === null ? allPieces(webApp(), userId) : writtenEmails(webApp(), userId, written))),
  );
}

export async function action({ request, context }: Route.ActionArgs): Promise<Response> {
  const app = webApp();
  const userId = context.get(userContext).id;
  const body = await readJson(request);
  const kept =
    body.intent === "drop" ? dropPiece(app, userId, Number(body.id)) : keepPiece(app, userId, body);
  return Response.json(kept.ok ? done(await allPieces(app, userId)) : kept);
}
