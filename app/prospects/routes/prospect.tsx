import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, redirect } from "react-router";
import { countryName } from "../../../core/countries";
import type { EventKind } from "../../../core/events";
import { PERSON_FIELDS } from "../../../core/prospects/fields";
import { STAGE_NAMES } from "../../../core/prospects/stages";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import { standingThere } from "../../../server/crm/decide";
import { AppError } from "../../../server/errors";
import { filesOfPerson } from "../../../server/pages/files-of-person";
import { pagesOfPerson } from "../../../server/pages/pages-of-person";
import { addNote } from "../../../server/prospects/people/add-prospect";
import {
  type ProspectStory,
  prospectStory,
  type StoryEvent,
  type StoryJourney,
} from "../../../server/prospects/people/prospect-story";
import { saveProspect } from "../../../server/prospects/people/save-prospect";
import { eraseProspect } from "../../../server/prospects/privacy/erase-prospect";
import { researchOfPerson } from "../../../server/research/research-of-list";
import { detachFollowUps } from "../../../server/sequences/one-email";
import { stopByRep } from "../../../server/sequences/stop-by-rep";
import { markAccepted } from "../../../server/today/mark-accepted";
import { userContext } from "../../accounts/session";
import { FormDialog } from "../../components/dialogs";
import { Field } from "../../components/field";
import { Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { stopWords } from "../../components/words";
import { readForm, unknownIntent } from "../../desk/read-form";
import { Conversation } from "../../replies/conversation";
import { drawStory } from "../../timeline/story";
import { Timeline } from "../../timeline/timeline";
import { UndoLine } from "../../undo/undo-line";
import { AboutThem, capitalised, EraseDialog, Notes, Story } from "../about";
import { AddressPill } from "../address-pill";
import { StoryMargin, touchWords } from "../story-margin";
import { fieldName } from "../words";
import type { Route } from "./+types/prospect";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const by = context.get(userContext).id;
  try {
    const story = prospectStory(app, by, Number(params.id));
    return {
      story,
      notYours: mayNot(app, by, "prospect.change", story.prospect.id)?.errors.form ?? null,
      mayStop: mayNot(app, by, "journey.stop", story.prospect.id) === null,
      there: standingThere(app, story.prospect.id),
      found: researchOfPerson(app, story.prospect.id),
      pages: pagesOfPerson(app, by, story.prospect.id),
      files: filesOfPerson(app, story.prospect.id),
      zone: context.get(userContext).zone,
      now: app.clock.now(),
    };
  } catch (error) {
    if (error instanceof AppError) throw data(error.message, { status: 404 });
    throw error;
  }
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const userId = user.id;
  const form = await readForm(request);
  switch (form.intent) {
    case "stop":
      return stopByRep(app, Number(params.id), userId);
    case "accepted":
      return markAccepted(app, user, Number(params.id));
    case "detach":
      return detachFollowUps(app, userId, Number(form.sequenceId));
    case "note":
      return addNote(app, userId, { ...form, id: params.id });
    case "erase": {
      const erased = eraseProspect(app, userId, { ...form, id: params.id });
      if (erased.ok) throw redirect("/prospects");
      return erased;
    }
    case "save":
      return saveProspect(app, userId, { ...form, id: params.id });
    default:
      return unknownIntent(form.intent);
  }
}

/** What their story comes to, from all that happened and not from one journey alone. */
function standing(journey: StoryJourney | undefined, { events, prospect }: ProspectStory): string {
  const happened = (kind: EventKind) => events.some((event) => event.kind === kind);
  if (prospect.stage === "won" || prospect.stage === "lost") return `is ${prospect.stage}`;
  const lastCall = events
    .filter(({ kind }) => kind === "booked" || kind === "booking_cancelled")
    .reduce<StoryEvent | null>((last, event) => (last && last.at > event.at ? last : event), null);
  if (lastCall?.kind === "booking_cancelled") return "cancelled the call";
  if (prospect.stage === "meeting_booked" || lastCall) return "booked a call";
  if (happened("replied")) return "wrote back";
  if (!journey) return "has not been written to yet";
  if (journey.state === "active") return `is on ${journey.sequenceName}`;
  if (journey.state === "finished") return `got all of ${journey.sequenceName} and did not answer`;
  return `left ${journey.sequenceName}: ${stopWords(journey.stopReason)}`;
}

