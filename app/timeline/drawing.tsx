/** What lies beneath the marks: days, weekends, rows, ways and the needle of now. Read by nobody but the eye. */
import { useTheme } from "@mui/material/styles";
import { memo } from "react";
import type { Geometry } from "./geometry";
import type { Mark, Stretch, TimelineProps } from "./marks";
import { Shape } from "./shapes";

export const Drawing = memo(function Drawing(
  props: Pick<TimelineProps, "days" | "weekendsAfter" | "stretches" | "marks" | "links"> & {
    now: number | undefined;
    geometry: Geometry;
    /** The marks of a plan are drawn by their buttons, which move. */
    withMarks: boolean;
  },
) {
  const { days, weekendsAfter, stretches, marks, links, now, geometry } = props;
  const { small } = geometry;
  const { palette } = useTheme();
  const { width, height, x, y, edges, left } = geometry;
  const byId = new Map(marks.map((mark) => [mark.id, mark]));
  const labelled = labelledDays(props, small ? 80 : 40);
  const named = laneNames(stretches, small);
  return (
    <svg width={width} height={height} aria-hidden="true" style={{ display: "block", position: "absolute" }}>
      {weekendsAfter.map((day) => (
        <rect
          key={day}
          x={(edges[day + 1] ?? 0) - (small ? 2 : 5)}
          y={24}
          width={small ? 4 : 10}
          height={height - 26}
          fill={palette.margin}
        />
      ))}
      {days.map(({ label }, day) => {
        const middle = x(day + 0.5);
        return (
          <g key={label + String(day)}>
            <line
              x1={middle}
              x2={middle}
              y1={26}
              y2={height}
              stroke={palette.divider}
              strokeDasharray="1 5"
            />
            {labelled.has(day) && (
              <text x={middle} y={14} textAnchor="middle" fontSize={12} fill={palette.text.secondary}>
                {label}
              </text>
            )}
          </g>
        );
      })}
      {links.map(({ from, to, dashed }) => {
        const [a, b] = [byId.get(from), byId.get(to)];
        return a && b ? (
          <path
            key={`${from} ${to}`}
            d={curve(a, b, geometry)}
            fill="none"
            stroke={palette.tile.line}
            strokeWidth={1.6}
            strokeDasharray={dashed ? "3 4" : undefined}
          />
        ) : null;
      })}
      {stretches.map((stretch, index) => {
        const start = index === 0 ? left - 10 : x(stretch.from);
        return (
          <g key={`${stretch.row} ${stretch.from} ${stretch.title?.words ?? ""}`}>
            {stretch.title && !small && (
              <text
                x={start - (index === 0 ? 0 : 14)}
                y={y(stretch.row) - (small ? 16 : 22)}
                fontSize={12}
                fontWeight={650}
                stroke={palette.background.default}
                strokeWidth={5}
                style={{ paintOrder: "stroke" }}
                fill={stretch.title.tone === "yes" ? palette.kelp.text : palette.clay.main}
              >
                {fitted(stretch.title.words, titleRoom(stretch, stretches, geometry))}
              </text>
            )}
            {stretch.lanes.map((lane, at) => (
              <g key={lane}>
                {named.get(`${index} ${at}`) && (
                  <text
                    x={named.get(`${index} ${at}`) === "edge" ? 6 : start - 14}
                    y={y(stretch.row + at) + 4}
                    fontSize={12}
                    stroke={palette.background.default}
                    strokeWidth={5}
                    style={{ paintOrder: "stroke" }}
                    fill={palette.text.secondary}
                  >
                    {lane}
                  </text>
                )}
                <line
                  x1={Math.min(named.get(`${index} ${at}`) === "beside" ? start + 42 : start, x(stretch.to))}
                  x2={x(stretch.to) + 24}
                  y1={y(stretch.row + at)}
                  y2={y(stretch.row + at)}
                  stroke={palette.divider}
                  strokeWidth={1.4}
                />
              </g>
            ))}
          </g>
        );
      })}
      {now !== undefined && (
        <g>
          <line x1={x(now)} x2={x(now)} y1={22} y2={height} stroke={palette.ochre.main} strokeWidth={1.5} />
          <circle cx={x(now)} cy={22} r={3} fill={palette.ochre.main} />
        </g>
      )}
      {props.withMarks &&
        marks.map((mark) => (
          <g key={mark.id} transform={`translate(${x(mark.at)} ${y(mark.row)})`}>
            <Shape shape={mark.shape} state={mark.state} scale={small ? 0.6 : 1} />
          </g>
        ))}
    </svg>
  );
});

/**
 * Where the name of a stretch's lane stands: at the edge, once for all of its row; where another way uses the row for
 * another channel, beside that one. A small drawing leaves the second to the shapes, and so the row without a name.
 */
function laneNames(stretches: readonly Stretch[], small: boolean): Map<string, "edge" | "beside"> {
  const named = new Map<string, "edge" | "beside">();
  const byRow = new Map<number, { key: string; lane: string }[]>();
  stretches.forEach(({ lanes, row }, index) => {
    lanes.forEach((lane, at) => {
      byRow.set(row + at, [...(byRow.get(row + at) ?? []), { key: `${index} ${at}`, lane }]);
    });
  });
  for (const row of byRow.values()) {
    if (small && new Set(row.map(({ lane }) => lane)).size > 1) continue;
    row.forEach(({ key, lane }, nth) => {
      if (nth === 0) named.set(key, "edge");
      else if (lane !== row[nth - 1]?.lane) named.set(key, "beside");
    });
  }
  return named;
}

/** The room that a way's words have before the next way's begin in the same row. */
function titleRoom(stretch: Stretch, all: readonly Stretch[], { x, width }: Geometry): number {
  const next = all
    .filter(({ title, row, from }) => title && row === stretch.row && from > stretch.from)
    .map(({ from }) => x(from));
  return Math.min(width, ...next) - x(stretch.from) - 10;
}

/** About a letter's width at 12 px. */
const LETTER = 6.6;

function fitted(words: string, room: number): string {
  const letters = Math.floor(room / LETTER);
  if (words.length <= letters) return words;
  return letters < 4 ? "" : `${words.slice(0, letters - 1).trimEnd()}…`;
}

/** From the right of one mark to the left of the next, level at both ends. */
function curve(a: Mark, b: Mark, { x, y }: Geometry): string {
  const [x1, y1, x2, y2] = [x(a.at), y(a.row), x(b.at), y(b.row)];
  const bend = Math.max(14, Math.min(60, (x2 - x1) * 0.45));
  return `M${x1} ${y1} C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`;
}

/** The days whose labels have room for themselves. */
function labelledDays(
  { days, geometry }: Pick<TimelineProps, "days"> & { geometry: Geometry },
  room: number,
): Set<number> {
  const labelled = new Set<number>();
  let free = 0;
  days.forEach((_, day) => {
    const middle = geometry.x(day + 0.5);
    if (day > 0 && middle - free < room) return;
    labelled.add(day);
    free = middle;
  });
  return labelled;
}
