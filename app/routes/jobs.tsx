import { webApp } from "../../server/app";
import { stopJob } from "../../server/jobs/job-state";
import type { Route } from "./+types/jobs";

export async function action({ request }: Route.ActionArgs) {
  const form = await request.formData();
  stopJob(webApp(), Number(form.get("id")));
  return { ended: true };
}
