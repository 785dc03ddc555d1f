import { webApp } from "../../../server/app";
import { refused } from "../../../server/errors";
import { keepFile } from "../../../server/mail/files";
import { userContext } from "../../accounts/session";
import type { Route } from "./+types/files";

/** Keeps a picture or an attachment. */
export async function action({ request, context }: Route.ActionArgs): Promise<Response> {
  const form = await request.formData().catch(() => null);
  const file = form?.get("file");
  if (!(file instanceof File))
    return Response.json(refused({ file: "The file did not arrive whole. Choose it again." }));
  const kept = await keepFile(webApp(), context.get(userContext).id, {
    name: file.name,
    bytes: Buffer.from(await file.arrayBuffer()),
    as: form?.get("as") === "attachment" ? "attachment" : "picture",
  });
  return Response.json(kept);
}
