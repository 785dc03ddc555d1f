/** What a pause would hold up, or going on would set in motion; changes nothing. */
import { z } from "zod";
import { webApp } from "../../../server/app";
import { type PauseNumbers, pauseNumbers } from "../../../server/desk/pause-numbers";
import { type Outcome, refused } from "../../../server/errors";
import { userContext } from "../../accounts/session";
import { readJson } from "../read-form";
import type { Route } from "./+types/pausing";

const asked = z.object({
  of: z.enum(["sequence", "mailbox", "account", "journey"]),
  ids: z.array(z.number().int()).min(1).max(500),
});

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<PauseNumbers>> {
  const read = asked.safeParse(await readJson(request));
  if (!read.success) return refused({ form: "This could not be read. Reload the page and try again." });
  return pauseNumbers(webApp(), context.get(userContext), read.data.of, read.data.ids);
}
