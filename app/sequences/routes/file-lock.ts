import { data } from "react-router";
import { webApp } from "../../../server/app";
import { done } from "../../../server/errors";
import { lockFile, lockOf } from "../../../server/pages/file-looks";
import { userContext } from "../../accounts/session";
import { readJson } from "../../desk/read-form";
import type { Route } from "./+types/file-lock";

/** How the links of a file are locked. */
export function loader({ params }: Route.LoaderArgs): Response {
  const lock = lockOf(webApp(), Number(params.id));
  if (!lock) throw data("This file is no longer here.", { status: 404 });
  return Response.json(done(lock));
}

export async function action({ request, params, context }: Route.ActionArgs): Promise<Response> {
  const asked = await readJson(request);
  return Response.json(await lockFile(webApp(), context.get(userContext).id, Number(params.id), asked));
}
