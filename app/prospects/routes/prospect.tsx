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
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count, dayTime, EVENT_WORDS, stopWords } from "../../components/words";
import { readForm, unknownIntent } from "../../desk/read-form";
import { Conversation } from "../../replies/conversation";
import type { TouchState } from "../../timeline/shapes";
import { drawStory } from "../../timeline/story";
import { Timeline } from "../../timeline/timeline";
import { UndoLine } from "../../undo/undo-line";
import { WhyButton } from "../../why/why-dialog";
import { AboutThem, capitalised, EraseDialog, Notes, Story } from "../about";
import { AddressPill } from "../address-pill";
import { NextTouch } from "../next-touch";
import { fieldName, verdictDate, verdictSentence } from "../words";
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

/** "2 emails and 1 more" of the touches in these states, "" for none: emails by their number, besides what a person does. */
function touchWords(journey: StoryJourney | undefined, ...states: TouchState[]): string {
  const touches = journey?.touches.filter(({ state }) => states.includes(state)) ?? [];
  const emails = touches.filter(({ channel }) => channel === "email").length;
  const others = touches.length - emails;
  if (emails === 0) return others === 0 ? "" : count(others, "touch", "touches");
  return count(emails, "email") + (others > 0 ? ` and ${others} more` : "");
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
  const { story, there, found, notYours, mayStop, zone, now } = loaderData;
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
      margin={<StoryMargin story={story} there={there} found={found} now={now} zone={zone} />}
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

type Found = ReturnType<typeof researchOfPerson>[number];

function StoryMargin(props: {
  story: ProspectStory;
  found: readonly Found[];
  there: ReturnType<typeof standingThere>;
  now: number;
  zone: string;
}) {
  const { story, there, found, now, zone } = props;
  const journey = story.journeys[0];
  const cancelled = touchWords(journey, "cancelled");
  return (
    <>
      <MarginNote title={journey?.state === "active" ? "Next touch, and why" : "Why nothing is planned"}>
        {!journey && <Typography>No sequence has been started for them.</Typography>}
        {journey?.state === "active" && (
          <>
            <NextTouch journey={journey} now={now} zone={zone} />
            {journey.isInvited && <Invited />}
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
            {stopWords(journey.stopReason)}
            {journey.stopDetail ? `: ${journey.stopDetail}` : ""}.
            {cancelled !== "" && ` Cancelled: ${cancelled}.`}
          </Typography>
        )}
        {journey?.state === "finished" && (
          <Typography>They got every step of {journey.sequenceName}.</Typography>
        )}
        {journey && <WhyButton journeyId={journey.id} sx={{ mt: 0.5, ml: -1.75 }} />}
      </MarginNote>
      {there && (
        <MarginNote title={`In ${there.crm}`}>
          {there.deals.length === 0 && <Typography>In step, without a deal.</Typography>}
          {there.deals.map(({ name, stage, value }) => (
            <Typography key={`${name} ${stage}`}>
              {name}: {stage}
              {value && `, ${value}`}
            </Typography>
          ))}
        </MarginNote>
      )}
      {found.length > 0 && (
        <MarginNote title="What was found out">
          {found.map((each) => (
            <FoundOut key={each.code} of={each} zone={zone} />
          ))}
        </MarginNote>
      )}
      {story.bestHour && (
        <MarginNote title="Best hour">
          <Typography>
            About {clock(story.bestHour.minute)} their time.{" "}
            {story.bestHour.certainty < 0.05
              ? "Nothing of their own is known yet; people like them are reached then."
              : `${Math.round(story.bestHour.certainty * 100)} % of that is their own doing, the rest that of people like them.`}
          </Typography>
        </MarginNote>
      )}
      <MarginNote title="The address">
        <Typography>
          {story.prospect.email === ""
            ? "None is known. It can be found by the company's pattern, under Addresses of a list."
            : verdictSentence(story.prospect.verdictReason, story.prospect.verdictDetail)}
        </Typography>
        <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 0.5 }}>
          {verdictDate(story.prospect.verdictAt, zone)}
          {story.otherAddresses.length > 0 && ` Also: ${story.otherAddresses.join(", ")}.`}
        </Typography>
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
      {story.colleagues.length > 0 && (
        <MarginNote title={`Colleagues at ${story.prospect.company}`}>
          {story.colleagues.map(({ id, name, title, stage, writtenBy, writtenAt }) => (
            <Typography variant="body2" key={id} sx={{ mb: 0.6 }}>
              {name}, {title || "no title"} · {STAGE_NAMES[stage]}
              {writtenAt !== null && (
                <Box component="span" sx={{ display: "block", color: "text.secondary" }}>
                  {writtenBy} wrote to them on {dayTime(writtenAt, zone)}
                </Box>
              )}
            </Typography>
          ))}
        </MarginNote>
      )}
    </>
  );
}

/** What a column found about them, and where it stands. */
function FoundOut({ of, zone }: { of: Found; zone: string }) {
  return (
    <Box sx={{ mb: 1 }}>
      <Typography variant="body2" color="textSecondary">
        {of.name}
        {of.isUnread === 1 && of.isTheirs === 0 && ", which nobody has read"}
      </Typography>
      {of.value.startsWith("/pictures/") ? (
        <Box component="img" src={of.value} alt={of.name} sx={{ maxWidth: 120, maxHeight: 60 }} />
      ) : (
        <Typography sx={{ overflowWrap: "anywhere" }}>{of.value}</Typography>
      )}
      <Typography variant="caption" color="textSecondary" component="div" sx={{ overflowWrap: "anywhere" }}>
        {[
          of.typedBy === null ? of.sourceUrl.replace(/^https?:\/\//, "") : `typed by ${of.typedBy}`,
          of.at === null ? "" : dayTime(of.at, zone),
        ]
          .filter(Boolean)
          .join(", ")}
      </Typography>
    </Box>
  );
}

/** On a network that tells nobody, the rep sees first that somebody accepted. */
function Invited() {
  const accept = useAction();
  return (
    <>
      <Button
        size="small"
        sx={{ mt: 1 }}
        disabled={accept.isBusy}
        onClick={() => accept.press({ intent: "accepted" })}
      >
        They accepted the invitation
      </Button>
      <Refusal errors={accept.errors} />
    </>
  );
}

/** Minutes after midnight as "10:30". */
const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

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
