/** When the next touch of a journey comes, and beneath it why not before. */
import Typography from "@mui/material/Typography";
import type { StoryJourney } from "../../server/prospects/people/prospect-story";
import { waitParts } from "../components/words";

export function NextTouch({
  journey,
  now,
  zone,
}: {
  journey: Pick<StoryJourney, "waitReason" | "waitDetail" | "nextAt">;
  now: number;
  zone: string;
}) {
  const { at, why } = waitParts(
    journey.waitReason ?? "in_line",
    journey.waitDetail,
    journey.nextAt,
    now,
    zone,
  );
  return (
    <>
      {at !== null && (
        <Typography variant="letter" component="p">
          {at}
        </Typography>
      )}
      <Typography color={at === null ? "textPrimary" : "textSecondary"}>{why}.</Typography>
    </>
  );
}
