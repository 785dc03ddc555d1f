import { webApp } from "../../../server/app";
import { exportCsv, exportVcards } from "../../../server/prospects/people/export-prospects";
import type { Route } from "./+types/prospects-export";

export function loader({ request }: Route.LoaderArgs) {
  const { as = "csv", ...query } = Object.fromEntries(new URL(request.url).searchParams);
  const isCards = as === "vcf";
  const app = webApp();
  return new Response(isCards ? exportVcards(app, query) : `\ufeff${exportCsv(app, query)}`, {
    headers: {
      "Content-Type": isCards ? "text/vcard; charset=utf-8" : "text/csv; charset=utf-8",
      "Content-Disposition": `attachment; filename="prospects.${isCards ? "vcf" : "csv"}"`,
    },
  });
}
