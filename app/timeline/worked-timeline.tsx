/** A plan on the timeline, worked on by mouse and keyboard: its marks are chosen, opened, moved and dropped between others. */
import { DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useMemo, useRef, useState } from "react";
import { Frame, useLaidOut } from "./frame";
import type { Geometry } from "./geometry";
import type { DropPlace, Mark, TimelineProps } from "./marks";
import { WorkedMark } from "./worked-mark";

/** So near to a place between two marks, a dragged one drops into it. */
const NEAR = 22;

export interface WorkedTimelineProps extends TimelineProps {
  selected: string | null;
  dropPlaces?: DropPlace[];
  onSelect: (id: string) => void;
  onOpen: (id: string) => void;
  /** `alone`: what follows stays on its day. */
  onMove: (id: string, byDays: number, alone: boolean) => void;
  onDropIn: (id: string, place: string) => void;
  /** Any other key on a selected mark; true if it was of use. */
  onKey: (id: string, event: React.KeyboardEvent) => boolean;
}

export function WorkedTimeline(props: WorkedTimelineProps) {
  const { days, marks, selected, onSelect, onOpen, onMove, onDropIn, onKey, dropPlaces = [] } = props;
  const { palette } = useTheme();
  const laidOut = useLaidOut(props);
  const { frame, geometry } = laidOut;
  const [drag, setDrag] = useState<{ id: string; day: number; place: string | null } | null>(null);
  const isAlone = useHeldKey();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  useSelectedInView(frame, selected, geometry);

  function onKeyDown(event: React.KeyboardEvent): void {
    const index = marks.findIndex(({ id }) => id === selected);
    const current = marks[index];
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    const rise = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    const go = (mark: Mark | undefined) => {
      if (!mark) return;
      onSelect(mark.id);
      frame.current?.querySelector<HTMLElement>(`[data-mark="${CSS.escape(mark.id)}"]`)?.focus();
    };
    if (step !== 0 && event.shiftKey && current) onMove(current.id, step, event.altKey);
    else if (step !== 0) go(marks[Math.min(marks.length - 1, Math.max(0, index + step))]);
    else if (rise !== 0 && current && !event.shiftKey) go(nearestInRow(marks, current, rise));
    else if (event.key === "Enter" && current) onOpen(current.id);
    else if (!(current && onKey(current.id, event))) return;
    event.preventDefault();
  }

  /** Where a dragged mark would come to lie. */
  function targetOf({ active, delta }: Pick<DragEndEvent, "active" | "delta">) {
    const mark = marks.find(({ id }) => id === active.id);
    if (!mark) return null;
    const [x, y] = [geometry.x(mark.at) + delta.x, geometry.y(mark.row) + delta.y];
    const place = dropPlaces.find(
      (each) => Math.hypot(geometry.x(each.at) - x, geometry.y(each.row) - y) < NEAR,
    );
    return { id: mark.id, day: geometry.dayAt(x), place: place?.id ?? null };
  }

  // Drawn again when something has changed, not at every move of what is dragged.
  // biome-ignore lint/correctness/useExhaustiveDependencies: these are what the items are made of
  const items = useMemo(
    () =>
      laidOut.list((placed, ways) => (
        <li key={placed.mark.id}>
          <WorkedMark
            {...placed}
            selected={placed.mark.id === selected}
            onSelect={() => onSelect(placed.mark.id)}
            onOpen={() => onOpen(placed.mark.id)}
          />
          {ways}
        </li>
      )),
    [props.outline, marks, geometry, selected, onSelect, onOpen],
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
        const mark = target && marks.find(({ id }) => id === target.id);
        if (!mark) return;
        if (target.place !== null) onDropIn(mark.id, target.place);
        else if (target.day !== Math.floor(mark.at))
          onMove(mark.id, target.day - Math.floor(mark.at), isAlone.current);
      }}
    >
      <Frame
        timeline={props}
        laidOut={laidOut}
        withMarks={false}
        onKeyDown={onKeyDown}
        above={
          <>
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
          </>
        }
      >
        {items}
      </Frame>
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
