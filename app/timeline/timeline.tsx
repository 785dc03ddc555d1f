/**
 * The one drawing for time: lanes for channels, working days from left to right, weekends as thin
 * bands. It draws a sequence's plan and a prospect's story alike, is worked by mouse or keyboard,
 * and reads as an ordered list.
 */
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useRef, useState } from "react";
import { type Channel, Shape, STATE_WORDS, type TouchState } from "./shapes";

export interface TimelineTouch {
  id: string;
  lane: string;
  /** Working days from the left edge; a fraction places it within its day. */
  day: number;
  label: string;
  channel: Channel;
  state: TouchState;
  /** What a screen reader hears instead of the drawing. */
  spoken: string;
}

export interface TimelineProps {
  name: string;
  lanes: string[];
  touches: TimelineTouch[];
  /** A label for each working day. */
  days: string[];
  /** Bands stand after these days. */
  weekendsAfter: number[];
  /** Where now is, in working days. */
  now?: number;
  height?: number;
  selected?: string | null;
  onSelect?: (id: string) => void;
  onOpen?: (id: string) => void;
  onMove?: (id: string, byDays: number) => void;
  onAdd?: (afterId: string) => void;
}

const TOP = 30;
/** Below this width (the margin) the drawing is smaller and leaves its labels out. */
const SMALL = 420;

