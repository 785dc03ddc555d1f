import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { calendarFile } from "../../../server/meetings/calendar-file";
import type { Route } from "./+types/booked-calendar";

export function loader({ params }: Route.LoaderArgs) {
  try {
    return new Response(calendarFile(webApp(), params.token), {
      headers: {
        "Content-Type": "text/calendar; charset=utf-8; method=PUBLISH",
        "Content-Disposition": 'attachment; filename="call.ics"',
      },
    });
  } catch (error) {
    if (error instanceof AppError) return new Response(error.message, { status: 404 });
    throw error;
  }
}
