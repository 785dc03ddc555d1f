import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { data, Form, redirect } from "react-router";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { isOpenTo, isOver, openFile, unlock } from "../../../server/pages/file-looks";
import { languageOf } from "../../../server/prospects/people/language";
import { readFileKey } from "../../../server/web/session-cookie";
import { fileKeyHeader } from "../../accounts/session";
import { PublicPage } from "../../meetings/public-page";
import { useTongue } from "../../public/tongue";
import { errorsIn, missingIn, tongueFor } from "../../public/tongue.server";
import { FileViewer } from "../file-viewer";
import type { Route } from "./+types/look";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData?.file?.name ?? loaderData?.tongue.messages.file?.title ?? "A file" },
  { name: "robots", content: "noindex, nofollow, noarchive" },
];

export const headers: Route.HeadersFunction = () => ({ "X-Robots-Tag": "noindex, nofollow, noarchive" });

const tongueOf = (request: Request, prospectId: number) =>
  tongueFor(request, languageOf(webApp(), prospectId)?.language ?? null, ["file"]);

/** To ask for it notes nothing: mail scanners open every link. What is looked at is told by the viewer. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const app = webApp();
  try {
    const opened = openFile(app, params.token);
    const { prospect, maker, host, name, type, bytes, endsAt } = opened;
    const over = isOver(app, opened);
    const isOpen = !over && isOpenTo(app, opened, await readFileKey(request.headers.get("cookie")));
    return {
      host,
      maker: { name: maker.name },
      zone: prospect.timeZone ?? maker.zone,
      tongue: tongueOf(request, prospect.id),
      token: params.token,
      endsAt,
      isOver: over,
      /** Null where it is not shown: of what is locked not even the name. */
      file: isOpen ? { name, type, bytes } : null,
    };
  } catch (error) {
    if (error instanceof AppError) throw data(missingIn(request, "file"), { status: 404 });
    throw error;
  }
}

/** The password that somebody typed. */
export async function action({ request, params }: Route.ActionArgs) {
  const app = webApp();
  try {
    const opened = openFile(app, params.token);
    if (isOver(app, opened)) throw redirect(`/look/${params.token}`);
    const form = await request.formData().catch(() => new FormData());
    const typed = form.get("password");
    const key = await unlock(app, opened, typeof typed === "string" ? typed : "");
    if (!key.ok)
      return data(
        { error: errorsIn(tongueOf(request, opened.prospect.id), key.errors).password ?? "" },
        { status: 403 },
      );
    const { search } = new URL(request.url);
    const path = `/look/${params.token}`;
    throw redirect(`${path}${search}`, { headers: { "Set-Cookie": await fileKeyHeader(key.value, path) } });
  } catch (error) {
    if (error instanceof AppError) throw data(missingIn(request, "file"), { status: 404 });
    throw error;
  }
}

export default function Look({ loaderData, actionData }: Route.ComponentProps) {
  const { host, maker, zone, tongue, token, endsAt, isOver: over, file } = loaderData;
  const { t, day } = useTongue(tongue);
  if (over)
    return (
      <PublicPage
        host={host}
        tongue={tongue}
        heading={t("file.ended")}
        text={t("file.endedText", { day: day(endsAt ?? 0, zone), name: maker.name })}
      />
    );
  if (!file)
    return (
      <PublicPage
        host={host}
        tongue={tongue}
        heading={t("file.locked")}
        text={t("file.lockedText", { name: maker.name })}
      >
        <Form method="post" reloadDocument style={{ display: "flex", gap: 12, alignItems: "flex-start" }}>
          <TextField
            name="password"
            type="password"
            label={t("file.password")}
            autoComplete="off"
            required
            error={actionData !== undefined}
            helperText={actionData?.error}
            sx={{ width: 280 }}
          />
          <Button type="submit" variant="contained">
            {t("file.open")}
          </Button>
        </Form>
      </PublicPage>
    );
  return (
    <FileViewer
      file={file}
      base={`/look/${token}`}
      host={host}
      from={maker.name}
      until={endsAt === null ? null : day(endsAt, zone)}
      tongue={tongue}
    />
  );
}
