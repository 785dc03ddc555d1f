/** One mark of the timeline as an item of its list: pressed, dragged and read out, while the drawing lies beneath. */
import { useDraggable } from "@dnd-kit/core";
import Box from "@mui/material/Box";
import { styled, useTheme } from "@mui/material/styles";
import { memo } from "react";
import type { Mark } from "./marks";
import { Shape, STATE_WORDS } from "./shapes";

interface Placed {
  mark: Mark;
  x: number;
  y: number;
  labelWidth: number;
  scale: number;
}

const wordsOf = (mark: Mark): string => `${mark.spoken}, ${STATE_WORDS[mark.state]}`;
/** Narrower, a label says nothing; the title does. */
const LEAST_LABEL = 22;

function Label({ mark, labelWidth }: Pick<Placed, "mark" | "labelWidth">) {
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

const placed = (x: number, y: number) =>
  ({ position: "absolute", left: x - 20, top: y - 17, width: 40, height: 34 }) as const;

/** A story is only read. */
export function WordsItem({ mark, x, y, labelWidth }: Placed) {
  return (
    <Box component="li" title={wordsOf(mark)} sx={{ ...placed(x, y), pointerEvents: "auto" }}>
      <Box
        component="span"
        sx={{
          position: "absolute",
          width: 1,
          height: 1,
          overflow: "hidden",
          color: "transparent",
          userSelect: "none",
        }}
      >
        {wordsOf(mark)}
      </Box>
      <Label mark={mark} labelWidth={labelWidth} />
    </Box>
  );
}

const Handle = styled("button")({
  position: "absolute",
  inset: 0,
  padding: 0,
  background: "transparent",
  border: 0,
  borderRadius: 8,
  pointerEvents: "auto",
});

type Worked = Placed & { selected: boolean; draggable: boolean; onSelect: () => void; onOpen: () => void };

/** A plan is worked on. */
export function MarkItem(props: Worked) {
  return (
    <Box sx={placed(props.x, props.y)}>
      <DraggedMark {...props} />
      <Label mark={props.mark} labelWidth={props.labelWidth} />
    </Box>
  );
}

/** Apart from its label, since it is drawn again whenever any mark begins to be dragged. */
function DraggedMark({ mark, selected, draggable, scale, onSelect, onOpen }: Worked) {
  const { palette } = useTheme();
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({
    id: mark.id,
    disabled: !draggable || mark.shape === "end",
  });
  return (
    <Handle
      type="button"
      ref={setNodeRef}
      data-mark={mark.id}
      title={mark.spoken}
      aria-label={wordsOf(mark)}
      aria-pressed={selected}
      onFocus={onSelect}
      onClick={onSelect}
      onDoubleClick={onOpen}
      {...(listeners?.onPointerDown
        ? { onPointerDown: listeners.onPointerDown as React.PointerEventHandler }
        : {})}
      style={{
        cursor: isDragging ? "grabbing" : draggable ? "grab" : "pointer",
        touchAction: draggable ? "none" : "auto",
        zIndex: isDragging ? 3 : 1,
        ...(selected && { background: palette.tile.wash, outline: `1px solid ${palette.tile.line}` }),
        ...(transform && { transform: `translate(${transform.x}px, ${transform.y}px)` }),
      }}
    >
      <Picture mark={mark} scale={scale} />
    </Handle>
  );
}

const Picture = memo(function Picture({ mark, scale }: Pick<Placed, "mark" | "scale">) {
  const { palette } = useTheme();
  return (
    <svg width={40} height={34} aria-hidden style={{ display: "block", overflow: "visible" }}>
      <g transform="translate(20 17)">
        <Shape shape={mark.shape} state={mark.state} scale={scale} />
        {mark.badge && (
          <g transform={`scale(${scale}) translate(17 -13)`}>
            <circle r={7.5} fill={palette.ochre.text} />
            <text
              textAnchor="middle"
              y={3.6}
              fontSize={10.5}
              fontWeight={700}
              fill={palette.background.paper}
            >
              {mark.badge}
            </text>
          </g>
        )}
      </g>
    </svg>
  );
});
