import { webApp } from "../../../server/app";
import { runsWith } from "../../../server/rules/rules";
import { whyOf } from "../../../server/why/why";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/why";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const view = whyOf(app, context.get(userContext).id, Number(params.journeyId));
  return {
    view,
    rules: view ? runsWith(app, view.prospectId) : [],
    now: app.clock.now(),
    zone: context.get(userContext).zone,
  };
}
