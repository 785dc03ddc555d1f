import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { calendarFeed } from "../../../server/meetings/calendar-file";
import type { Route } from "./+types/calendar-feed";

/** A rep's calls, for their own calendar program. Whoever has the address may read it, so it is signed. */
export function loader({ params }: Route.LoaderArgs): Response {
  try {
    return new Response(calendarFeed(webApp(), params.token.replace(/\.ics$/, "")), {
      headers: { "Content-Type": "text/calendar; charset=utf-8", "Cache-Control": "private, max-age=300" },
    });
  } catch (error) {
    if (error instanceof AppError)
      throw new Response("There is no calendar at this address.", { status: 404 });
    throw error;
  }
}
