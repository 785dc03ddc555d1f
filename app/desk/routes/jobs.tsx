import { webApp } from "../../../server/app";
import { stopJob } from "../../../server/jobs/job-state";
import { userContext } from "../../accounts/session";
import { readForm } from "../read-form";
import type { Route } from "./+types/jobs";

export async function action({ request, context }: Route.ActionArgs) {
  const { id } = await readForm(request);
  return stopJob(webApp(), context.get(userContext).id, Number(id));
}
