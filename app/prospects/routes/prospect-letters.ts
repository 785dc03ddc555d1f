/** Every letter with somebody as a message of its own (EML), in a ZIP. */
import { zipSync } from "fflate";
import { data } from "react-router";
import { webApp } from "../../../server/app";
import { messagesWith } from "../../../server/archive/letters";
import { remainingId } from "../../../server/prospects/people/prospect-story";
import type { Route } from "./+types/prospect-letters";

export async function loader({ params }: Route.LoaderArgs) {
  const app = webApp();
  const id = remainingId(app, Number(params.id));
  if (id === null) throw data("This person is no longer here.", { status: 404 });
  const letters = await messagesWith(app, id);
  const files = Object.fromEntries(letters.map(({ name, message }) => [name, new Uint8Array(message)]));
  return new Response(new Uint8Array(zipSync(files)), {
    headers: {
      "Content-Type": "application/zip",
      "Content-Disposition": `attachment; filename="letters-${id}.zip"`,
    },
  });
}