export default function ProspectPage({ loaderData }: Route.ComponentProps) {
  const { story, there, found, pages, files, notYours, mayStop, zone, now } = loaderData;
  const { prospect, journeys, events } = story;
  const [editing, setEditing] = useState(false);
  const name = `${prospect.firstName} ${prospect.lastName}`.trim() || prospect.email;
  const journey = journeys[0];
  const planned = touchWords(journey, "planned", "person");
  const stop = useAction<number>();
  const detach = useAction();
  const [erasing, setErasing] = useState(false);
  return (
    <Page
      heading={`${name} ${standing(journey, story)}`}
      sub={
        <>
          {[prospect.title, prospect.company, prospect.city].filter(Boolean).join(", ")}
          <br />
          {prospect.email || "no address"} <AddressPill of={prospect} />{" "}
          <Pill tone={prospect.stage === "new" ? "quiet" : prospect.stage === "contacted" ? "tile" : "kelp"}>
            {STAGE_NAMES[prospect.stage]}
          </Pill>{" "}
          {story.blocked && <Pill tone="clay">Block list: never written to</Pill>}
        </>
      }
      actions={
        <>
          {journey?.state === "active" && (
            <Button disabled={stop.isBusy || !mayStop} onClick={() => stop.press({ intent: "stop" })}>
              Stop for them: {planned === "" ? "nothing more goes" : `${planned} will not go`}
            </Button>
          )}
          {!story.blocked && prospect.email !== "" && prospect.verdict !== "bad" && notYours === null && (
            <Button
              variant={journey?.state === "active" ? "outlined" : "contained"}
              component={Link}
              to={`/emails/new?to=${prospect.id}`}
            >
              Write to them
            </Button>
          )}
          <Button onClick={() => setEditing(true)} disabled={notYours !== null}>
            Edit
          </Button>
          <Button onClick={() => setErasing(true)}>Their data</Button>
        </>
      }
      margin={
        <StoryMargin
          story={story}
          there={there}
          found={found}
          pages={pages}
          files={files}
          now={now}
          zone={zone}
        />
      }
    >
      {notYours && (
        <Alert severity="info" sx={{ mb: 2 }}>
          {notYours} You can read everything, and write notes.
        </Alert>
      )}
      <Refusal errors={stop.errors} />
      <Refusal errors={detach.errors} />
      {journeys.map((each) => (
        <Box key={each.id} component="section" sx={{ mb: 3 }}>
          <Typography variant="h2" sx={{ mb: 0.5 }}>
            <Box
              component={Link}
              to={
                each.sequenceKind === "single"
                  ? `/emails/${each.sequenceId}`
                  : `/sequences/${each.sequenceId}`
              }
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
          {each.sequenceKind === "single" && each.state === "active" && (
            <Box sx={{ display: "flex", gap: 1, mt: 0.5 }}>
              <Button size="small" component={Link} to={`/emails/${each.sequenceId}`}>
                Change it
              </Button>
              {each.touches.filter(({ state }) => state === "planned").length > 1 && (
                <Button
                  size="small"
                  disabled={detach.isBusy}
                  onClick={() => detach.press({ intent: "detach", sequenceId: String(each.sequenceId) })}
                >
                  Take the follow-up off
                </Button>
              )}
            </Box>
          )}
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
      <Box
        sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0,1fr)", sm: "1fr 1fr" }, gap: 3, mt: 3 }}
      >
        <AboutThem story={story} zone={zone} />
        <Notes story={story} zone={zone} />
      </Box>
      <Story story={story} zone={zone} />
      <EraseDialog story={story} open={erasing} onClose={() => setErasing(false)} />
      <EditDialog story={story} open={editing} onClose={() => setEditing(false)} />
      <UndoLine
        words={stop.value === null ? null : "Stopped: nothing that was planned for them goes."}
        ids={stop.value === null ? [] : [stop.value]}
      />
    </Page>
  );
}

function EditDialog({ story, open, onClose }: { story: ProspectStory; open: boolean; onClose: () => void }) {
  return (
    <FormDialog
      open={open}
      title="Edit what is known of them"
      intent="save"
      act="Save"
      width="sm"
      onClose={onClose}
    >
      {(errors) => (
        <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2 }}>
          {PERSON_FIELDS.map((name) => (
            <Field
              key={name}
              name={name}
              label={name === "timeZone" ? "Time zone, such as Europe/Lisbon" : fieldName(name)}
              defaultValue={
                name === "country" ? countryName(story.prospect.country) : (story.prospect[name] ?? "")
              }
              errors={errors}
            />
          ))}
          {[...new Set([...Object.keys(story.prospect.custom), ...story.ownFields])].map((name) => (
            <Field
              key={name}
              name={`custom:${name}`}
              label={capitalised(name.replaceAll("_", " "))}
              defaultValue={story.prospect.custom[name] ?? ""}
              errors={errors}
            />
          ))}
        </Box>
      )}
    </FormDialog>
  );
}
