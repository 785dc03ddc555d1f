import Button from "@mui/material/Button";
import { data, Form } from "react-router";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { hostOf } from "../../../server/meetings/booking-page";
import { optOut, optOutAddress } from "../../../server/prospects/block-list/opt-out";
import { languageOf } from "../../../server/prospects/people/language";
import { PublicPage } from "../../meetings/public-page";
import { useTongue } from "../../public/tongue";
import { missingIn, tongueFor } from "../../public/tongue.server";
import type { Route } from "./+types/opt-out";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData?.tongue.messages.optOut?.title ?? "No more email" },
];

/** Looking changes nothing: mail scanners open every link. */
export function loader({ params, request }: Route.LoaderArgs) {
  const app = webApp();
  try {
    const { address, prospectId } = optOutAddress(app, params.token);
    const known = prospectId === null ? null : languageOf(app, prospectId);
    return { address, host: hostOf(app.db), tongue: tongueFor(request, known?.language ?? null, ["optOut"]) };
  } catch (error) {
    if (error instanceof AppError) throw data(missingIn(request, "link"), { status: 404 });
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
  const { address, host, tongue } = loaderData;
  const { t } = useTongue(tongue);
  if (actionData?.done)
    return (
      <PublicPage
        host={host}
        tongue={tongue}
        heading={t("optOut.done")}
        text={t("optOut.doneText", { who: address ?? t("optOut.you") })}
      />
    );
  if (address === null)
    return <PublicPage host={host} tongue={tongue} heading={t("optOut.gone")} text={t("optOut.goneText")} />;
  return (
    <PublicPage host={host} tongue={tongue} heading={t("optOut.ask")} text={t("optOut.askText", { address })}>
      <Form method="post">
        <Button type="submit" variant="contained">
          {t("optOut.press")}
        </Button>
      </Form>
    </PublicPage>
  );
}
