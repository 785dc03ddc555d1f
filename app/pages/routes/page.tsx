import { data, type ShouldRevalidateFunctionArgs } from "react-router";
import { webApp } from "../../../server/app";
import { AppError, type Outcome, refused, whenDone } from "../../../server/errors";
import { pageEditor, previewPage } from "../../../server/pages/page-editor";
import { saveTemplate } from "../../../server/pages/templates";
import { userContext } from "../../accounts/session";
import { readJson, unknownIntent } from "../../desk/read-form";
import { messageIn, tongueIn } from "../../public/tongue.server";
import { PageEditorView } from "../editor";
import type { Route } from "./+types/page";

const plainGreeting = (language: Parameters<typeof messageIn>[0]) => messageIn(language, "page", "hello");

/** The page as somebody would see it, with its words in their language. */
function preview(by: number, id: number, asked: unknown) {
  return whenDone(previewPage(webApp(), by, id, asked, plainGreeting), (seen) => ({
    ...seen,
    tongue: tongueIn(seen.page.language, ["page", "booking", "times"]),
  }));
}

export function loader({ request, params, context }: Route.LoaderArgs) {
  const by = context.get(userContext).id;
  const query = new URL(request.url).searchParams;
  try {
    const editor = pageEditor(webApp(), by, Number(params.id), Number(query.get("list")) || null);
    const asId = Number(query.get("as")) || (editor.people[0]?.id ?? null);
    const seen = asId === null ? null : preview(by, Number(params.id), { prospectId: asId });
    return { editor, asId, seen: seen?.ok ? seen.value : null };
  } catch (error) {
    if (error instanceof AppError) throw data("This page does not exist, or no longer.", { status: 404 });
    throw error;
  }
}

export async function action({ request, params, context }: Route.ActionArgs): Promise<Outcome<unknown>> {
  const by = context.get(userContext).id;
  const id = Number(params.id);
  const length = Number(request.headers.get("content-length") ?? 0);
  if (length > 1_000_000) return refused({ form: "This is more than a page may hold. Make it shorter." });
  const body = await readJson(request);
  switch (body.intent) {
    case "preview":
      return preview(by, id, body);
    case "save":
      return saveTemplate(webApp(), by, id, body);
    default:
      return unknownIntent(body.intent);
  }
}

/** A look at unsaved words changes nothing that is shown. */
export const shouldRevalidate = ({ json, defaultShouldRevalidate }: ShouldRevalidateFunctionArgs) =>
  (json as { intent?: string } | undefined)?.intent !== "preview" && defaultShouldRevalidate;

export default function PagePage({ loaderData }: Route.ComponentProps) {
  return <PageEditorView key={loaderData.editor.template.id} {...loaderData} />;
}
