/** Shape says channel, colour says state. */
import { useTheme } from "@mui/material/styles";

import type { Channel } from "../../core/sequence/path";

/** A touch has its channel's shape; what they did, a fork and an end have their own. */
export type MarkShape = Channel | "them" | "fork" | "end";
export type TouchState = "planned" | "done" | "cancelled" | "person" | "answered";

export const STATE_WORDS: Record<TouchState, string> = {
  planned: "planned",
  done: "done",
  cancelled: "will not happen",
  person: "waits for you",
  answered: "they answered",
};

/** The touch's drawing around (0, 0), about 34 wide and 26 high. */
export function Shape({ shape, state, scale = 1 }: { shape: MarkShape; state: TouchState; scale?: number }) {
  const { palette } = useTheme();
  const looks = {
    planned: { stroke: palette.tile.main, fill: palette.background.paper, ink: palette.tile.main },
    done: { stroke: palette.tile.main, fill: palette.tile.main, ink: palette.tile.wash },
    cancelled: { stroke: palette.text.secondary, fill: "none", ink: palette.text.secondary },
    person: { stroke: palette.clay.main, fill: palette.clay.wash, ink: palette.clay.main },
    answered: { stroke: palette.kelp.main, fill: palette.kelp.main, ink: palette.kelp.wash },
  }[state];
  const line = {
    stroke: looks.stroke,
    fill: looks.fill,
    strokeWidth: 1.6,
    ...(state === "cancelled" ? { strokeDasharray: "3 2.5", strokeOpacity: 0.75 } : {}),
  };
  return (
    <g transform={`scale(${scale})`}>
      {shape === "email" && (
        <>
          <rect x={-17} y={-13} width={34} height={26} rx={3} {...line} />
          <path
            d="M-16 -11 L0 2 L16 -11"
            fill="none"
            stroke={looks.ink}
            strokeWidth={1.4}
            strokeDasharray={line.strokeDasharray}
          />
        </>
      )}
      {(shape === "social" || shape === "them") && <circle r={shape === "them" ? 9 : 14} {...line} />}
      {shape === "call" && <path d="M-15 0 L-8 -13 L8 -13 L15 0 L8 13 L-8 13 Z" {...line} />}
      {shape === "fork" && (
        <>
          <rect
            x={-18}
            y={-14}
            width={36}
            height={28}
            rx={14}
            {...line}
            stroke={palette.ochre.main}
            fill={palette.ochre.wash}
          />
          <text textAnchor="middle" y={4.5} fontSize={13} fontWeight={700} fill={palette.ochre.text}>
            ?
          </text>
        </>
      )}
      {shape === "end" && (
        <path
          d="M-7 -12 V12 M0 -9 V9 M7 -5 V5"
          stroke={palette.text.secondary}
          strokeWidth={1.8}
          fill="none"
        />
      )}
      {shape === "errand" && <path d="M0 -15 L15 0 L0 15 L-15 0 Z" {...line} />}
    </g>
  );
}
