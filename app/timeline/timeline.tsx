/**
 * The one drawing for time: rows for channels, working days from left to right, weekends as thin bands. It draws a
 * sequence's plan and a prospect's story alike, is worked by mouse or keyboard, and reads as an ordered list.
 */
import { DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useMemo, useRef, useState } from "react";
import { Drawing } from "./drawing";
import { type Geometry, geometryOf, labelWidths } from "./geometry";
import { MarkItem, WordsItem } from "./mark-item";
import type { Mark, Outline, TimelineProps } from "./marks";

/** So near to a place between two marks, a dragged one drops into it. */
const NEAR = 22;

export function Timeline(props: TimelineProps) {
  const { days, rows, marks, selected, onSelect, onOpen, onMove, onDropIn, onKey, dropPlaces = [] } = props;
  const { palette } = useTheme();
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(props.likelyWidth ?? 900);
  const [drag, setDrag] = useState<{ id: string; day: number; place: string | null } | null>(null);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const isAlone = useHeldKey();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const titled = props.stretches.some(({ title }) => title);
  const mostHeight = props.mostHeight ?? 340;
  const geometry = useMemo(
    () => geometryOf(days, rows, { width, zoom: props.zoom ?? 1, mostHeight, titled }),
    [days, rows, width, props.zoom, mostHeight, titled],
  );
  const labels = useMemo(() => labelWidths(marks, geometry), [marks, geometry]);
  const { small } = geometry;
  const overflows = geometry.width > width + 1 || geometry.height > mostHeight + 1;
  const byId = useMemo(() => new Map(marks.map((mark) => [mark.id, mark])), [marks]);
  useSelectedInView(frame, selected ?? null, geometry);

  function onKeyDown(event: React.KeyboardEvent): void {
    const index = marks.findIndex(({ id }) => id === selected);
    const current = marks[index];
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    const rise = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    const go = (mark: Mark | undefined) => {
      if (!mark) return;
      onSelect?.(mark.id);
      frame.current?.querySelector<HTMLElement>(`[data-mark="${CSS.escape(mark.id)}"]`)?.focus();
    };
    if (step !== 0 && event.shiftKey && current) onMove?.(current.id, step, event.altKey);
    else if (step !== 0) go(marks[Math.min(marks.length - 1, Math.max(0, index + step))]);
    else if (rise !== 0 && current && !event.shiftKey) go(nearestInRow(marks, current, rise));
    else if (event.key === "Enter" && current) onOpen?.(current.id);
    else if (!(current && onKey?.(current.id, event))) return;
    event.preventDefault();
  }

  /** Where a dragged mark would come to lie. */
  function targetOf({ active, delta }: Pick<DragEndEvent, "active" | "delta">) {
    const mark = byId.get(String(active.id));
    if (!mark) return null;
    const [x, y] = [geometry.x(mark.at) + delta.x, geometry.y(mark.row) + delta.y];
    const place = dropPlaces.find(
      (each) => Math.hypot(geometry.x(each.at) - x, geometry.y(each.row) - y) < NEAR,
    );
    return { id: mark.id, day: geometry.dayAt(x), place: place?.id ?? null };
  }

  const list = (items: Outline[]): React.ReactNode =>
    items.map(({ id, ways }) => {
      const mark = byId.get(id);
      if (!mark) return null;
      const common = {
        mark,
        x: geometry.x(mark.at),
        y: geometry.y(mark.row),
        labelWidth: small ? 0 : (labels.get(id) ?? 0),
        scale: small ? 0.6 : 1,
      };
      if (!onSelect) return <WordsItem key={id} {...common} />;
      return (
        <li key={id}>
          <MarkItem
            {...common}
            selected={id === selected}
            draggable={onMove !== undefined}
            onSelect={() => onSelect(id)}
            onOpen={() => onOpen?.(id)}
          />
          {ways?.map(({ title, items: inner }) => (
            <Box component="ol" key={title} aria-label={title} sx={{ listStyle: "none", m: 0, p: 0 }}>
              {list(inner)}
            </Box>
          ))}
        </li>
      );
    });

  // Drawn again when something has changed, not at every move of what is dragged.
  // biome-ignore lint/correctness/useExhaustiveDependencies: these are what the items are made of
  const items = useMemo(
    () => list(props.outline ?? marks.map(({ id }) => ({ id }))),
    [props.outline, marks, geometry, labels, selected, onSelect, onOpen, onMove],
  );

  return (
    <DndContext
      sensors={sensors}
      accessibility={{
        screenReaderInstructions: { draggable: "Shift and the arrow keys move a step to another day." },
      }}
      onDragMove={(event) => {
        const target = targetOf(event);
        setDrag((before) =>
          before && target && before.day === target.day && before.place === target.place ? before : target,
        );
      }}
      onDragCancel={() => setDrag(null)}
      onDragEnd={(event) => {
        setDrag(null);
        const target = targetOf(event);
        const mark = target && byId.get(target.id);
        if (!mark) return;
        if (target.place !== null) onDropIn?.(mark.id, target.place);
        else if (target.day !== Math.floor(mark.at))
          onMove?.(mark.id, target.day - Math.floor(mark.at), isAlone.current);
      }}
    >
      <Box
        ref={frame}
        tabIndex={overflows ? 0 : undefined}
        sx={{
          position: "relative",
          overflow: overflows ? "auto" : "hidden",
          maxHeight: mostHeight,
        }}
      >
        <Box sx={{ position: "relative", width: geometry.width, height: geometry.height }}>
          <Drawing
            days={days}
            weekendsAfter={props.weekendsAfter}
            stretches={props.stretches}
            marks={marks}
            links={props.links}
            now={props.now}
            withMarks={!onSelect}
            geometry={geometry}
          />
          {drag && drag.place === null && (
            <Box
              aria-hidden
              sx={{
                position: "absolute",
                top: 2,
                left: (geometry.edges[Math.min(drag.day, days.length - 1)] ?? 0) + 2,
                width: Math.max(20, (days[drag.day]?.width ?? 1) * geometry.unit - 4),
                bottom: 4,
                border: `1.5px dashed ${palette.tile.line}`,
                borderRadius: 1,
                pointerEvents: "none",
              }}
            />
          )}
          {drag &&
            dropPlaces.map((place) => (
              <Box
                key={place.id}
                aria-hidden
                sx={{
                  position: "absolute",
                  left: geometry.x(place.at) - 7,
                  top: geometry.y(place.row) - 7,
                  width: 14,
                  height: 14,
                  borderRadius: "50%",
                  border: `1.5px solid ${palette.tile.main}`,
                  bgcolor: drag.place === place.id ? "tile.main" : "background.paper",
                  pointerEvents: "none",
                }}
              />
            ))}
          <Box
            component="ol"
            aria-label={props.name}
            onKeyDown={onKeyDown}
            sx={{ listStyle: "none", m: 0, p: 0, position: "absolute", inset: 0, pointerEvents: "none" }}
          >
            {items}
          </Box>
        </Box>
      </Box>
    </DndContext>
  );
}

