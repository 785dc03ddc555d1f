/** The archive that was made last, for managers. */
import { createReadStream } from "node:fs";
import { Readable } from "node:stream";
import { data } from "react-router";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import { madeArchive } from "../../../server/archive/make-archive";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/archive";

export function loader({ context }: Route.LoaderArgs) {
  const app = webApp();
  const no = mayNot(app, context.get(userContext).id, "archive.make");
  if (no) throw data(no.errors.form, { status: 403 });
  const made = madeArchive(app);
  if (!made) throw data("No archive was made yet. Make one under Settings.", { status: 404 });
  return new Response(Readable.toWeb(createReadStream(made.path)) as ReadableStream, {
    headers: {
      "Content-Type": "application/zip",
      "Content-Length": String(made.bytes),
      "Content-Disposition": 'attachment; filename="everything.zip"',
    },
  });
}
