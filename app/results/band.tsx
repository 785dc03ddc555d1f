/** The drawing of a sequence's results; it reads as an ordered list of its steps, in which each number opens its people. */
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import type { Green } from "../../core/results/credit";
import { amount, percent } from "../../core/results/figure-words";
import type { Path } from "../../core/sequence/path";
import type { StepResult } from "../../server/results/one-sequence";
import { Unseen } from "../components/unseen";
import type { Outline } from "../timeline/marks";
import { Shape } from "../timeline/shapes";
import { type BandDrawing, type BandStep, drawBand } from "./band-geometry";
import { GREEN_WORDS } from "./words";

export function Band(props: {
  name: string;
  path: Path;
  steps: readonly StepResult[];
  green: Green;
  most: number;
  /** Where a number's people stand: by pick and step; null where numbers open nothing. */
  peopleAt: ((pick: string, stepId: string) => string) | null;
}) {
  const { path, steps, green, most } = props;
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(916);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const drawing = useMemo(
    () => drawBand(path, steps, { green, width: Math.max(width, 560), most }),
    [path, steps, green, width, most],
  );
  const byId = new Map(drawing.steps.map((step) => [step.id, step]));
  const items = (outlines: readonly Outline[]): React.ReactNode[] =>
    outlines.map(({ id, ways }) => {
      const step = byId.get(id);
      if (!step) return null;
      return (
        <li key={id}>
          <StepNumbers step={step} {...props} rise={drawing.rise} fall={drawing.fall} />
          {ways?.map(({ title, items: inner }) => (
            <Box component="ol" key={title} aria-label={title} sx={PLAIN}>
              {items(inner)}
            </Box>
          ))}
        </li>
      );
    });
  const overflows = drawing.width > width + 1 || drawing.height > MOST_HEIGHT;
  return (
    <Box
      ref={frame}
      tabIndex={overflows ? 0 : undefined}
      role={overflows ? "region" : undefined}
      aria-label={overflows ? `${props.name}, drawn` : undefined}
      sx={{ overflow: overflows ? "auto" : "hidden", maxHeight: MOST_HEIGHT }}
    >
      <Box sx={{ position: "relative", width: drawing.width, height: drawing.height }}>
        <Drawn drawing={drawing} green={green} />
        <Box
          component="ol"
          aria-label={props.name}
          sx={{
            ...PLAIN,
            position: "absolute",
            inset: 0,
            "& a": { textDecoration: "none" },
          }}
        >
          {items(drawing.outline)}
        </Box>
      </Box>
    </Box>
  );
}

const MOST_HEIGHT = 620;
/** About a letter's width at 12 px. */
const LETTER = 6.4;
const PLAIN = { listStyle: "none", m: 0, p: 0 } as const;

/** What only the eye reads. */
function Drawn({ drawing, green }: { drawing: BandDrawing; green: Green }) {
  const { palette } = useTheme();
  return (
    <svg
      width={drawing.width}
      height={drawing.height}
      aria-hidden="true"
      style={{ display: "block", position: "absolute" }}
    >
      {drawing.columns.map(({ label, x }) => (
        <g key={label}>
          <line x1={x} x2={x} y1={26} y2={drawing.height} stroke={palette.divider} strokeDasharray="1 5" />
          <text x={x} y={14} textAnchor="middle" fontSize={12} fill={palette.text.secondary}>
            {label}
          </text>
        </g>
      ))}
      {drawing.ribbons.map(({ key, d }) => (
        <path key={key} d={d} fill={palette.tile.line} fillOpacity={0.42} />
      ))}
      {drawing.steps.map(({ id, answered, counted, gone }) => (
        <g key={id}>
          <path
            d={answered}
            fill={green === "answered" ? palette.kelp.main : palette.kelp.bright}
            fillOpacity={green === "answered" ? 1 : 0.42}
          />
          <path d={counted} fill={palette.kelp.main} />
          <path d={gone} fill={palette.clay.main} fillOpacity={0.38} />
        </g>
      ))}
      {drawing.steps.map((step) => (
        <g key={step.id} transform={`translate(${step.x} ${step.y})`}>
          <Shape shape={step.shape} state="done" scale={0.88} />
        </g>
      ))}
      {drawing.ways.map(({ words, x, y, tone }) => (
        <text
          key={`${words} ${x}`}
          x={Math.max(x, 4 + LETTER * words.length)}
          y={y}
          textAnchor="end"
          fontSize={12}
          fontWeight={650}
          stroke={palette.background.default}
          strokeWidth={5}
          style={{ paintOrder: "stroke" }}
          fill={tone === "yes" ? palette.kelp.text : palette.clay.main}
        >
          {words}
        </text>
      ))}
    </svg>
  );
}

/** A step's numbers, each at its place: what came of it, how many came to it, how many left after it. */
function StepNumbers(props: Parameters<typeof Band>[0] & { step: BandStep; rise: number; fall: number }) {
  const { step, green, peopleAt, rise, fall } = props;
  const { result, x, y, thickness } = step;
  if (!result) return <Unseen>{step.shape === "fork" ? `${step.label}, a fork` : "End of this way"}</Unseen>;
  const { answered } = result.brought;
  const counted = result.brought[green];
  const at = (top: number, width: number) =>
    ({
      position: "absolute",
      left: x - width / 2,
      top,
      width,
      textAlign: "center",
      whiteSpace: "nowrap",
      lineHeight: "16px",
    }) as const;
  /** Below the band, and below the mark where the band is thinner. */
  const below = y + Math.max(thickness / 2, 13) + 5;
  const opens = (pick: string) =>
    peopleAt ? { component: Link, to: peopleAt(pick, step.id) } : { component: "span" };
  return (
    <>
      <Unseen>{result.name}: </Unseen>
      {(answered > 0 || counted > 0) && (
        <Box sx={{ ...at(y - thickness / 2 - rise - 34, Math.max(64, step.labelWidth)), fontSize: 12 }}>
          <Box {...opens(green)} sx={{ ...PRESSED, fontWeight: 650, color: "kelp.text" }}>
            {green === "answered" ? amount(answered) : `${amount(counted)} of ${amount(answered)}`}
            <Unseen> {GREEN_WORDS[green].of(green !== "answered")}</Unseen>
          </Box>
          <Box {...opens("answered")} sx={{ ...PRESSED, color: "text.secondary", display: "block" }}>
            {percent(answered, result.reached || result.made)}
            <Unseen> answered, of those it reached</Unseen>
          </Box>
        </Box>
      )}
      <Box sx={{ ...at(below, step.labelWidth), overflow: "hidden" }}>
        <Box {...opens("came")} sx={{ ...PRESSED, fontWeight: 650, fontSize: 14, color: "text.primary" }}>
          {result.made.toLocaleString("en-GB")}
          <Unseen> came to it</Unseen>
        </Box>
        <Box
          component="span"
          aria-hidden
          title={result.name}
          sx={{
            display: "block",
            fontSize: 12,
            color: "text.secondary",
            overflow: "hidden",
            textOverflow: "ellipsis",
          }}
        >
          {step.label}
        </Box>
      </Box>
      {result.gone > 0 && (
        <Box sx={{ ...at(below + fall + 2, 40), left: x + 18, textAlign: "left", fontSize: 12 }}>
          <Box {...opens("gone")} sx={{ ...PRESSED, fontWeight: 650, color: "clay.main" }}>
            {result.gone}
            <Unseen> left after it</Unseen>
          </Box>
        </Box>
      )}
    </>
  );
}

/** A number that opens its people shows it under the pointer. */
const PRESSED = { "&:hover, &:focus-visible": { textDecoration: "underline !important" } } as const;
