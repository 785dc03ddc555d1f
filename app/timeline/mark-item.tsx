/** One mark of the timeline as an item of its list: pressed, dragged and read out, while the drawing lies beneath. */
import { useDraggable } from "@dnd-kit/core";
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import type { Mark } from "./marks";
import { Shape, STATE_WORDS } from "./shapes";

interface Placed {
  mark: Mark;
  x: number;
  y: number;
  labelWidth: number;
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

/** A plan is worked on. */
export function MarkItem(
  props: Placed & { selected: boolean; draggable: boolean; onSelect: () => void; onOpen: () => void },
) {
  const { mark, x, y, labelWidth, selected } = props;
  const { palette } = useTheme();
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({
    id: mark.id,
    disabled: !props.draggable || mark.shape === "end",
  });
  return (
    <Box sx={placed(x, y)}>
      <Box
        component="button"
        type="button"
        ref={setNodeRef}
        data-mark={mark.id}
        title={mark.spoken}
        aria-label={wordsOf(mark)}
        aria-pressed={selected}
        onFocus={props.onSelect}
        onClick={props.onSelect}
        onDoubleClick={props.onOpen}
        {...(listeners?.onPointerDown
          ? { onPointerDown: listeners.onPointerDown as React.PointerEventHandler }
          : {})}
        sx={{
          position: "absolute",
          inset: 0,
          p: 0,
          bgcolor: "transparent",
          border: 0,
          borderRadius: 1,
          pointerEvents: "auto",
          cursor: isDragging ? "grabbing" : props.draggable ? "grab" : "pointer",
          touchAction: props.draggable ? "none" : "auto",
          zIndex: isDragging ? 3 : 1,
          ...(selected && { bgcolor: "tile.wash", outline: `1px solid ${palette.tile.line}` }),
        }}
        style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
      >
        <svg width={40} height={34} aria-hidden style={{ display: "block", overflow: "visible" }}>
          <g transform="translate(20 17)">
            <Shape shape={mark.shape} state={mark.state} />
            {mark.badge && (
              <g transform="translate(17 -13)">
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
      </Box>
      {!isDragging && <Label mark={mark} labelWidth={labelWidth} />}
    </Box>
  );
}
