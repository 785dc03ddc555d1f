import { create as contentDisposition } from "content-disposition";
import { data } from "react-router";
import { webApp } from "../../../server/app";
import { fileById } from "../../../server/mail/files";
import type { Route } from "./+types/file";

/** A kept file, for who is signed in. Never shown as a page: only pictures are shown at all. */
export function loader({ params }: Route.LoaderArgs): Response {
  const file = fileById(webApp().db, Number(params.id));
  if (!file) throw data("This file is no longer here.", { status: 404 });
  const isPicture = file.type.startsWith("image/");
  return new Response(new Uint8Array(file.bytes), {
    headers: {
      "Content-Type": file.type,
      "X-Content-Type-Options": "nosniff",
      "Content-Disposition": contentDisposition(file.name, { type: isPicture ? "inline" : "attachment" }),
    },
  });
}
