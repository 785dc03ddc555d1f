import { webApp } from "../../../server/app";
import { refused } from "../../../server/errors";
import { beginFilm, changeFilm, finishFilm, removeFilm } from "../../../server/pages/films";
import { userContext } from "../../accounts/session";
import { unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/films";

/** A film's beginning, its end and what is changed of it; its parts go another way (server/web/film-door.ts). */
export async function action({ request, context }: Route.ActionArgs): Promise<Response> {
  const app = webApp();
  const by = context.get(userContext).id;
  const form = await request.formData().catch(() => null);
  if (!form) return Response.json(refused({ form: "This did not arrive whole. Try again." }));
  const fields = Object.fromEntries([...form].filter(([, value]) => typeof value === "string"));
  const picture = async (name: string) => {
    const value = form.get(name);
    return value instanceof File ? Buffer.from(await value.arrayBuffer()) : null;
  };
  const id = Number(fields.id);
  switch (fields.intent) {
    case "begin":
      return Response.json(beginFilm(app, by, fields));
    case "finish":
      return Response.json(
        await finishFilm(app, by, id, fields, {
          poster: await picture("poster"),
          frames: await picture("frames"),
        }),
      );
    case "change":
      return Response.json(
        await changeFilm(app, by, id, fields, {
          poster: await picture("poster"),
          frames: await picture("frames"),
        }),
      );
    case "remove":
      return Response.json(removeFilm(app, by, id));
    default:
      return unknownIntent(fields.intent);
  }
}
