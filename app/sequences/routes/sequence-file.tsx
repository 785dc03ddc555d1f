import { data } from "react-router";
import { webApp } from "../../../server/app";
import { exportSequence } from "../../../server/sequences/keep-sequences";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/sequence-file";

export function loader({ params, context }: Route.LoaderArgs) {
  const file = exportSequence(webApp(), context.get(userContext).id, Number(params.id));
  if (!file.ok) throw data("This sequence does not exist, or no longer.", { status: 404 });
  return new Response(file.value.text, {
    headers: {
      "Content-Type": "application/json; charset=utf-8",
      "Content-Disposition": `attachment; filename="${file.value.fileName}"`,
    },
  });
}
