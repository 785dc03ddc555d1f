/** What a label would do before it is set, what the reply stopped, and the story that led to it. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ProspectStory } from "../../server/prospects/people/prospect-story";
import type { PreviewLine } from "../../server/replies/preview-label";
import { MarginNote } from "../components/page";
import { count, stopWords } from "../components/words";
import { drawStory } from "../timeline/story";
import { Timeline } from "../timeline/timeline";
import { type SideAction, SideActions } from "./side-actions";

const COLOURS: Record<PreviewLine["verb"], string> = {
  Stops: "clay.main",
  Blocks: "clay.main",
  Holds: "ochre.text",
  "Keeps waiting": "ochre.text",
  Waits: "ochre.text",
  Releases: "kelp.text",
  "Lets go on": "kelp.text",
  Moves: "kelp.text",
  Adds: "tile.main",
  Reminds: "tile.main",
  Changes: "tile.main",
};

export function ReplyMargin(props: {
  story: ProspectStory;
  zone: string;
  now: number;
  /** The label that is looked at, and what it would do. */
  looked: { name: string; isSet: boolean; lines: PreviewLine[] } | null;
  may: (action: SideAction) => boolean;
  onAction: (action: SideAction) => void;
}) {
  const { story, zone, now, looked, may, onAction } = props;
  const journey = story.journeys[0];
  const cancelled = journey?.touches.filter(({ state }) => state === "cancelled").length ?? 0;
  return (
    <>
      {looked && (
        <MarginNote
          title={
            looked.isSet
              ? `Marked ${looked.name.toLowerCase()}`
              : `If you mark it ${looked.name.toLowerCase()}`
          }
        >
          {looked.lines.length === 0 && (
            <Typography>{looked.isSet ? "Nothing else followed." : "Nothing else changes."}</Typography>
          )}
          {looked.lines.map(({ verb, words }) => (
            <Typography key={verb + words} sx={{ mb: 0.75 }}>
              <Box component="span" sx={{ color: COLOURS[verb], fontWeight: 650 }}>
                {verb}
              </Box>{" "}
              {words}
            </Typography>
          ))}
        </MarginNote>
      )}
      <MarginNote title="What it stopped">
        <Typography>
          {!journey
            ? "They are on no sequence."
            : journey.state === "active"
              ? `Nothing: ${journey.sequenceName} goes on for them.`
              : cancelled > 0
                ? `${count(cancelled, "step")} of ${journey.sequenceName} will not happen, because ${stopWords(journey.stopReason)}.`
                : `${journey.sequenceName} was over for them: nothing was planned any more.`}
        </Typography>
        {story.blocked && (
          <Typography sx={{ mt: 1 }}>Their address is on the block list: nothing is sent to it.</Typography>
        )}
      </MarginNote>
      {journey && (
        <MarginNote title="Their story so far">
          <Timeline {...drawStory(journey, story.events, now, zone)} likelyWidth={271} />
        </MarginNote>
      )}
      <MarginNote title="What else">
        <SideActions may={may} onChoose={onAction} />
      </MarginNote>
    </>
  );
}
