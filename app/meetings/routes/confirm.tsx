import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { data, Form, redirect } from "react-router";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { confirmBooking, toConfirm } from "../../../server/meetings/ask-booking";
import { useTongue } from "../../public/tongue";
import { errorsIn, tongueFor } from "../../public/tongue.server";
import { PublicPage } from "../public-page";
import type { Route } from "./+types/confirm";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData?.tongue.messages.confirm?.title ?? "Confirm your call" },
];

const invalid = (error: unknown): never => {
  if (error instanceof AppError) throw data(error.message, { status: 404 });
  throw error;
};

export function loader({ params, request }: Route.LoaderArgs) {
  try {
    const asked = toConfirm(webApp(), params.token);
    if (asked.booked) throw redirect(`/booked/${asked.booked}`);
    return { ...asked, tongue: tongueFor(request, null, ["confirm"]) };
  } catch (error) {
    return invalid(error);
  }
}

export function action({ params, request }: Route.ActionArgs) {
  try {
    const booked = confirmBooking(webApp(), params.token);
    if (!booked.ok)
      return data({ errors: errorsIn(tongueFor(request, null, []), booked.errors) }, { status: 422 });
    return redirect(`/booked/${booked.value}${tongueFor(request, null, []).kept}`);
  } catch (error) {
    return invalid(error);
  }
}

export default function Confirm({ loaderData, actionData }: Route.ComponentProps) {
  const { host, startsAt, zone, tongue } = loaderData;
  const { t, when } = useTongue(tongue);
  return (
    <PublicPage
      host={host}
      tongue={tongue}
      heading={t("confirm.heading", { when: when(startsAt, zone) })}
      text={t("confirm.text", { zone: zone.replaceAll("_", " ") })}
    >
      {actionData?.errors.start && (
        <Alert severity="error" sx={{ mb: 2 }}>
          {actionData.errors.start}
        </Alert>
      )}
      <Form method="post">
        <Button type="submit" variant="contained">
          {t("confirm.press")}
        </Button>
      </Form>
    </PublicPage>
  );
}
