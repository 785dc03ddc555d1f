import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { webApp } from "../../server/app";
import { AppError } from "../../server/errors";
import { stopByRep } from "../../server/journeys/stop-by-rep";
import { type ProspectStory, prospectStory, type StoryJourney } from "../../server/prospects/prospect-story";
import { saveProspect } from "../../server/prospects/save-prospect";
import { Conversation } from "../components/conversation";
import { MarginNote, Page } from "../components/page";
import { Pill } from "../components/pill";
import { drawStory } from "../components/timeline/story";
import { Timeline } from "../components/timeline/timeline";
import { count, dayTime, EVENT_WORDS, STAGE_NAMES, STOP_WORDS, waitSentence } from "../components/words";
import { userContext } from "../session";
import type { Route } from "./+types/prospect";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  try {
    return {
      story: prospectStory(app, Number(params.id)),
      zone: context.get(userContext).zone,
      now: app.clock.now(),
    };
  } catch (error) {
    if (error instanceof AppError) throw data(error.message, { status: 404 });
    throw error;
  }
}

export async function action({
  request,
  params,
}: Route.ActionArgs): Promise<{ saved: boolean; errors?: Record<string, string> }> {
  const form = Object.fromEntries(await request.formData());
  if (form.intent === "stop") {
    stopByRep(webApp(), Number(params.id));
    return { saved: true };
  }
  const outcome = saveProspect(webApp(), { ...form, id: params.id });
  return outcome.ok ? { saved: true } : { saved: false, errors: outcome.errors };
}

function standing(journey: StoryJourney | undefined, hasReplied: boolean): string {
  if (!journey) return "has not been written to yet";
  if (journey.state === "active") return `is on ${journey.sequenceName}`;
  if (journey.state === "finished")
    return hasReplied ? "wrote back" : `got all of ${journey.sequenceName} and did not answer`;
  if (journey.stopReason === "replied") return "wrote back";
  if (journey.stopReason === "booked") return "booked a call";
  return `left ${journey.sequenceName}: ${STOP_WORDS[journey.stopReason ?? ""] ?? "stopped"}`;
}

export default function ProspectPage({ loaderData }: Route.ComponentProps) {
  const { story, zone, now } = loaderData;
  const { prospect, journeys, events } = story;
  const [editing, setEditing] = useState(false);
  const name = `${prospect.firstName} ${prospect.lastName}`.trim() || prospect.email;
  const journey = journeys[0];
  const planned = journey?.touches.filter(({ state }) => state === "planned").length ?? 0;
  const stop = useFetcher();
  return (
    <Page
      heading={`${name} ${standing(
        journey,
        events.some(({ kind }) => kind === "replied"),
      )}`}
      sub={
        <>
          {[prospect.title, prospect.company, prospect.city].filter(Boolean).join(", ")} · {prospect.email}{" "}
          <Pill tone={prospect.stage === "new" ? "quiet" : prospect.stage === "contacted" ? "tile" : "kelp"}>
            {STAGE_NAMES[prospect.stage]}
          </Pill>{" "}
          {story.blocked && <Pill tone="clay">Block list: never written to</Pill>}
        </>
      }
      actions={
        <>
          {journey?.state === "active" && (
            <stop.Form method="post">
              <Button type="submit" name="intent" value="stop" disabled={stop.state !== "idle"}>
                Stop for them: {count(planned, "email")} will not go
              </Button>
            </stop.Form>
          )}
          <Button onClick={() => setEditing(true)}>Edit</Button>
        </>
      }
      margin={<StoryMargin story={story} now={now} zone={zone} />}
    >
      {journeys.map((each) => (
        <Box key={each.id} component="section" sx={{ mb: 3 }}>
          <Typography variant="h2" sx={{ mb: 0.5 }}>
            <Box
              component={Link}
              to={`/sequences/${each.sequenceId}`}
              sx={{
                color: "inherit",
                textDecorationColor: "transparent",
                "&:hover": { textDecorationColor: "inherit" },
              }}
            >
              {each.sequenceName}
            </Box>
          </Typography>
          <Timeline {...drawStory(each, events, now, zone)} />
        </Box>
      ))}
      {story.conversation.length > 0 ? (
        <Box component="section">
          <Typography variant="h2" sx={{ mb: 1.25 }}>
            Conversation
          </Typography>
          <Conversation items={story.conversation} zone={zone} />
        </Box>
      ) : (
        <Typography color="textSecondary">No email has gone to or fro yet.</Typography>
      )}
      <EditDialog story={story} open={editing} onClose={() => setEditing(false)} />
    </Page>
  );
}

