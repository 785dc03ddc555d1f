/** Where it is noted that a user has seen their notices; no page of its own. */

import { webApp } from "../../../server/app";
import { done } from "../../../server/errors";
import { noteSeen } from "../../../server/notices/own-notices";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/notices";

export function action({ context }: Route.ActionArgs) {
  noteSeen(webApp(), context.get(userContext).id);
  return done(null);
}
