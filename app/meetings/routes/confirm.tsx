import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { data, Form, redirect } from "react-router";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { confirmBooking, toConfirm } from "../../../server/meetings/ask-booking";
import { day, time } from "../../components/words";
import { PublicPage } from "../public-page";
import type { Route } from "./+types/confirm";

export const meta: Route.MetaFunction = () => [{ title: "Confirm your call" }];

const invalid = (error: unknown): never => {
  if (error instanceof AppError) throw data(error.message, { status: 404 });
  throw error;
};

export function loader({ params }: Route.LoaderArgs) {
  try {
    const asked = toConfirm(webApp(), params.token);
    if (asked.booked) throw redirect(`/booked/${asked.booked}`);
    return asked;
  } catch (error) {
    return invalid(error);
  }
}

export function action({ params }: Route.ActionArgs) {
  try {
    const booked = confirmBooking(webApp(), params.token);
    if (!booked.ok) return data({ errors: booked.errors }, { status: 422 });
    return redirect(`/booked/${booked.value}`);
  } catch (error) {
    return invalid(error);
  }
}

export default function Confirm({ loaderData, actionData }: Route.ComponentProps) {
  const { host, startsAt, zone } = loaderData;
  return (
    <PublicPage
      host={host}
      heading={`A call on ${day(startsAt, zone)}, ${time(startsAt, zone)}`}
      text={`The time is in ${zone.replaceAll("_", " ")}. Was it you who chose it? Then book it now; if not, close this page.`}
    >
      {actionData?.errors.start && (
        <Alert severity="error" sx={{ mb: 2 }}>
          {actionData.errors.start}
        </Alert>
      )}
      <Form method="post">
        <Button type="submit" variant="contained">
          Yes, book it
        </Button>
      </Form>
    </PublicPage>
  );
}
