import { data } from "react-router";
import { webApp } from "../../../server/app";
import { refused } from "../../../server/errors";
import { linksIntoFile, linksOfList } from "../../../server/pages/page-links-file";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/page-links";

/** The links of everybody of a list, as a file. */
export function loader({ request, params, context }: Route.LoaderArgs): Response {
  const listId = Number(new URL(request.url).searchParams.get("list"));
  const made = linksOfList(webApp(), context.get(userContext).id, Number(params.id), listId);
  if (!made.ok) throw data(Object.values(made.errors)[0] ?? "", { status: 404 });
  return new Response(made.value, {
    headers: {
      "Content-Type": "text/csv; charset=utf-8",
      "Content-Disposition": 'attachment; filename="page-links.csv"',
    },
  });
}

/** A file with addresses; the same with the links comes back. */
export async function action({ request, params, context }: Route.ActionArgs): Promise<Response> {
  const form = await request.formData().catch(() => null);
  const file = form?.get("file");
  if (!(file instanceof File))
    return Response.json(refused({ file: "The file did not arrive whole. Choose it again." }));
  return Response.json(
    linksIntoFile(
      webApp(),
      context.get(userContext).id,
      Number(params.id),
      new Uint8Array(await file.arrayBuffer()),
    ),
  );
}
