import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import { data, Form, redirect } from "react-router";
import { type App, webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { cancelMeeting, moveMeeting } from "../../../server/meetings/book-meeting";
import { bookingPage } from "../../../server/meetings/booking-page";
import { meetingByToken } from "../../../server/meetings/calendar-file";
import { languageOf } from "../../../server/prospects/people/language";
import { ZoneField } from "../../components/zone-field";
import { readForm, unknownIntent } from "../../desk/read-form";
import { type Tongue, useTongue } from "../../public/tongue";
import { errorsIn, missingIn, tongueFor } from "../../public/tongue.server";
import { PublicPage } from "../public-page";
import { TimeChoice } from "../time-choice";
import type { Route } from "./+types/booked";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData?.tongue.messages.booked?.title ?? "Your call" },
];

const gone = (error: unknown, request: Request): never => {
  if (error instanceof AppError) throw data(missingIn(request, "call"), { status: 404 });
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
      tongue: tongueFor(request, visitorsLanguage(app, meeting), ["booked", "times", "booking"]),
    };
  } catch (error) {
    return gone(error, request);
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
      if (!moved.ok) {
        const language = visitorsLanguage(app, meetingByToken(app, params.token));
        return data(
          { ...moved, errors: errorsIn(tongueFor(request, language, []), moved.errors) },
          { status: 422 },
        );
      }
    } else return unknownIntent(form.intent);
    return redirect(`/booked/${params.token}${tongueFor(request, null, []).kept}`);
  } catch (error) {
    return gone(error, request);
  }
}

const visitorsLanguage = (app: App, { prospectId }: { prospectId: number | null }) =>
  prospectId === null ? null : (languageOf(app, prospectId)?.language ?? null);

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
    tongue,
  } = loaderData;
  const { t, when: from, time } = useTongue(tongue);
  const when = `${from(startsAt, visitorZone)}–${time(endsAt, visitorZone)}`;
  if (cancelledAt !== null)
    return (
      <PublicPage
        host={host}
        tongue={tongue}
        heading={t("booked.cancelled")}
        text={t("booked.cancelledText", { when, name: repName })}
      >
        <Button variant="contained" href={again}>
          {t("booked.another")}
        </Button>
      </PublicPage>
    );
  if (times !== null)
    return (
      <PublicPage
        host={host}
        tongue={tongue}
        heading={t("booked.moving")}
        text={t("booked.movingText", { when })}
      >
        <Mover {...loaderData} times={times} errors={actionData?.errors ?? {}} />
      </PublicPage>
    );
  return (
    <PublicPage
      host={host}
      tongue={tongue}
      heading={t(isOver ? "booked.was" : "booked.heading", { when })}
      text={`${place ? t("booked.meet", { name: repName, place }) : phone ? t("booked.callsAt", { name: repName, phone }) : t("booked.calls", { name: repName })} ${t("booked.keep", { zone: visitorZone.replaceAll("_", " ") })}`}
    >
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        <Button variant="contained" href={`/booked/${token}/call.ics`}>
          {t("booked.calendar")}
        </Button>
        {!isOver && (
          <>
            <Button href={`${tongue.kept || "?"}&move`}>{t("booked.move")}</Button>
            <Form method="post">
              <Button type="submit" name="intent" value="cancel" sx={{ ml: { sm: 3 } }}>
                {t("booked.cancel")}
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
  tongue,
}: {
  token: string;
  tongue: Tongue;
  times: number[];
  visitorZone: string;
  daysAhead: number;
  errors: Record<string, string>;
}) {
  const spoken = useTongue(tongue);
  const { t, when } = spoken;
  const [zone, setZone] = useState(visitorZone);
  const [start, setStart] = useState<number | null>(null);
  useEffect(() => setZone(Intl.DateTimeFormat().resolvedOptions().timeZone), []);
  return (
    <Form method="post" action={`/booked/${token}${tongue.kept || "?"}&move`}>
      <Box sx={{ display: "grid", gap: 2, maxWidth: 480 }}>
        {errors.start && <Alert severity="error">{errors.start}</Alert>}
        <ZoneField value={zone} onChange={setZone} label={t("times.zone")} />
        <TimeChoice
          spoken={spoken}
          times={times}
          zone={zone}
          daysAhead={daysAhead}
          chosen={start}
          onChoose={setStart}
        />
        <Box sx={{ display: "flex", gap: 1.5 }}>
          <Button type="submit" name="intent" value="move" variant="contained" disabled={start === null}>
            {start === null ? t("booking.chooseFirst") : t("booked.moveTo", { when: when(start, zone) })}
          </Button>
          <Button href={`/booked/${token}${tongue.kept}`}>{t("booked.leave")}</Button>
        </Box>
      </Box>
    </Form>
  );
}
