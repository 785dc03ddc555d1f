import { data } from "react-router";
import { whatIfSchema } from "../../../core/sending/what-if";
import { webApp } from "../../../server/app";
import { forecast } from "../../../server/sending/forecast";
import { userContext } from "../../accounts/session";
import { readJson } from "../../desk/read-form";
import type { Route } from "./+types/what-if";

export async function action({ request, context }: Route.ActionArgs) {
  const read = whatIfSchema.safeParse(await readJson(request));
  if (!read.success)
    return data({ ok: false as const, words: "This cannot be planned: a number is missing or too large." });
  const { zone } = context.get(userContext);
  return { ok: true as const, change: read.data, outlook: await forecast(webApp(), zone, read.data) };
}
