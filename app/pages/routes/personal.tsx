import Typography from "@mui/material/Typography";
import { data } from "react-router";
import { userOfSession } from "../../../server/accounts/session";
import { webApp } from "../../../server/app";
import { AppError } from "../../../server/errors";
import { openPage, personalPage } from "../../../server/pages/personal-page";
import { noteVisit } from "../../../server/pages/visits";
import { languageOf } from "../../../server/prospects/people/language";
import { callerOf, tokenOf } from "../../accounts/session";
import { PublicPage } from "../../meetings/public-page";
import { useTongue } from "../../public/tongue";
import { messageIn, missingIn, tongueFor } from "../../public/tongue.server";
import { PersonalView } from "../personal-view";
import type { Route } from "./+types/personal";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  {
    title: loaderData ? `${loaderData.tongue.messages.page?.title} · ${loaderData.page.host.name}` : "A page",
  },
  { name: "robots", content: "noindex, nofollow, noarchive" },
];

export const headers: Route.HeadersFunction = () => ({ "X-Robots-Tag": "noindex, nofollow, noarchive" });

export async function loader({ request, params }: Route.LoaderArgs) {
  const app = webApp();
  try {
    const opened = openPage(app, params.token);
    const { template, prospect, endsAt } = opened;
    const { languages } = template.definition;
    const known = languageOf(app, prospect.id)?.language ?? null;
    const tongue = tongueFor(request, known, ["page", "booking", "times"], languages);
    const page = personalPage(app, opened, {
      wanted: tongue.language,
      plainGreeting: (language) => messageIn(language, "page", "hello"),
    });
    const isOver = endsAt !== null && endsAt <= app.clock.now();
    if (!isOver) {
      const { address: ip, agent } = await callerOf(request);
      const session = await tokenOf(request);
      const isOwn = session !== null && userOfSession(app, session) !== null;
      noteVisit(app, opened, { agent, ip, isHead: request.method === "HEAD", isOwn });
    }
    // Of a page that has ended nothing is handed out.
    return {
      page: isOver ? { ...page, blocks: [], film: null, files: [], booking: null } : page,
      isOver,
      tongue,
      token: params.token,
    };
  } catch (error) {
    if (error instanceof AppError) throw data(missingIn(request, "personal"), { status: 404 });
    throw error;
  }
}

export default function Personal({ loaderData: { page, isOver, tongue, token } }: Route.ComponentProps) {
  const { t, day } = useTongue(tongue);
  if (isOver)
    return (
      <PublicPage
        host={page.host}
        tongue={tongue}
        heading={t("page.ended")}
        text={
          <Typography>
            {t("page.endedText", {
              day: day(page.endsAt, page.visitor.zone ?? page.maker.zone),
              name: page.maker.name,
            })}
          </Typography>
        }
      />
    );
  return <PersonalView page={page} tongue={tongue} base={`/for/${token}`} />;
}