/** Whether Alt is held: then what follows a moved step stays where it is. */
function useHeldKey(): React.RefObject<boolean> {
  const held = useRef(false);
  useEffect(() => {
    const note = (event: KeyboardEvent) => {
      held.current = event.altKey;
    };
    window.addEventListener("keydown", note);
    window.addEventListener("keyup", note);
    return () => {
      window.removeEventListener("keydown", note);
      window.removeEventListener("keyup", note);
    };
  }, []);
  return held;
}

/** Scrolls, inside the frame only, to what is selected. */
function useSelectedInView(
  frame: React.RefObject<HTMLDivElement | null>,
  selected: string | null,
  geometry: Geometry,
) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new geometry moves what is selected
  useEffect(() => {
    const box = frame.current;
    const item =
      selected === null ? null : box?.querySelector<HTMLElement>(`[data-mark="${CSS.escape(selected)}"]`);
    if (!box || !item) return;
    const [left, top] = [item.offsetLeft, item.offsetTop];
    if (left < box.scrollLeft + 60 || left > box.scrollLeft + box.clientWidth - 100)
      box.scrollLeft = Math.max(0, left - box.clientWidth / 2);
    if (top < box.scrollTop + 20 || top > box.scrollTop + box.clientHeight - 60)
      box.scrollTop = Math.max(0, top - box.clientHeight / 2);
  }, [frame, selected, geometry]);
}

/** The mark in the next row above or below that lies nearest. */
function nearestInRow(marks: readonly Mark[], from: Mark, rise: number): Mark | undefined {
  const beyond = marks.filter(({ row }) => (row - from.row) * rise > 0);
  return beyond.toSorted(
    (a, b) =>
      Math.abs(a.row - from.row) - Math.abs(b.row - from.row) ||
      Math.abs(a.at - from.at) - Math.abs(b.at - from.at),
  )[0];
}
