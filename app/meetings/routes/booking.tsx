import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { data, Form, Link, redirect, useLocation } from "react-router";
import { type App, webApp } from "../../../server/app";
import { AppError, done } from "../../../server/errors";
import { bookMeeting } from "../../../server/meetings/book-meeting";
import { type BookingPage, bookingPage } from "../../../server/meetings/booking-page";
import { languageOf } from "../../../server/prospects/people/language";
import { callerOf } from "../../accounts/session";
import { Field } from "../../components/field";
import { ZoneField } from "../../components/zone-field";
import { readForm } from "../../desk/read-form";
import { useTongue } from "../../public/tongue";
import { errorsIn, missingIn, tongueFor } from "../../public/tongue.server";
import { PublicPage } from "../public-page";
import { TimeChoice } from "../time-choice";
import type { Route } from "./+types/booking";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  {
    title: loaderData
      ? (loaderData.tongue.messages.booking?.heading ?? "").replace("{{name}}", loaderData.rep.name)
      : "A call",
  },
];

const parametersOf = (request: Request) => {
  const { searchParams } = new URL(request.url);
  return { token: searchParams.get("p"), length: Number(searchParams.get("length")) || null };
};

const visitorsLanguage = (app: App, { visitor }: Pick<BookingPage, "visitor">) =>
  (visitor && languageOf(app, visitor.prospectId)?.language) ?? null;

export function loader({ request, params }: Route.LoaderArgs) {
  const { token, length } = parametersOf(request);
  try {
    const app = webApp();
    const page = bookingPage(app, params.slug, token, { length });
    return { ...page, tongue: tongueFor(request, visitorsLanguage(app, page), ["booking", "times"]) };
  } catch (error) {
    if (error instanceof AppError) throw data(missingIn(request, "page"), { status: 404 });
    throw error;
  }
}

/** Also after a refusal: a time that somebody else took is no longer offered. */
export const shouldRevalidate = () => true;

export async function action({ request, params }: Route.ActionArgs) {
  try {
    const { token } = parametersOf(request);
    const { address } = await callerOf(request);
    const app = webApp();
    const outcome = bookMeeting(app, params.slug, token, await readForm(request), address);
    if (!outcome.ok) {
      const language = visitorsLanguage(app, bookingPage(app, params.slug, token, {}));
      return data(
        { ...outcome, errors: errorsIn(tongueFor(request, language, []), outcome.errors) },
        { status: 422 },
      );
    }
    const { meeting, keptUntil } = outcome.value;
    return meeting === null
      ? done(keptUntil)
      : redirect(`/booked/${meeting}${tongueFor(request, null, []).kept}`);
  } catch (error) {
    if (error instanceof AppError) throw data(missingIn(request, "page"), { status: 404 });
    throw error;
  }
}

export default function Booking({ loaderData, actionData }: Route.ComponentProps) {
  const {
    host,
    rep,
    isTeam,
    about,
    lengths,
    length,
    daysAhead,
    where,
    place,
    times,
    visitor,
    questions,
    tongue,
  } = loaderData;
  const spoken = useTongue(tongue);
  const { t, time, when } = spoken;
  const [zone, setZone] = useState(visitor?.zone ?? rep.zone);
  const [start, setStart] = useState<number | null>(null);
  const { search } = useLocation();
  useEffect(() => setZone(Intl.DateTimeFormat().resolvedOptions().timeZone), []);
  const errors = actionData && !actionData.ok ? actionData.errors : {};
  const first = rep.name.split(" ")[0];
  const withLength = (minutes: number) => {
    const params = new URLSearchParams(search);
    params.set("length", String(minutes));
    return `?${params}`;
  };
  const field = (name: "name" | "email" | "phone", label: string, value: string, more: object = {}) => (
    <Field name={name} label={label} defaultValue={value} errors={errors} {...more} />
  );
  if (actionData?.ok && actionData.value !== null)
    return (
      <PublicPage
        host={host}
        tongue={tongue}
        heading={t("booking.oneStep")}
        text={t("booking.oneStepText", { time: time(actionData.value, zone) })}
      />
    );
  return (
    <PublicPage
      host={host}
      tongue={tongue}
      heading={
        isTeam || !host.name
          ? t("booking.heading", { name: isTeam ? host.name || rep.name : rep.name })
          : t("booking.withCompany", { name: rep.name, company: host.name })
      }
      text={`${about === "" ? "" : `${about} `}${t("booking.choose")} ${where === "phone" ? (isTeam ? t("booking.oneCalls") : t("booking.calls", { name: first ?? rep.name })) : t("booking.meetHere", { place })}`}
    >
      {lengths.length > 1 && (
        <Box sx={{ display: "flex", gap: 1, mb: 2, alignItems: "center", flexWrap: "wrap" }}>
          <Typography color="textSecondary">{t("booking.howLong")}</Typography>
          {lengths.map((minutes) => (
            <Button
              key={minutes}
              component={Link}
              to={withLength(minutes)}
              size="small"
              preventScrollReset
              variant={minutes === length ? "contained" : "outlined"}
              aria-current={minutes === length ? "true" : undefined}
            >
              {t("booking.minutes", { count: minutes })}
            </Button>
          ))}
        </Box>
      )}
      <Form method="post">
        <input type="hidden" name="length" value={length} />
        <Box
          sx={{
            display: "grid",
            gap: 2,
            gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "1.1fr 1fr" },
            alignItems: "start",
          }}
        >
          <Box sx={{ display: "grid", gap: 2 }}>
            {(errors.start ?? errors.form) && <Alert severity="error">{errors.start ?? errors.form}</Alert>}
            <ZoneField value={zone} onChange={setZone} label={t("times.zone")} />
            <TimeChoice
              spoken={spoken}
              times={times}
              zone={zone}
              daysAhead={daysAhead}
              isStranger={visitor === null}
              chosen={start}
              onChoose={setStart}
            />
          </Box>
          <Box sx={{ display: "grid", gap: 2 }}>
            {field("name", t("booking.name"), visitor?.name ?? "", { autoComplete: "name" })}
            {field("email", t("booking.email"), visitor?.email ?? "", {
              type: "email",
              autoComplete: "email",
            })}
            {where === "phone" &&
              field("phone", t("booking.phone"), "", { type: "tel", autoComplete: "tel" })}
            {questions.map(({ text, required }, index) => (
              <Field
                key={text}
                name={`question${index}`}
                label={required ? text : t("booking.optional", { question: text })}
                multiline
                errors={errors}
              />
            ))}
            <Button type="submit" variant="contained" disabled={start === null}>
              {start === null ? t("booking.chooseFirst") : t("booking.book", { when: when(start, zone) })}
            </Button>
          </Box>
        </Box>
      </Form>
    </PublicPage>
  );
}
