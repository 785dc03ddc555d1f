/** One mark of the timeline as an item of its list, read out while the drawing lies beneath. */
import Box from "@mui/material/Box";
import { Unseen } from "../components/unseen";
import type { Mark } from "./marks";
import { STATE_WORDS } from "./shapes";

export interface Placed {
  mark: Mark;
  x: number;
  y: number;
  labelWidth: number;
  scale: number;
}

/** What they did has happened, whatever it looks like. */
export const wordsOf = (mark: Mark): string =>
  mark.shape === "them" ? mark.spoken : `${mark.spoken}, ${STATE_WORDS[mark.state]}`;
/** Narrower, a label says nothing; the title does. */
const LEAST_LABEL = 22;

export function Label({ mark, labelWidth }: Pick<Placed, "mark" | "labelWidth">) {
  if (mark.label === "" || labelWidth < LEAST_LABEL) return null;
  return (
    <Box
      component="span"
      aria-hidden
      sx={{
        position: "absolute",
        top: mark.shape === "them" ? 30 : 33,
        left: 20 - labelWidth / 2,
        width: labelWidth,
        textAlign: "center",
        fontSize: 12,
        lineHeight: "15px",
        color: mark.state === "cancelled" ? "text.secondary" : "text.primary",
        whiteSpace: "nowrap",
        overflow: "hidden",
        textOverflow: "ellipsis",
        pointerEvents: "none",
      }}
    >
      {mark.label}
    </Box>
  );
}

export const placed = (x: number, y: number) =>
  ({ position: "absolute", left: x - 20, top: y - 17, width: 40, height: 34 }) as const;

/** One that is only read. A fork stands beside the lists of its ways, which have places of their own. */
export function WordsItem({ mark, x, y, labelWidth, ways }: Placed & { ways: React.ReactNode }) {
  const place = (
    <Box
      component={ways ? "div" : "li"}
      title={wordsOf(mark)}
      sx={{ ...placed(x, y), pointerEvents: "auto" }}
    >
      <Unseen>{wordsOf(mark)}</Unseen>
      <Label mark={mark} labelWidth={labelWidth} />
    </Box>
  );
  if (!ways) return place;
  return (
    <li>
      {place}
      {ways}
    </li>
  );
}
