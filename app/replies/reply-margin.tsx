/** What a reply stopped, and the story that led to it. */
import Typography from "@mui/material/Typography";
import type { ProspectStory } from "../../server/prospects/people/prospect-story";
import { MarginNote } from "../components/page";
import { count, stopWords } from "../components/words";
import { drawStory } from "../timeline/story";
import { Timeline } from "../timeline/timeline";

export function ReplyMargin({ story, zone, now }: { story: ProspectStory; zone: string; now: number }) {
  const journey = story.journeys[0];
  const cancelled = journey?.touches.filter(({ state }) => state === "cancelled").length ?? 0;
  return (
    <>
      <MarginNote title="What it stopped">
        <Typography>
          {!journey
            ? "They are on no sequence."
            : journey.state === "active"
              ? `Nothing: ${journey.sequenceName} goes on for them.`
              : cancelled > 0
                ? `${count(cancelled, "email")} of ${journey.sequenceName} will not go, because ${stopWords(journey.stopReason)}.`
                : `${journey.sequenceName} was over for them: nothing was planned any more.`}
        </Typography>
        {story.blocked && (
          <Typography sx={{ mt: 1 }}>Their address is on the block list: nothing is sent to it.</Typography>
        )}
      </MarginNote>
      {journey && (
        <MarginNote title="Their story so far">
          <Timeline {...drawStory(journey, story.events, now, zone)} />
        </MarginNote>
      )}
    </>
  );
}
