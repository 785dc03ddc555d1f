import { data } from "react-router";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { personData } from "../../../server/prospects/privacy/person-data";
import type { Route } from "./+types/prospect-data";

export function loader({ params }: Route.LoaderArgs) {
  try {
    return new Response(JSON.stringify(personData(webApp(), Number(params.id)), null, 2), {
      headers: {
        "Content-Type": "application/json; charset=utf-8",
        "Content-Disposition": `attachment; filename="person-${Number(params.id)}.json"`,
      },
    });
  } catch (error) {
    if (error instanceof AppError) throw data(error.message, { status: 404 });
    throw error;
  }
}
