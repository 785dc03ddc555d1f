/** A picture that was made here, for whoever knows its name. */
import { webApp } from "../../../server/app";
import { pictureByName } from "../../../server/research/pictures";
import type { Route } from "./+types/picture";

export function loader({ params }: Route.LoaderArgs) {
  const picture = pictureByName(webApp().db, params.name);
  if (!picture) throw new Response("There is no such picture, or no longer.", { status: 404 });
  return new Response(new Uint8Array(picture.bytes), {
    headers: {
      "content-type": picture.type,
      "cache-control": "public, max-age=31536000, immutable",
      "x-content-type-options": "nosniff",
      "x-robots-tag": "noindex",
    },
  });
}
