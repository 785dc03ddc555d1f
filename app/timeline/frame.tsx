/** What a timeline that is read and one that is worked on share: its measure, its frame with the drawing, and the list of its marks. */
import Box from "@mui/material/Box";
import { useEffect, useMemo, useRef, useState } from "react";
import { Drawing } from "./drawing";
import { type Geometry, geometryOf, labelWidths } from "./geometry";
import type { Placed } from "./mark-item";
import type { Mark, Outline, TimelineProps } from "./marks";

const MOST_HEIGHT = 340;

export interface LaidOut {
  frame: React.RefObject<HTMLDivElement | null>;
  geometry: Geometry;
  /** Its frame scrolls. */
  overflows: boolean;
  /** The marks as items of a list, at a fork one for each way, nested. */
  list: (item: (placed: Placed, ways: React.ReactNode) => React.ReactNode) => React.ReactNode[];
}

/** Draws as wide as the frame is: measured once it stands, until then as it most likely is. */
export function useLaidOut(props: TimelineProps): LaidOut {
  const { days, rows, marks, stretches, outline, zoom = 1, mostHeight = MOST_HEIGHT } = props;
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(props.likelyWidth ?? 900);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const titled = stretches.some(({ title }) => title);
  const geometry = useMemo(
    () => geometryOf(days, rows, { width, zoom, mostHeight, titled }),
    [days, rows, width, zoom, mostHeight, titled],
  );
  const labels = useMemo(() => labelWidths(marks, geometry), [marks, geometry]);
  const list: LaidOut["list"] = (item) => {
    const { small } = geometry;
    const byId = new Map(marks.map((mark) => [mark.id, mark]));
    const items = (outlines: Outline[]): React.ReactNode[] =>
      outlines.map(({ id, ways }) => {
        const mark = byId.get(id);
        if (!mark) return null;
        return item(
          {
            mark,
            x: geometry.x(mark.at),
            y: geometry.y(mark.row),
            labelWidth: small ? 0 : (labels.get(id) ?? 0),
            scale: small ? 0.6 : 1,
          },
          ways?.map(({ title, items: inner }) => (
            <Box component="ol" key={title} aria-label={title} sx={PLAIN}>
              {items(inner)}
            </Box>
          )),
        );
      });
    return items(outline ?? marks.map(({ id }: Mark) => ({ id })));
  };
  const overflows = geometry.width > width + 1 || geometry.height > mostHeight + 1;
  return { frame, geometry, overflows, list };
}

const PLAIN = { listStyle: "none", m: 0, p: 0 } as const;

/** `above`: what lies over the drawing and under the marks. */
export function Frame(props: {
  timeline: TimelineProps;
  laidOut: LaidOut;
  /** The marks of a plan are drawn by their buttons, which move. */
  withMarks: boolean;
  above?: React.ReactNode;
  onKeyDown?: (event: React.KeyboardEvent) => void;
  children: React.ReactNode;
}) {
  const {
    days,
    weekendsAfter,
    stretches,
    marks,
    links,
    now,
    name,
    mostHeight = MOST_HEIGHT,
  } = props.timeline;
  const { frame, geometry, overflows } = props.laidOut;
  return (
    <Box
      ref={frame}
      tabIndex={overflows ? 0 : undefined}
      sx={{ position: "relative", overflow: overflows ? "auto" : "hidden", maxHeight: mostHeight }}
    >
      <Box sx={{ position: "relative", width: geometry.width, height: geometry.height }}>
        <Drawing
          days={days}
          weekendsAfter={weekendsAfter}
          stretches={stretches}
          marks={marks}
          links={links}
          now={now}
          withMarks={props.withMarks}
          geometry={geometry}
        />
        {props.above}
        <Box
          component="ol"
          aria-label={name}
          onKeyDown={props.onKeyDown}
          sx={{ ...PLAIN, position: "absolute", inset: 0, pointerEvents: "none" }}
        >
          {props.children}
        </Box>
      </Box>
    </Box>
  );
}
