import { data } from "react-router";
import { webApp } from "../../../server/app";
import { refused } from "../../../server/errors";
import { linksIntoFile, linksOfList } from "../../../server/pages/page-links-file";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/page-links";

/**
 * The links of everybody of a list, as a file; or a file with addresses, which comes back with the links. Both hand pages out, and so
 * neither is a visit.
 */
export async function action({ request, params, context }: Route.ActionArgs): Promise<Response> {
  const app = webApp();
  const by = context.get(userContext).id;
  const form = await request.formData().catch(() => null);
  const list = form?.get("list");
  if (typeof list === "string") {
    const made = linksOfList(app, by, Number(params.id), Number(list));
    if (!made.ok) throw data(Object.values(made.errors)[0] ?? "", { status: 404 });
    return new Response(made.value, {
      headers: {
        "Content-Type": "text/csv; charset=utf-8",
        "Content-Disposition": 'attachment; filename="page-links.csv"',
      },
    });
  }
  const file = form?.get("file");
  if (!(file instanceof File))
    return Response.json(refused({ file: "The file did not arrive whole. Choose it again." }));
  return Response.json(linksIntoFile(app, by, Number(params.id), new Uint8Array(await file.arrayBuffer())));
}
