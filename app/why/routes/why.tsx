import { webApp } from "../../../server/app";
import { whyOf } from "../../../server/why/why";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/why";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  return {
    view: whyOf(app, context.get(userContext).id, Number(params.journeyId)),
    now: app.clock.now(),
    zone: context.get(userContext).zone,
  };
}