export function Timeline(props: TimelineProps) {
  const { lanes, touches, days, weekendsAfter, now, selected, onSelect, onOpen, onMove, onAdd } = props;
  const { palette } = useTheme();
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [drag, setDrag] = useState<{ id: string; fromX: number; days: number } | null>(null);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const small = width < SMALL;
  const [left, right, laneHeight, least] = small ? [52, 18, 40, 4] : [74, 40, 62, 26];
  const perDay = Math.max(least, (width - left - right) / Math.max(1, days.length - 1));
  const inner = left + right + perDay * Math.max(1, days.length - 1);
  const overflows = inner > width + 1;
  const height = props.height ?? TOP + laneHeight * lanes.length + 8;
  const x = (day: number) => left + day * perDay;
  const y = (lane: string) => TOP + laneHeight * (Math.max(0, lanes.indexOf(lane)) + 0.5);
  const shown = (touch: TimelineTouch) => touch.day + (drag?.id === touch.id ? drag.days : 0);
  const path = touches.filter(({ channel }) => channel !== "them");
  const labelEvery = Math.ceil((small ? 80 : 44) / perDay);

  function onKeyDown(event: React.KeyboardEvent): void {
    const index = touches.findIndex(({ id }) => id === selected);
    const current = touches[index];
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (step !== 0 && event.shiftKey && current) onMove?.(current.id, step);
    else if (step !== 0) {
      const next = touches[Math.min(touches.length - 1, Math.max(0, index + step))];
      if (next) {
        onSelect?.(next.id);
        frame.current?.querySelector<HTMLElement>(`[data-touch="${next.id}"]`)?.focus();
      }
    } else if (event.key === "Enter" && current) onOpen?.(current.id);
    else if (event.key.toLowerCase() === "n" && current) onAdd?.(current.id);
    else return;
    event.preventDefault();
  }

  return (
    <Box
      ref={frame}
      tabIndex={overflows ? 0 : undefined}
      sx={{ position: "relative", overflowX: overflows ? "auto" : "hidden", overflowY: "hidden" }}
    >
      <svg width={inner} height={height} aria-hidden style={{ display: "block" }}>
        {weekendsAfter.map((day) => (
          <rect
            key={day}
            x={x(day + 0.5) - (small ? 2 : 6)}
            y={TOP - 4}
            width={small ? 4 : 12}
            height={height - TOP}
            fill={palette.margin}
          />
        ))}
        {days.map((label, day) => (
          <g key={label + String(day)}>
            <line
              x1={x(day)}
              x2={x(day)}
              y1={TOP - 4}
              y2={height}
              stroke={palette.divider}
              strokeDasharray="1 5"
            />
            {day % labelEvery === 0 && (
              <text x={x(day)} y={14} textAnchor="middle" fontSize={12} fill={palette.text.secondary}>
                {label}
              </text>
            )}
          </g>
        ))}
        {lanes.map((lane) => (
          <g key={lane}>
            <text x={6} y={y(lane) + 4} fontSize={12.5} fill={palette.text.secondary}>
              {lane}
            </text>
            <line
              x1={left - 10}
              x2={inner - 8}
              y1={y(lane)}
              y2={y(lane)}
              stroke={palette.divider}
              strokeWidth={1.4}
            />
          </g>
        ))}
        {path.slice(1).map((touch, index) => {
          const before = path[index] as TimelineTouch;
          return (
            <line
              key={touch.id}
              x1={x(shown(before))}
              y1={y(before.lane)}
              x2={x(shown(touch))}
              y2={y(touch.lane)}
              stroke={palette.tile.line}
              strokeWidth={1.6}
              strokeDasharray={touch.state === "cancelled" ? "3 4" : undefined}
            />
          );
        })}
        {now !== undefined && (
          <g>
            <line
              x1={x(now)}
              x2={x(now)}
              y1={TOP - 8}
              y2={height}
              stroke={palette.ochre.main}
              strokeWidth={1.5}
            />
            <circle cx={x(now)} cy={TOP - 8} r={3} fill={palette.ochre.main} />
          </g>
        )}
        {touches.map((touch) => (
          <g key={touch.id} transform={`translate(${x(shown(touch))} ${y(touch.lane)})`}>
            {touch.id === selected && (
              <rect
                x={-22}
                y={-18}
                width={44}
                height={36}
                rx={6}
                fill={palette.tile.wash}
                stroke={palette.tile.line}
              />
            )}
            <Shape channel={touch.channel} state={touch.state} scale={small ? 0.6 : 1} />
            {touch.label && !small && (
              <text
                y={touch.channel === "them" ? 24 : 29}
                textAnchor="middle"
                fontSize={12}
                fill={touch.state === "cancelled" ? palette.text.secondary : palette.text.primary}
                style={{ paintOrder: "stroke" }}
                stroke={palette.background.default}
                strokeWidth={4}
              >
                {touch.label}
              </text>
            )}
          </g>
        ))}
      </svg>
      <Box
        component="ol"
        aria-label={props.name}
        onKeyDown={onKeyDown}
        sx={{ listStyle: "none", m: 0, p: 0, position: "absolute", inset: 0, pointerEvents: "none" }}
      >
        {touches.map((touch) => {
          const words = `${touch.spoken}, ${STATE_WORDS[touch.state]}`;
          const place = {
            position: "absolute",
            left: x(touch.day) - 20,
            top: y(touch.lane) - 17,
            width: 40,
            height: 34,
            pointerEvents: "auto",
          } as const;
          // A story is only read; a plan is worked on.
          if (!onSelect)
            return (
              <Box
                component="li"
                key={touch.id}
                title={words}
                sx={{ ...place, overflow: "hidden", color: "transparent", fontSize: 1, userSelect: "none" }}
              >
                {words}
              </Box>
            );
          return (
            <li key={touch.id}>
              <Box
                component="button"
                type="button"
                data-touch={touch.id}
                title={touch.spoken}
                aria-label={words}
                aria-pressed={touch.id === selected}
                onFocus={() => onSelect(touch.id)}
                onClick={() => onSelect(touch.id)}
                onDoubleClick={() => onOpen?.(touch.id)}
                onPointerDown={(event) => {
                  if (!onMove) return;
                  event.currentTarget.setPointerCapture(event.pointerId);
                  setDrag({ id: touch.id, fromX: event.clientX, days: 0 });
                }}
                onPointerMove={(event) => {
                  if (drag?.id === touch.id)
                    setDrag({ ...drag, days: Math.round((event.clientX - drag.fromX) / perDay) });
                }}
                onPointerUp={() => {
                  if (drag && drag.days !== 0) onMove?.(touch.id, drag.days);
                  setDrag(null);
                }}
                sx={{
                  ...place,
                  bgcolor: "transparent",
                  border: 0,
                  borderRadius: 1,
                  cursor: onMove ? "grab" : "pointer",
                  touchAction: onMove ? "none" : "auto",
                }}
              />
            </li>
          );
        })}
      </Box>
    </Box>
  );
}
