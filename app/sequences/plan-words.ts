import { countTouches, type PathDrawing } from "../../core/sequence/lay-out-path";
import { count } from "../components/words";

const CHANNEL_NOUNS = { email: "email", social: "social touch", call: "call", errand: "errand" } as const;

/** "6 emails, 3 social touches, 1 call over 13 working days; 5, 3 and 2 a week". */
export function planWords(drawing: PathDrawing): string {
  const { channels, weeks } = countTouches(drawing);
  const parts = (Object.keys(CHANNEL_NOUNS) as (keyof typeof CHANNEL_NOUNS)[]).flatMap((channel) => {
    const number = channels.get(channel) ?? 0;
    return number > 0
      ? [count(number, CHANNEL_NOUNS[channel], channel === "social" ? "social touches" : undefined)]
      : [];
  });
  const weekly = weeks.length > 1 ? ` · by week ${weeks.join(", ")}` : "";
  return `${parts.join(", ") || "no step yet"} over ${count(drawing.days, "working day")}${weekly}`;
}
