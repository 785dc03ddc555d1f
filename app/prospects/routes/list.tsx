/** A list itself: its page is that of its people; here it is renamed or deleted. */

import { redirect } from "react-router";
import { webApp } from "../../../server/app";
import { deleteList, renameList, usesOfList } from "../../../server/prospects/lists/change-list";
import { listById } from "../../../server/prospects/lists/lists";
import { userContext } from "../../accounts/session";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/list";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const userId = context.get(userContext).id;
  // Of a list that is gone, or is somebody's own, nothing is said; a dialog that is still open asks once more.
  return listById(app, userId, Number(params.id)) ? usesOfList(app, userId, Number(params.id)) : null;
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const id = Number(params.id);
  const form = await readForm(request);
  if (form.intent !== "delete" && form.intent !== "rename") return unknownIntent(form.intent);
  const userId = context.get(userContext).id;
  const outcome = form.intent === "delete" ? deleteList(app, userId, id) : renameList(app, userId, id, form);
  if (outcome.ok && form.intent === "delete") throw redirect(`/prospects?deleted=${outcome.value}`);
  return outcome;
}
