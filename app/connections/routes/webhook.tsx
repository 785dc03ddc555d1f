/** One webhook: what it is told, what it said to that, and once more from any instant. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, redirect } from "react-router";
import { DAY } from "../../../core/calendar";
import { HAPPENINGS } from "../../../core/connections/happenings";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import { type Outcome, whenDone } from "../../../server/errors";
import { allFilters } from "../../../server/prospects/filters/filters";
import {
  type Delivery,
  deliveriesOf,
  pressTest,
  removeWebhook,
  replay,
  rotateSecret,
  saveWebhook,
  switchWebhook,
  webhooksSeenBy,
} from "../../../server/webhooks/webhooks";
import { userContext } from "../../accounts/session";
import { CopiedText } from "../../components/copied-text";
import { Confirm } from "../../components/dialogs";
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { PlainSelect } from "../../components/plain-select";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { useAction } from "../../components/use-action";
import { count, dayTime, when } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm, unknownIntent } from "../../desk/read-form";
import { useRefreshWhile } from "../../desk/refresh";
import { atFields, readWebhook } from "../read-webhook";
import { SecretBox } from "../secret-box";
import { WebhookForm } from "../webhook-form";
import { standingOf } from "../webhook-words";
import type { Route } from "./+types/webhook";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["events"] } satisfies PageHandle;

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const webhook = webhooksSeenBy(app, user.id).find(({ id }) => String(id) === params.id);
  if (!webhook) throw data("This webhook does not exist, or no longer.", { status: 404 });
  return {
    webhook,
    mayChange: mayNot(app, user.id, "webhook.change", webhook.id) === null,
    deliveries: deliveriesOf(app, user.id, webhook.id),
    filters: allFilters(app, user.id),
    zone: user.zone,
    now: app.clock.now(),
  };
}

interface Said {
  words?: string;
  secret?: string;
}

export async function action({ params, request, context }: Route.ActionArgs): Promise<Outcome<Said>> {
  const app = webApp();
  const by = context.get(userContext).id;
  const id = Number(params.id);
  const form = await readForm(request);
  const said = (outcome: Outcome<unknown>, words: string) => whenDone(outcome, (): Said => ({ words }));
  switch (form.intent) {
    case "save":
      return said(atFields(saveWebhook(app, by, id, readWebhook(form))), "Saved.");
    case "on":
    case "off":
      return said(
        switchWebhook(app, by, id, form.intent === "on"),
        form.intent === "on" ? "It is told again." : "It is told nothing more.",
      );
    case "test":
      return said(pressTest(app, by, id), "A test is on its way; its answer stands below in a moment.");
    case "secret":
      return whenDone(rotateSecret(app, by, id), (secret): Said => ({ secret }));
    case "replay":
      return whenDone(
        replay(
          app,
          by,
          id,
          form.delivery ? { delivery: form.delivery } : { since: app.clock.now() - Number(form.days) * DAY },
        ),
        (again): Said => ({
          words: form.delivery
            ? "It is told once more."
            : `${count(again, "is", "are")} told once more, and what was not told yet.`,
        }),
      );
    case "remove": {
      const removed = removeWebhook(app, by, id);
      if (removed.ok) throw redirect("/connections/webhooks");
      return removed;
    }
    default:
      return unknownIntent(form.intent);
  }
}

const SPANS = [
  ["1", "of the last day"],
  ["7", "of the last 7 days"],
  ["30", "of the last 30 days"],
] as const;

export default function WebhookPage({ loaderData }: Route.ComponentProps) {
  const { webhook, mayChange, deliveries, filters, zone, now } = loaderData;
  const act = useAction<Said>();
  const save = useAction<Said>();
  const [isRemoving, setRemoving] = useState(false);
  const [days, setDays] = useState("1");
  useRefreshWhile(webhook.state === "on" && webhook.due > 0, 1_000);
  const { tone, words, detail } = standingOf(webhook, now, zone);
  const press = (intent: string, more: Record<string, string> = {}) => act.press({ intent, ...more });
  return (
    <Page
      heading={
        webhook.state === "off"
          ? `“${webhook.name}” is told nothing`
          : webhook.failingSince === null
            ? `“${webhook.name}” takes what it is told`
            : `“${webhook.name}” does not take what it is told`
      }
      sub={
        <>
          <Pill tone={tone}>{words}</Pill> {detail} · {webhook.owner}
        </>
      }
      actions={
        mayChange ? (
          <>
            <Button onClick={() => press(webhook.state === "on" ? "off" : "on")} disabled={act.isBusy}>
              {webhook.state === "on" ? "Switch off" : "Switch on"}
            </Button>
            <Button
              variant="contained"
              onClick={() => press("test")}
              disabled={act.isBusy || webhook.state === "off"}
            >
              Send a test
            </Button>
          </>
        ) : undefined
      }
      margin={
        <>
          <MarginNote title="How the receiver knows it is us">
            <Typography>
              By the header <code>webhook-signature</code>: an HMAC-SHA256 of id, time and body with the
              secret. What is older than five minutes by <code>webhook-timestamp</code> it should refuse, and
              an id that it has taken before it should take as told.
            </Typography>
          </MarginNote>
          <MarginNote title="In which order">
            <Typography>
              Of one person, in the order in which it happened: what is later waits for what is earlier.
              Others do not wait.
            </Typography>
          </MarginNote>
          {mayChange && (
            <MarginNote title="The secret">
              <Typography sx={{ mb: 1 }}>
                A new one signs at once; the one before signs beside it for a day, so that you can change over
                in peace.
              </Typography>
              <Button size="small" onClick={() => press("secret")} disabled={act.isBusy}>
                Make a new secret
              </Button>
            </MarginNote>
          )}
        </>
      }
    >
      <Typography sx={{ mb: 2 }}>
        <Link to="/connections/webhooks">‹ All webhooks</Link>
      </Typography>
      <Refusal errors={act.errors} />
      {act.value?.words && (
        <Alert severity="success" sx={{ mb: 2 }}>
          {act.value.words}
        </Alert>
      )}
      {act.value?.secret !== undefined && <SecretBox secret={act.value.secret} />}
      {mayChange && (
        <>
          <WebhookForm key={`${webhook.url} ${webhook.kinds}`} of={save} known={webhook} filters={filters} />
          <Box
            sx={{
              display: "flex",
              alignItems: "center",
              gap: 1,
              mt: 4,
              mb: 1,
              flexWrap: "wrap",
              maxWidth: 760,
            }}
          >
            <Typography variant="h2" sx={{ flex: 1 }}>
              {deliveries.length === 0 ? "Nothing was told yet" : "What it was told last"}
            </Typography>
            <PlainSelect
              aria-label="Since when"
              value={days}
              options={SPANS}
              onChange={setDays}
              sx={{ width: 190 }}
            />
            <Button
              size="small"
              onClick={() => press("replay", { days })}
              disabled={act.isBusy || webhook.state === "off"}
            >
              Tell it once more
            </Button>
          </Box>
          <Box sx={{ maxWidth: 760 }}>
            {deliveries.map((delivery) => (
              <DeliveryRow
                key={delivery.id}
                delivery={delivery}
                now={now}
                zone={zone}
                onAgain={() => press("replay", { delivery: String(delivery.id) })}
                isBusy={act.isBusy || webhook.state === "off"}
              />
            ))}
          </Box>
          <Button color="error" sx={{ mt: 4 }} onClick={() => setRemoving(true)}>
            Remove this webhook
          </Button>
        </>
      )}
      {isRemoving && (
        <Confirm
          title={`Remove “${webhook.name}”?`}
          keep="Keep it"
          act="Remove it"
          isDanger
          onClose={() => setRemoving(false)}
          onAct={() => press("remove")}
        >
          <Typography>
            {webhook.due > 0
              ? `${count(webhook.due, "piece of news")} that waits for it goes with it.`
              : "Nothing waits for it."}{" "}
            Its log goes too.
          </Typography>
        </Confirm>
      )}
    </Page>
  );
}

const kindWords = (kind: string) =>
  kind === "test"
    ? "a test"
    : kind === "rule.acted"
      ? "a rule says so"
      : (HAPPENINGS[kind as keyof typeof HAPPENINGS] ?? kind);

function DeliveryRow(props: {
  delivery: Delivery;
  now: number;
  zone: string;
  onAgain: () => void;
  isBusy: boolean;
}) {
  const { delivery, now, zone, onAgain, isBusy } = props;
  const { kind, at, name, state, tries, nextAt, status, answer, body } = delivery;
  const answered = status === null ? answer : `${status}${answer ? ` ${answer}` : ""}`;
  return (
    <Row
      columns={{ xs: "1fr", sm: "120px minmax(0, 1fr) auto" }}
      sx={{ alignItems: "start", py: 1 }}
      data-row
    >
      <Typography variant="body2" color="textSecondary">
        {when(at, now, zone)}
      </Typography>
      <Box sx={{ minWidth: 0 }}>
        <Typography>
          {kindWords(kind)}
          {name && ` · ${name}`}
        </Typography>
        <Typography
          variant="body2"
          color={state === "done" ? "textSecondary" : "error"}
          sx={{ overflowWrap: "anywhere" }}
        >
          {tries === 0
            ? "on its way"
            : `${answered || "answered nothing"}${tries > 1 ? `, after ${tries} tries` : ""}${state === "due" && nextAt > now ? `, again ${when(nextAt, now, zone)}` : ""}`}
        </Typography>
        <Box
          component="details"
          sx={{ fontSize: 13, "& summary": { cursor: "pointer", color: "text.secondary" } }}
        >
          <summary>What it was told</summary>
          <CopiedText text={pretty(body)} label="The body" />
        </Box>
      </Box>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Pill tone={state === "done" ? "kelp" : state === "due" ? "ochre" : "clay"}>
          {state === "done" ? "taken" : state === "due" ? "waits" : "given up"}
        </Pill>
        <Button
          size="small"
          onClick={onAgain}
          disabled={isBusy}
          aria-label={`Tell once more: ${kindWords(kind)}, ${dayTime(at, zone)}`}
        >
          Again
        </Button>
      </Box>
    </Row>
  );
}

function pretty(body: string): string {
  try {
    return JSON.stringify(JSON.parse(body), null, 2);
  } catch {
    return body;
  }
}
