/** One mark of a plan, pressed and dragged. */
import { useDraggable } from "@dnd-kit/core";
import Box from "@mui/material/Box";
import { styled, useTheme } from "@mui/material/styles";
import { memo } from "react";
import { Label, type Placed, placed, wordsOf } from "./mark-item";
import { Shape } from "./shapes";

const Handle = styled("button")({
  position: "absolute",
  inset: 0,
  padding: 0,
  background: "transparent",
  border: 0,
  borderRadius: 8,
  pointerEvents: "auto",
});

type Worked = Placed & { selected: boolean; onSelect: () => void; onOpen: () => void };

export function WorkedMark(props: Worked) {
  return (
    <Box sx={placed(props.x, props.y)}>
      <DraggedMark {...props} />
      <Label mark={props.mark} labelWidth={props.labelWidth} />
    </Box>
  );
}

/** Apart from its label, since it is drawn again whenever any mark begins to be dragged. */
function DraggedMark({ mark, selected, scale, onSelect, onOpen }: Worked) {
  const canMove = mark.shape !== "end";
  const { palette } = useTheme();
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({
    id: mark.id,
    disabled: !canMove,
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
        cursor: isDragging ? "grabbing" : canMove ? "grab" : "pointer",
        touchAction: canMove ? "none" : "auto",
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
