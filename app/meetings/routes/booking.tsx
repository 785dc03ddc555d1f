import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { data, Form, Link, redirect, useLocation } from "react-router";
import { webApp } from "../../../server/app";
import { AppError, done } from "../../../server/errors";
import { bookMeeting } from "../../../server/meetings/book-meeting";
import { bookingPage } from "../../../server/meetings/booking-page";
import { callerOf } from "../../accounts/session";
import { Field } from "../../components/field";
import { day, time } from "../../components/words";
import { ZoneField } from "../../components/zone-field";
import { readForm } from "../../desk/read-form";
import { PublicPage } from "../public-page";
import { TimeChoice } from "../time-choice";
import type { Route } from "./+types/booking";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData ? `A call with ${loaderData.rep.name}` : "A call" },
];

const parametersOf = (request: Request) => {
  const { searchParams } = new URL(request.url);
  return { token: searchParams.get("p"), length: Number(searchParams.get("length")) || null };
};

export function loader({ request, params }: Route.LoaderArgs) {
  const { token, length } = parametersOf(request);
  try {
    return bookingPage(webApp(), params.slug, token, { length });
  } catch (error) {
    if (error instanceof AppError) throw data("This booking page does not exist.", { status: 404 });
    throw error;
  }
}

/** Also after a refusal: a time that somebody else took is no longer offered. */
export const shouldRevalidate = () => true;

export async function action({ request, params }: Route.ActionArgs) {
  try {
    const { token } = parametersOf(request);
    const { address } = await callerOf(request);
    const outcome = bookMeeting(webApp(), params.slug, token, await readForm(request), address);
    if (!outcome.ok) return data(outcome, { status: 422 });
    const { meeting, keptUntil } = outcome.value;
    return meeting === null ? done(keptUntil) : redirect(`/booked/${meeting}`);
  } catch (error) {
    if (error instanceof AppError) throw data("This booking page does not exist.", { status: 404 });
    throw error;
  }
}

export default function Booking({ loaderData, actionData }: Route.ComponentProps) {
  const { host, rep, isTeam, about, lengths, length, daysAhead, where, place, times, visitor, questions } =
    loaderData;
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
        heading="One step more: open the link in your mail"
        text={`We have sent it to the address that you typed. The time is kept for you until ${time(actionData.value, zone)}; the call is booked once you confirm it.`}
      />
    );
  return (
    <PublicPage
      host={host}
      heading={
        isTeam
          ? `A call with ${host.name || rep.name}`
          : `A call with ${rep.name}${host.name ? `, ${host.name}` : ""}`
      }
      text={`${about === "" ? "" : `${about} `}Choose a time; all are shown where you are. ${where === "phone" ? `${isTeam ? "One of us" : first} will call you.` : `You meet here: ${place}`}`}
    >
      {lengths.length > 1 && (
        <Box sx={{ display: "flex", gap: 1, mb: 2, alignItems: "center", flexWrap: "wrap" }}>
          <Typography color="textSecondary">How long?</Typography>
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
              {minutes} minutes
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
            <ZoneField value={zone} onChange={setZone} />
            <TimeChoice
              times={times}
              zone={zone}
              daysAhead={daysAhead}
              isStranger={visitor === null}
              chosen={start}
              onChoose={setStart}
            />
          </Box>
          <Box sx={{ display: "grid", gap: 2 }}>
            {field("name", "Your name", visitor?.name ?? "", { autoComplete: "name" })}
            {field("email", "Your email address", visitor?.email ?? "", {
              type: "email",
              autoComplete: "email",
            })}
            {where === "phone" &&
              field("phone", "Your phone number", "", { type: "tel", autoComplete: "tel" })}
            {questions.map(({ text, required }, index) => (
              <Field
                key={text}
                name={`question${index}`}
                label={required ? text : `${text} (if you like)`}
                multiline
                errors={errors}
              />
            ))}
            <Button type="submit" variant="contained" disabled={start === null}>
              {start === null ? "Choose a time first" : `Book ${day(start, zone)}, ${time(start, zone)}`}
            </Button>
          </Box>
        </Box>
      </Form>
    </PublicPage>
  );
}
