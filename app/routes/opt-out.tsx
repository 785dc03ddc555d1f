import Button from "@mui/material/Button";
import { data, Form } from "react-router";
import { webApp } from "../../server/app";
import { AppError } from "../../server/errors";
import { optOut, optOutAddress } from "../../server/opt-outs/opt-out";
import { Notice } from "../components/notice";
import type { Route } from "./+types/opt-out";

/** Looking changes nothing: mail scanners open every link. */
export function loader({ params }: Route.LoaderArgs) {
  try {
    return { address: optOutAddress(webApp(), params.token) };
  } catch (error) {
    if (error instanceof AppError) throw data(error.message, { status: 404 });
    throw error;
  }
}

/** The button of the page, and the one-click POST of mail programs (RFC 8058), which nobody looks at. */
export function action({ params }: Route.ActionArgs) {
  try {
    optOut(webApp(), params.token);
    return { done: true };
  } catch (error) {
    if (error instanceof AppError) throw data(error.message, { status: 404 });
    throw error;
  }
}

export default function OptOut({ loaderData, actionData }: Route.ComponentProps) {
  if (actionData?.done)
    return (
      <Notice
        heading="Done. You will get no more email from us."
        text={`Everything that was planned for ${loaderData.address ?? "you"} has been stopped.`}
      />
    );
  if (loaderData.address === null)
    return (
      <Notice
        heading="You will get no more email from us."
        text="What we knew about you has been erased; of your address only a one-way mark is kept, so that it never comes back."
      />
    );
  return (
    <Notice
      heading="Shall we stop writing to you?"
      text={`One press, and nothing more is sent to ${loaderData.address}.`}
    >
      <Form method="post">
        <Button type="submit" variant="contained">
          Stop all email to me
        </Button>
      </Form>
    </Notice>
  );
}