function StoryMargin({ story, now, zone }: { story: ProspectStory; now: number; zone: string }) {
  const journey = story.journeys[0];
  const cancelled = journey?.touches.filter(({ state }) => state === "cancelled").length ?? 0;
  return (
    <>
      <MarginNote title={journey?.state === "active" ? "Next touch, and why" : "Why nothing is planned"}>
        {!journey && <Typography>No sequence has been started for them.</Typography>}
        {journey?.state === "active" && (
          <>
            <Typography>
              {waitSentence(journey.waitReason ?? "in_line", journey.waitDetail, journey.nextAt, now, zone)}.
            </Typography>
            {journey.mailbox && (
              <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75 }}>
                From {journey.mailbox}
                {journey.touches.some(({ state }) => state === "done") ? ", where their thread is" : ""}.
              </Typography>
            )}
          </>
        )}
        {journey?.state === "stopped" && (
          <Typography>
            Everything stopped on {dayTime(journey.endedAt ?? now, zone)}, because{" "}
            {STOP_WORDS[journey.stopReason ?? ""]}
            {journey.stopDetail ? `: ${journey.stopDetail}` : ""}. {count(cancelled, "planned email")}{" "}
            {cancelled === 1 ? "was" : "were"} cancelled.
          </Typography>
        )}
        {journey?.state === "finished" && (
          <Typography>They got every step of {journey.sequenceName}.</Typography>
        )}
      </MarginNote>
      <MarginNote title="What happened">
        <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0, display: "grid", gap: 0.75 }}>
          {story.events
            .toReversed()
            .slice(0, 14)
            .map((event) => (
              <Typography component="li" variant="body2" key={event.id}>
                <Box component="span" sx={{ color: "text.secondary" }}>
                  {dayTime(event.at, zone)}
                </Box>{" "}
                {EVENT_WORDS[event.kind]}
              </Typography>
            ))}
          {story.events.length === 0 && <Typography variant="body2">Nothing yet.</Typography>}
        </Box>
        <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 1 }}>
          Opens are unreliable: some mail programs load every picture, others none.
        </Typography>
      </MarginNote>
      <MarginNote title="About them">
        <Typography variant="body2">
          {[
            ["Time zone", story.prospect.timeZone ?? "unknown; the sequence's is used"],
            ["Country", story.prospect.country || "–"],
            ...Object.entries(story.prospect.custom),
            ["Lists", story.lists.map(({ name }) => name).join(", ")],
          ].map(([label, value]) => (
            <Box component="span" key={label} sx={{ display: "block" }}>
              <Box component="span" sx={{ color: "text.secondary" }}>
                {label}:
              </Box>{" "}
              {value}
            </Box>
          ))}
        </Typography>
      </MarginNote>
      {story.colleagues.length > 0 && (
        <MarginNote title={`Colleagues at ${story.prospect.company}`}>
          {story.colleagues.map(({ id, name, title, stage }) => (
            <Typography variant="body2" key={id}>
              {name}, {title || "no title"} · {STAGE_NAMES[stage]}
            </Typography>
          ))}
        </MarginNote>
      )}
    </>
  );
}

const EDITABLE = [
  ["firstName", "First name"],
  ["lastName", "Last name"],
  ["title", "Job title"],
  ["city", "City"],
  ["country", "Country"],
  ["timeZone", "Time zone, such as Europe/Lisbon"],
] as const;

function EditDialog({ story, open, onClose }: { story: ProspectStory; open: boolean; onClose: () => void }) {
  const save = useFetcher<typeof action>();
  const [closedFor, setClosedFor] = useState<unknown>(null);
  if (open && save.state === "idle" && save.data?.saved && closedFor !== save.data) {
    setClosedFor(save.data);
    onClose();
  }
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs">
      <save.Form method="post">
        <DialogTitle>Edit {story.prospect.email}</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
          {save.data?.errors?.form && <Alert severity="error">{save.data.errors.form}</Alert>}
          {EDITABLE.map(([name, label]) => (
            <TextField
              key={name}
              name={name}
              label={label}
              defaultValue={story.prospect[name] ?? ""}
              error={!!save.data?.errors?.[name]}
              helperText={save.data?.errors?.[name]}
            />
          ))}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" name="intent" value="save">
            Save
          </Button>
        </DialogActions>
      </save.Form>
    </Dialog>
  );
}
