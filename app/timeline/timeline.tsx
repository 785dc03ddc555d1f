/**
 * The one drawing for time: rows for channels, working days from left to right, weekends as thin bands. It draws a
 * sequence's plan and a prospect's story alike, and reads as an ordered list. One that is worked on: worked-timeline.tsx.
 */
import { Frame, useLaidOut } from "./frame";
import { WordsItem } from "./mark-item";
import type { TimelineProps } from "./marks";

export function Timeline(timeline: TimelineProps) {
  const laidOut = useLaidOut(timeline);
  return (
    <Frame timeline={timeline} laidOut={laidOut} withMarks>
      {laidOut.list((placed, ways) => (
        <WordsItem key={placed.mark.id} {...placed} ways={ways} />
      ))}
    </Frame>
  );
}
