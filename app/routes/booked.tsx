import Button from "@mui/material/Button";
import { data } from "react-router";
import { webApp } from "../../server/app";
import { AppError } from "../../server/errors";
import { meetingByToken } from "../../server/meetings/calendar-file";
import { Notice } from "../components/notice";
import { day, time } from "../components/words";
import type { Route } from "./+types/booked";

export function loader({ params }: Route.LoaderArgs) {
  try {
    return meetingByToken(webApp(), params.token);
  } catch (error) {
    if (error instanceof AppError) throw data("This meeting does not exist, or no longer.", { status: 404 });
    throw error;
  }
}

export default function Booked({ loaderData }: Route.ComponentProps) {
  const { token, repName, startsAt, endsAt, visitorZone } = loaderData;
  return (
    <Notice
      heading={`Booked: ${day(startsAt, visitorZone)}, ${time(startsAt, visitorZone)}–${time(endsAt, visitorZone)}`}
      text={`${repName} will call you. The times are in ${visitorZone.replaceAll("_", " ")}.`}
    >
      <Button variant="contained" href={`/booked/${token}/call.ics`}>
        Put it in your calendar
      </Button>
    </Notice>
  );
}
