import { whatIfSchema } from "../../../core/sending/what-if";
import { webApp } from "../../../server/app";
import { done, refused } from "../../../server/errors";
import { forecast } from "../../../server/sending/forecast";
import { userContext } from "../../accounts/session";
import { readJson } from "../../desk/read-form";
import type { Route } from "./+types/what-if";

export async function action({ request, context }: Route.ActionArgs) {
  const read = whatIfSchema.safeParse(await readJson(request));
  if (!read.success) return refused({ form: "This cannot be planned: a number is missing or too large." });
  const { zone } = context.get(userContext);
  return done({ change: read.data, outlook: await forecast(webApp(), zone, read.data) });
}
