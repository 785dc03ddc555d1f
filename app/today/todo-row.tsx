import Checkbox from "@mui/material/Checkbox";
import { styled } from "@mui/material/styles";
import type { TodoItem } from "../../server/today/todo-item";
import { time } from "../components/words";
import { Shape } from "../timeline/shapes";
import { placeWords, shapeOf, subOf, titleOf } from "./todo-words";

/** One thing to do: what it is, why it stands here, and, where it is the one at hand, how it is done. */
export function TodoRow(props: {
  item: TodoItem;
  isOpen: boolean;
  /** On a phone one thing is a page of its own. */
  isAlone: boolean;
  /** Where several can be done at once: whether this one is among them. */
  tick: { isOn: boolean; turn: () => void } | null;
  now: number;
  zone: string;
  readings: ReadonlyMap<string, string>;
  onOpen: () => void;
  children: React.ReactNode;
}) {
  const { item, isOpen, isAlone, tick, now, zone, readings, onOpen, children } = props;
  const shape = shapeOf(item);
  const sub = subOf(item, zone, readings);
  const why = placeWords(item);
  const there = "person" in item && item.person?.zone ? item.person.zone : null;
  const isTrouble = item.kind === "mailbox" || item.kind === "hold" || item.kind === "field";
  return (
    <Row aria-current={isOpen} data-alone={isAlone}>
      {tick && (
        <Checkbox
          size="small"
          checked={tick.isOn}
          onChange={tick.turn}
          sx={{ position: "absolute", top: 6, right: 6 }}
          slotProps={{ input: { "aria-label": `Choose ${titleOf(item, now, zone)}` } }}
        />
      )}
      <Head type="button" aria-expanded={isOpen} onClick={onOpen}>
        <svg width={36} height={30} viewBox="-18 -15 36 30" aria-hidden>
          {shape && (
            <Shape
              shape={shape}
              state={item.kind === "replies" ? "answered" : isTrouble ? "person" : "planned"}
            />
          )}
        </svg>
        <div>
          <h2>{titleOf(item, now, zone)}</h2>
          <p>{[sub, why].filter(Boolean).join(" · ")}</p>
        </div>
        {there && <span style={tick ? { paddingRight: 40 } : undefined}>{time(now, there)} there</span>}
      </Head>
      {isOpen && <Work>{children}</Work>}
    </Row>
  );
}

// Dozens of them on one page: so each is a few plain elements.
const Row = styled("div")(({ theme: { palette, breakpoints } }) => ({
  borderTop: `1px solid ${palette.divider}`,
  borderLeft: "3px solid transparent",
  position: "relative",
  "&[aria-current=true]": { background: palette.background.paper, borderLeftColor: palette.tile.main },
  [breakpoints.down("sm")]: {
    "&[data-alone=true][aria-current=false]": { display: "none" },
    "&[data-alone=true]": { border: 0, background: "transparent" },
    "&[data-alone=true] :is(h2, p)": { whiteSpace: "normal" },
    // In the list nothing is open yet.
    "&[data-alone=false][aria-current=true]": { background: "transparent", borderLeftColor: "transparent" },
    "&[data-alone=false] > div:last-child": { display: "none" },
  },
}));
/** On a phone it stands at the foot, where the thumb is. */
const Work = styled("div")(({ theme: { palette, breakpoints } }) => ({
  padding: "0 10px 14px 64px",
  [breakpoints.down("sm")]: { padding: "0 0 10px" },
  [breakpoints.down("md")]: {
    "& > [data-foot]": {
      position: "sticky",
      bottom: 0,
      zIndex: 2,
      background: palette.background.paper,
      padding: "10px 0",
      boxShadow: `0 -1px 0 ${palette.divider}`,
    },
  },
}));
const Head = styled("button")(({ theme: { palette, typography, breakpoints } }) => ({
  all: "unset",
  boxSizing: "border-box",
  width: "100%",
  cursor: "pointer",
  display: "flex",
  alignItems: "center",
  gap: 12,
  padding: "8.4px 10px",
  "&:focus-visible": { outline: `2px solid ${palette.tile.main}`, outlineOffset: -2 },
  "& > div": { flex: 1, minWidth: 0 },
  "& h2, & p": { margin: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" },
  "& h2": typography.h3,
  "& p, & > span": { ...typography.body2, color: palette.text.secondary },
  "& > span": { whiteSpace: "nowrap", [breakpoints.down("sm")]: { display: "none" } },
}));
