import { data } from "react-router";
import { webApp } from "../../../server/app";
import { leftOutCsv } from "../../../server/prospects/imports/left-out";
import type { Route } from "./+types/import-left-out";

/** The rows that an import left out, to correct and import again. */
export function loader({ params }: Route.LoaderArgs) {
  const csv = leftOutCsv(webApp(), Number(params.id));
  if (csv === null) throw data("This import left no row out.", { status: 404 });
  return new Response(`\ufeff${csv}`, {
    headers: {
      "Content-Type": "text/csv; charset=utf-8",
      "Content-Disposition": 'attachment; filename="left-out.csv"',
    },
  });
}
