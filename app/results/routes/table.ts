/** A table of results as a CSV file (RFC 4180), with the filters of the page that it was asked from. */
import { data } from "react-router";
import { webApp } from "../../../server/app";
import { overviewTable, sequenceTable } from "../../../server/results/as-table";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/table";

export async function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const { id, zone } = context.get(userContext);
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const table =
    params.id === undefined
      ? await overviewTable(app, id, query, zone)
      : sequenceTable(app, id, Number(params.id), query, zone);
  if (table === null) throw data("This sequence does not exist, or no longer.", { status: 404 });
  return new Response(`\ufeff${table}`, {
    headers: {
      "Content-Type": "text/csv; charset=utf-8",
      "Content-Disposition": 'attachment; filename="results.csv"',
    },
  });
}
