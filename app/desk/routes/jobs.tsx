import { webApp } from "../../../server/app";
import { stopJob } from "../../../server/jobs/job-state";
import { readForm } from "../read-form";
import type { Route } from "./+types/jobs";

export async function action({ request }: Route.ActionArgs) {
  const { id } = await readForm(request);
  stopJob(webApp(), Number(id));
  return { ended: true };
}
