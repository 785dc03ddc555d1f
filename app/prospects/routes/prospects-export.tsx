import { data } from "react-router";
import { webApp } from "../../../server/app";
import { listById } from "../../../server/prospects/lists/lists";
import { exportCsv, exportVcards } from "../../../server/prospects/people/export-prospects";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/prospects-export";

export function loader({ request, context }: Route.LoaderArgs) {
  const { as = "csv", ...query } = Object.fromEntries(new URL(request.url).searchParams);
  const isCards = as === "vcf";
  const app = webApp();
  const by = context.get(userContext).id;
  if (query.list !== undefined && listById(app, by, Number(query.list)) === null)
    throw data("This list does not exist, or no longer.", { status: 404 });
  return new Response(isCards ? exportVcards(app, by, query) : `\ufeff${exportCsv(app, by, query)}`, {
    headers: {
      "Content-Type": isCards ? "text/vcard; charset=utf-8" : "text/csv; charset=utf-8",
      "Content-Disposition": `attachment; filename="prospects.${isCards ? "vcf" : "csv"}"`,
    },
  });
}
