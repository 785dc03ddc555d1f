/** The margin of a person's page: the next touch and why, what was found out, and what happened. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { STAGE_NAMES } from "../../core/prospects/stages";
import type { standingThere } from "../../server/crm/decide";
import type { FileOfPerson } from "../../server/pages/files-of-person";
import type { PagesOfPerson } from "../../server/pages/pages-of-person";
import type { ProspectStory, StoryEvent, StoryJourney } from "../../server/prospects/people/prospect-story";
import type { researchOfPerson } from "../../server/research/research-of-list";
import { eventWords } from "../components/event-words";
import { MarginNote } from "../components/page";
import { readingWords } from "../components/reading-words";
import { Refusal } from "../components/refusal";
import { useAction } from "../components/use-action";
import { count, dayTime, stopWords } from "../components/words";
import { PersonFiles } from "../pages/person-files";
import { PersonPages } from "../pages/person-pages";
import type { TouchState } from "../timeline/shapes";
import { WhyButton } from "../why/why-dialog";
import { NextTouch } from "./next-touch";
import { verdictDate, verdictSentence } from "./words";

type Found = ReturnType<typeof researchOfPerson>[number];

/** What they read of a file, behind the last time that they looked at it. */
function readAs(
  { id, kind, detail }: StoryEvent,
  events: readonly StoryEvent[],
  files: readonly FileOfPerson[],
): string {
  if (kind !== "file_opened") return "";
  const last = events.findLast((other) => other.kind === kind && other.detail === detail);
  const file = last?.id === id ? files.find(({ name }) => name === detail) : undefined;
  return file ? `: ${readingWords(file.reading)}` : "";
}

export function StoryMargin(props: {
  story: ProspectStory;
  found: readonly Found[];
  there: ReturnType<typeof standingThere>;
  pages: PagesOfPerson | null;
  files: readonly FileOfPerson[];
  now: number;
  zone: string;
}) {
  const { story, there, found, pages, files, now, zone } = props;
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
      {pages && (
        <PersonPages
          of={pages}
          prospect={{
            id: story.prospect.id,
            name: `${story.prospect.firstName} ${story.prospect.lastName}`.trim() || story.prospect.email,
          }}
          zone={zone}
        />
      )}
      {files.length > 0 && <PersonFiles files={files} zone={zone} />}
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
                {eventWords(event)}
                {readAs(event, story.events, files)}
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

/** "2 emails and 1 more" of the touches in these states, "" for none: emails by their number, besides what a person does. */
export function touchWords(journey: StoryJourney | undefined, ...states: TouchState[]): string {
  const touches = journey?.touches.filter(({ state }) => states.includes(state)) ?? [];
  const emails = touches.filter(({ channel }) => channel === "email").length;
  const others = touches.length - emails;
  if (emails === 0) return others === 0 ? "" : count(others, "touch", "touches");
  return count(emails, "email") + (others > 0 ? ` and ${others} more` : "");
}
