import Box from "@mui/material/Box";
import { styled } from "@mui/material/styles";
import type { TodoItem } from "../../server/today/todo-item";
import { time } from "../components/words";
import { Shape } from "../timeline/shapes";
import { placeWords, shapeOf, subOf, titleOf } from "./todo-words";

/** One thing to do: what it is, why it stands here, and, where it is the one at hand, how it is done. */
export function TodoRow(props: {
  item: TodoItem;
  isOpen: boolean;
  now: number;
  zone: string;
  readings: ReadonlyMap<string, string>;
  onOpen: () => void;
  children: React.ReactNode;
}) {
  const { item, isOpen, now, zone, readings, onOpen, children } = props;
  const shape = shapeOf(item);
  const sub = subOf(item, zone, readings);
  const why = placeWords(item);
  const there = "person" in item && item.person?.zone ? item.person.zone : null;
  const isTrouble = item.kind === "mailbox" || item.kind === "hold" || item.kind === "field";
  return (
    <Row aria-current={isOpen}>
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
        {there && <span>{time(now, there)} there</span>}
      </Head>
      {isOpen && <Box sx={{ pl: { xs: 1.25, sm: 8 }, pr: 1.25, pb: 1.75 }}>{children}</Box>}
    </Row>
  );
}

// Dozens of them on one page: so each is a few plain elements.
const Row = styled("div")(({ theme: { palette } }) => ({
  borderTop: `1px solid ${palette.divider}`,
  borderLeft: "3px solid transparent",
  "&[aria-current=true]": { background: palette.background.paper, borderLeftColor: palette.tile.main },
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
