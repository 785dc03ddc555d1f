import Button from "@mui/material/Button";
import { data, Form } from "react-router";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { hostOf } from "../../../server/meetings/booking-page";
import { optOut, optOutAddress } from "../../../server/prospects/block-list/opt-out";
import { PublicPage } from "../../meetings/public-page";
import type { Route } from "./+types/opt-out";

export const meta: Route.MetaFunction = () => [{ title: "No more email" }];

/** Looking changes nothing: mail scanners open every link. */
export function loader({ params }: Route.LoaderArgs) {
  try {
    return { address: optOutAddress(webApp(), params.token), host: hostOf(webApp().db) };
  } catch (error) {
    if (error instanceof AppError) throw data(error.message, { status: 404 });
    throw error;
  }
}

/** The button of the page, and the one-click POST of mail programs (RFC 8058), which nobody looks at. */
export function action({ request, params }: Route.ActionArgs) {
  // RFC 8058: what a scanner or a browser asks by another method stops nobody.
  if (request.method !== "POST") throw data("Press the button on this page.", { status: 405 });
  try {
    optOut(webApp(), params.token);
    return { done: true };
  } catch (error) {
    if (error instanceof AppError) throw data(error.message, { status: 404 });
    throw error;
  }
}

export default function OptOut({ loaderData, actionData }: Route.ComponentProps) {
  const { address, host } = loaderData;
  if (actionData?.done)
    return (
      <PublicPage
        host={host}
        heading="Done. You will get no more email from us."
        text={`Everything that was planned for ${address ?? "you"} has been stopped.`}
      />
    );
  if (address === null)
    return (
      <PublicPage
        host={host}
        heading="You will get no more email from us."
        text="What we knew about you has been erased; of your address only a one-way mark is kept, so that it never comes back."
      />
    );
  return (
    <PublicPage
      host={host}
      heading="Shall we stop writing to you?"
      text={`One press, and nothing more is sent to ${address}.`}
    >
      <Form method="post">
        <Button type="submit" variant="contained">
          Stop all email to me
        </Button>
      </Form>
    </PublicPage>
  );
}
