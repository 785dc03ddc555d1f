/** Which other programs are told of what happens here. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { webApp } from "../../../server/app";
import type { Outcome } from "../../../server/errors";
import { allFilters } from "../../../server/prospects/filters/filters";
import { makeWebhook, webhooksSeenBy } from "../../../server/webhooks/webhooks";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Row } from "../../components/row";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm } from "../../desk/read-form";
import { ConnectionPlaces } from "../places";
import { atFields, readWebhook } from "../read-webhook";
import { SecretBox } from "../secret-box";
import { WebhookForm } from "../webhook-form";
import { standingOf } from "../webhook-words";
import type { Route } from "./+types/webhooks";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  return {
    webhooks: webhooksSeenBy(app, user.id),
    filters: allFilters(app, user.id),
    zone: user.zone,
    now: app.clock.now(),
  };
}

interface Made {
  id: number;
  /** Shown once. */
  secret: string;
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<Made>> {
  const form = await readForm(request);
  return atFields(makeWebhook(webApp(), context.get(userContext).id, readWebhook(form)));
}

export default function Webhooks({ loaderData }: Route.ComponentProps) {
  const { webhooks, filters, zone, now } = loaderData;
  const make = useAction<Made>();
  const failing = webhooks.filter(
    ({ state, failingSince }) => state === "on" && failingSince !== null,
  ).length;
  const off = webhooks.filter(({ offBecause }) => offBecause !== null).length;
  return (
    <Page
      heading={
        webhooks.length === 0
          ? "Nobody is told of what happens here yet"
          : failing + off > 0
            ? `${count(failing + off, "receiver")} of ${webhooks.length} ${failing + off === 1 ? "does" : "do"} not take what is told`
            : `${count(webhooks.length, "program is", "programs are")} told, and took everything`
      }
      sub="A webhook tells another program within a second or two, and again until it has heard."
      margin={
        <>
          <MarginNote title="What is told">
            <Typography>
              The person, the email, the reply or the call, as the API answers them. Each is signed as
              Standard Webhooks ask, so that the receiver can tell it from a forgery.
            </Typography>
          </MarginNote>
          <MarginNote title="When nobody listens">
            <Typography>
              It is tried again, less and less often, for three days; then it is switched off and you are
              told. Nothing else waits for it.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <ConnectionPlaces at="/connections/webhooks" />
      {make.value && (
        <SecretBox secret={make.value.secret}>
          Then <Link to={`/connections/webhooks/${make.value.id}`}>send it a test</Link>.
        </SecretBox>
      )}
      <Box sx={{ mb: 4, maxWidth: 760 }}>
        {webhooks.map((webhook) => {
          const { tone, words, detail } = standingOf(webhook, now, zone);
          return (
            <Row key={webhook.id} sx={{ alignItems: "center", gap: 2, py: 1 }} data-row>
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Typography sx={{ fontWeight: 600 }}>
                  <Link to={`/connections/webhooks/${webhook.id}`}>{webhook.name}</Link>
                </Typography>
                <Typography variant="body2" color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
                  {new URL(webhook.url).host} · {count(webhook.kinds.length, "kind of news", "kinds of news")}{" "}
                  · {webhook.owner}
                  {detail && ` · ${detail}`}
                </Typography>
              </Box>
              <Pill tone={tone}>{words}</Pill>
            </Row>
          );
        })}
      </Box>
      <Typography variant="h2" sx={{ mb: 1.75 }}>
        A new webhook
      </Typography>
      <WebhookForm key={webhooks.length} of={make} known={null} filters={filters} />
    </Page>
  );
}
