import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import { data, Form, redirect } from "react-router";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { cancelMeeting, moveMeeting } from "../../../server/meetings/book-meeting";
import { bookingPage } from "../../../server/meetings/booking-page";
import { meetingByToken } from "../../../server/meetings/calendar-file";
import { day, time } from "../../components/words";
import { ZoneField } from "../../components/zone-field";
import { readForm, unknownIntent } from "../../desk/read-form";
import { PublicPage } from "../public-page";
import { TimeChoice } from "../time-choice";
import type { Route } from "./+types/booked";

export const meta: Route.MetaFunction = () => [{ title: "Your call" }];

const gone = (error: unknown): never => {
  if (error instanceof AppError) throw data("This call does not exist, or no longer.", { status: 404 });
  throw error;
};

/** `?move` shows the times to which it can be moved. */
export function loader({ request, params }: Route.LoaderArgs) {
  const app = webApp();
  try {
    const meeting = meetingByToken(app, params.token);
    const moves = new URL(request.url).searchParams.has("move") && meeting.cancelledAt === null;
    const length = (meeting.endsAt - meeting.startsAt) / 60_000;
    const moving = { id: meeting.id, userId: meeting.userId, minutes: length };
    const page = moves ? bookingPage(app, meeting.pageSlug, null, { moving }) : null;
    const { token, host, repName, startsAt, endsAt, visitorZone, cancelledAt, phone, place } = meeting;
    const isOver = endsAt < app.clock.now();
    return {
      ...{ token, host, repName, startsAt, endsAt, visitorZone, cancelledAt, phone, place, isOver },
      again: `/book/${meeting.pageSlug}`,
      times: page?.times ?? null,
      daysAhead: page?.daysAhead ?? 0,
    };
  } catch (error) {
    return gone(error);
  }
}

/** Also after a refusal: a time that somebody else took is no longer offered. */
export const shouldRevalidate = () => true;

export async function action({ request, params }: Route.ActionArgs) {
  const app = webApp();
  const form = await readForm(request);
  try {
    if (form.intent === "cancel") cancelMeeting(app, params.token);
    else if (form.intent === "move") {
      const moved = moveMeeting(app, params.token, form);
      if (!moved.ok) return data(moved, { status: 422 });
    } else return unknownIntent(form.intent);
    return redirect(`/booked/${params.token}`);
  } catch (error) {
    return gone(error);
  }
}

export default function Booked({ loaderData, actionData }: Route.ComponentProps) {
  const {
    token,
    host,
    repName,
    startsAt,
    endsAt,
    visitorZone,
    cancelledAt,
    phone,
    place,
    isOver,
    again,
    times,
  } = loaderData;
  const when = `${day(startsAt, visitorZone)}, ${time(startsAt, visitorZone)}–${time(endsAt, visitorZone)}`;
  if (cancelledAt !== null)
    return (
      <PublicPage
        host={host}
        heading="The call is cancelled."
        text={`It was to be on ${when}. ${repName} knows.`}
      >
        <Button variant="contained" href={again}>
          Choose another time
        </Button>
      </PublicPage>
    );
  if (times !== null)
    return (
      <PublicPage
        host={host}
        heading="Move the call"
        text={`It is on ${when} until you choose another time.`}
      >
        <Mover {...loaderData} times={times} errors={actionData?.errors ?? {}} />
      </PublicPage>
    );
  return (
    <PublicPage
      host={host}
      heading={`${isOver ? "It was" : "Booked:"} ${when}`}
      text={`${place ? `You meet ${repName} here: ${place}` : `${repName} will call you${phone ? ` at ${phone}` : ""}.`} The times are in ${visitorZone.replaceAll("_", " ")}. Keep this page's address: here you can move or cancel the call.`}
    >
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        <Button variant="contained" href={`/booked/${token}/call.ics`}>
          Put it in your calendar
        </Button>
        {!isOver && (
          <>
            <Button href="?move">Move it</Button>
            <Form method="post">
              <Button type="submit" name="intent" value="cancel" sx={{ ml: { sm: 3 } }}>
                Cancel the call
              </Button>
            </Form>
          </>
        )}
      </Box>
    </PublicPage>
  );
}

function Mover({
  token,
  times,
  visitorZone,
  daysAhead,
  errors,
}: {
  token: string;
  times: number[];
  visitorZone: string;
  daysAhead: number;
  errors: Record<string, string>;
}) {
  const [zone, setZone] = useState(visitorZone);
  const [start, setStart] = useState<number | null>(null);
  useEffect(() => setZone(Intl.DateTimeFormat().resolvedOptions().timeZone), []);
  return (
    <Form method="post" action={`/booked/${token}?move`}>
      <Box sx={{ display: "grid", gap: 2, maxWidth: 480 }}>
        {errors.start && <Alert severity="error">{errors.start}</Alert>}
        <ZoneField value={zone} onChange={setZone} />
        <TimeChoice times={times} zone={zone} daysAhead={daysAhead} chosen={start} onChoose={setStart} />
        <Box sx={{ display: "flex", gap: 1.5 }}>
          <Button type="submit" name="intent" value="move" variant="contained" disabled={start === null}>
            {start === null ? "Choose a time first" : `Move it to ${day(start, zone)}, ${time(start, zone)}`}
          </Button>
          <Button href={`/booked/${token}`}>Leave it</Button>
        </Box>
      </Box>
    </Form>
  );
}
