/** Shape says channel, colour says state. */
import { useTheme } from "@mui/material/styles";

export type Channel = "email" | "social" | "call" | "errand" | "them";
export type TouchState = "planned" | "done" | "cancelled" | "person" | "answered";

export const STATE_WORDS: Record<TouchState, string> = {
  planned: "planned",
  done: "done",
  cancelled: "will not happen",
  person: "waits for you",
  answered: "they answered",
};

/** The touch's drawing around (0, 0), about 34 wide and 26 high. */
export function Shape({
  channel,
  state,
  scale = 1,
}: {
  channel: Channel;
  state: TouchState;
  scale?: number;
}) {
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
      {channel === "email" && (
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
      {(channel === "social" || channel === "them") && <circle r={channel === "them" ? 9 : 14} {...line} />}
      {channel === "call" && <path d="M-15 0 L-8 -13 L8 -13 L15 0 L8 13 L-8 13 Z" {...line} />}
      {channel === "errand" && <path d="M0 -15 L15 0 L0 15 L-15 0 Z" {...line} />}
    </g>
  );
}
