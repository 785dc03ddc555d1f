import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { data, Form, redirect } from "react-router";
import { webApp } from "../../server/app";
import { AppError } from "../../server/errors";
import { bookMeeting } from "../../server/meetings/book-meeting";
import { bookingPage } from "../../server/meetings/booking-page";
import { Entry } from "../components/entry";
import { day, time } from "../components/words";
import { ZoneField } from "../components/zone-field";
import type { Route } from "./+types/booking";

const tokenOf = (request: Request) => new URL(request.url).searchParams.get("p");

export function loader({ request, params }: Route.LoaderArgs) {
  try {
    return bookingPage(webApp(), params.slug, tokenOf(request));
  } catch (error) {
    if (error instanceof AppError) throw data("This booking page does not exist.", { status: 404 });
    throw error;
  }
}

export async function action({ request, params }: Route.ActionArgs) {
  const outcome = bookMeeting(
    webApp(),
    params.slug,
    tokenOf(request),
    Object.fromEntries(await request.formData()),
  );
  if (!outcome.ok) return data({ errors: outcome.errors }, { status: 422 });
  return redirect(`/booked/${outcome.value}`);
}

/** Times of the same day where the visitor is. */
function byDay(times: number[], zone: string): [string, number[]][] {
  const days = new Map<string, number[]>();
  for (const at of times) {
    const label = day(at, zone);
    days.set(label, [...(days.get(label) ?? []), at]);
  }
  return [...days];
}

export default function Booking({ loaderData, actionData }: Route.ComponentProps) {
  const { rep, times, visitor } = loaderData;
  const [zone, setZone] = useState(visitor?.zone ?? rep.zone);
  const [start, setStart] = useState<number | null>(null);
  useEffect(() => setZone(Intl.DateTimeFormat().resolvedOptions().timeZone), []);
  const errors: Record<string, string> = actionData?.errors ?? {};
  const first = rep.name.split(" ")[0];
  return (
    <Entry
      heading={`A half-hour with ${rep.name}`}
      text={`Choose a time; all are shown where you are. ${first} is in ${rep.zone.split("/").pop()?.replaceAll("_", " ")}.`}
    >
      <Form method="post">
        <Box sx={{ display: "grid", gap: 2 }}>
          {errors.start && <Alert severity="error">{errors.start}</Alert>}
          <ZoneField value={zone} onChange={setZone} />
          <Box
            role="radiogroup"
            aria-label="Time"
            sx={{
              maxHeight: 300,
              overflowY: "auto",
              border: "1px solid",
              borderColor: "divider",
              borderRadius: 1,
              bgcolor: "background.paper",
              p: 1.5,
            }}
          >
            {times.length === 0 && (
              <Typography>
                There is no free time in the next two weeks. Answer the email instead, please.
              </Typography>
            )}
            {byDay(times, zone).map(([label, ofDay]) => (
              <Box key={label} sx={{ mb: 1.5 }}>
                <Typography variant="label" component="h2" color="textSecondary" sx={{ mb: 0.5 }}>
                  {label}
                </Typography>
                <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
                  {ofDay.map((at) => (
                    <Box
                      component="label"
                      key={at}
                      sx={{
                        position: "relative",
                        border: "1px solid",
                        borderColor: start === at ? "tile.main" : "divider",
                        bgcolor: start === at ? "tile.main" : "background.paper",
                        color: start === at ? "background.paper" : "text.primary",
                        borderRadius: 1,
                        px: 1.2,
                        py: 0.4,
                        cursor: "pointer",
                        "&:focus-within": {
                          outline: "2px solid",
                          outlineColor: "tile.main",
                          outlineOffset: 2,
                        },
                      }}
                    >
                      <input
                        type="radio"
                        name="start"
                        value={at}
                        checked={start === at}
                        onChange={() => setStart(at)}
                        style={{ position: "absolute", opacity: 0 }}
                      />
                      {time(at, zone)}
                    </Box>
                  ))}
                </Box>
              </Box>
            ))}
          </Box>
          <TextField
            name="name"
            label="Your name"
            defaultValue={visitor?.name ?? ""}
            error={!!errors.name}
            helperText={errors.name}
          />
          <TextField
            name="email"
            label="Your email address"
            type="email"
            defaultValue={visitor?.email ?? ""}
            error={!!errors.email}
            helperText={errors.email}
          />
          <Button type="submit" variant="contained" disabled={start === null}>
            {start === null ? "Choose a time first" : `Book ${day(start, zone)}, ${time(start, zone)}`}
          </Button>
        </Box>
      </Form>
    </Entry>
  );
}
