/**
 * A sequence's results as the drawing of its path: the band of people still on the way, green rising where something came of
 * it, clay falling where they left. From figures to paths and places in pixels; band.tsx draws them.
 */
import type { Green } from "../../core/results/credit";
import type { Path } from "../../core/sequence/path";
import type { StepResult } from "../../server/results/one-sequence";
import { drawPlan } from "../sequences/plan-drawing";
import { type Geometry, geometryOf } from "../timeline/geometry";
import type { Outline } from "../timeline/marks";
import type { MarkShape } from "../timeline/shapes";

/** What a step's place in the drawing says, and where. */
export interface BandStep {
  id: string;
  x: number;
  /** The middle of the band. */
  y: number;
  /** Of the band here. */
  thickness: number;
  shape: MarkShape;
  label: string;
  labelWidth: number;
  /** Null for a fork or an end. */
  result: StepResult | null;
  /** Drawn paths: all who answered, those of them that count, and those who left. */
  answered: string;
  counted: string;
  gone: string;
}

export interface BandDrawing {
  width: number;
  height: number;
  columns: { label: string; x: number }[];
  ribbons: { key: string; d: string }[];
  steps: BandStep[];
  outline: Outline[];
  /** What leads to a way, ending where it begins. */
  ways: { words: string; x: number; y: number; tone: "yes" | "no" }[];
  /** Above the band, where green ends; below it, where clay does. */
  rise: number;
  fall: number;
}

const TOP = 34;
const NAME_ROOM = 40;
const FALL = 34;
const ANSWER_ROOM = 34;
/** Above a row in which nothing rises: the words of its way. */
const WORDS_ROOM = 30;
const HALF_MARK = 20;
const HALF_HEIGHT = 13;
const MOST_THICK = 86;

interface Flow {
  x: number;
  y: number;
  people: number;
}

/** `scaleOf`: the most people of all drawings that stand beside each other, so that they are on one scale. */
export function drawBand(
  path: Path,
  steps: readonly StepResult[],
  { green, width, most }: { green: Green; width: number; most: number },
): BandDrawing {
  const plan = drawPlan(path, { today: 1, isWrong: () => false });
  const geometry = geometryOf(plan.days, 1, { width, zoom: 1, mostHeight: 400, titled: false });
  const results = new Map(steps.map((step) => [step.stepId, step]));
  const tops = [...new Set(plan.stretches.map(({ row }) => row))].sort((a, b) => a - b);
  const scale = (tops.length === 1 ? MOST_THICK : 0.7 * MOST_THICK) / Math.max(1, most);
  const rise = tops.length === 1 ? 88 : 56;
  const rowOf = (at: number, row: number) => {
    const within = plan.stretches.filter(
      (stretch) =>
        row >= stretch.row && row < stretch.row + Math.max(1, stretch.lanes.length) && at >= stretch.from,
    );
    const top = within.at(-1)?.row ?? Math.max(...tops.filter((each) => each <= row), tops[0] ?? 0);
    return Math.max(0, tops.indexOf(top));
  };
  const rows = tops.map(() => ({ people: 0, rises: false, falls: false }));
  for (const mark of plan.marks) {
    const row = rows[rowOf(mark.at, mark.row)];
    const result = results.get(mark.id);
    if (!row || !result) continue;
    row.people = Math.max(row.people, result.made);
    row.rises ||= result.brought.answered > 0 || result.brought[green] > 0;
    row.falls ||= result.gone > 0;
  }
  let bottom = TOP;
  const middles = rows.map(({ people, rises, falls }) => {
    const half = Math.max(HALF_HEIGHT, (people * scale) / 2);
    const middle = bottom + (rises ? ANSWER_ROOM + rise : WORDS_ROOM) + half;
    bottom = middle + half + NAME_ROOM + (falls ? FALL : 0);
    return middle;
  });
  const yOf = (row: number) => middles[row] ?? TOP;
  const flows = new Map<string, Flow>();
  for (const mark of plan.marks)
    flows.set(mark.id, {
      x: geometry.x(mark.at),
      y: yOf(rowOf(mark.at, mark.row)),
      people: results.get(mark.id)?.made ?? 0,
    });
  // A fork is as many as go on behind it, or came to it: the last that is drawn knows first.
  const links = plan.links;
  for (const mark of plan.marks.toReversed()) {
    const flow = flows.get(mark.id) as Flow;
    if (mark.shape !== "fork") continue;
    flow.people = links
      .filter(({ from }) => from === mark.id)
      .reduce((sum, { to }) => sum + (flows.get(to)?.people ?? 0), 0);
  }
  const thick = (people: number) => (people === 0 ? 1 : Math.max(2, people * scale));
  const ribbons = links.flatMap(({ from, to }) => {
    const [a, b] = [flows.get(from), flows.get(to)];
    if (!a || !b) return [];
    const leaving = links.filter((link) => link.from === from);
    const arriving = links.filter((link) => link.to === to);
    const outOf =
      leaving.length > 1
        ? portion(
            a,
            leaving.map((link) => flows.get(link.to)),
            b,
          )
        : { y: a.y, people: a.people };
    const into =
      arriving.length > 1
        ? portion(
            b,
            arriving.map((link) => flows.get(link.from)),
            a,
          )
        : { y: b.y, people: b.people };
    return [
      {
        key: `${from} ${to}`,
        d: ribbon(a.x, outOf.y, thick(outOf.people), b.x, into.y, thick(into.people)),
      },
    ];
  });
  /** The part of a node's thickness that one of several ways has, from the top. */
  function portion(node: Flow, ways: (Flow | undefined)[], own: Flow): { y: number; people: number } {
    const all = ways.reduce((sum, way) => sum + (way?.people ?? 0), 0);
    if (all === 0) return { y: node.y, people: 0 };
    let above = 0;
    for (const way of ways) {
      if (way === own) break;
      above += way?.people ?? 0;
    }
    const share = node.people / all;
    return {
      y: node.y - (node.people * scale) / 2 + (above + own.people / 2) * share * scale,
      people: own.people * share,
    };
  }
  const drawn = plan.marks.map((mark): BandStep => {
    const { x, y, people } = flows.get(mark.id) as Flow;
    const result = results.get(mark.id) ?? null;
    // A booking needs no answer: what counts is part of all that came of it.
    const all = result === null ? 0 : Math.max(result.brought.answered, result.brought[green]);
    const thickness = thick(people);
    const inRow = plan.marks
      .filter((other) => other.id !== mark.id && results.has(other.id) && flows.get(other.id)?.y === y)
      .map((other) => Math.abs((flows.get(other.id) as Flow).x - x));
    return {
      id: mark.id,
      x,
      y,
      thickness,
      shape: mark.shape,
      label: mark.label,
      labelWidth: Math.min(...inRow, 120, 2 * x) - 4,
      result,
      ...(result === null
        ? { answered: "", counted: "", gone: "" }
        : {
            answered: rising(x, y - thickness / 2, rise, all * scale, 1),
            counted:
              green === "answered" || all === 0
                ? ""
                : rising(x, y - thickness / 2, rise, all * scale, result.brought[green] / all),
            gone: falling(x, y + thickness / 2, FALL, result.gone * scale),
          }),
    };
  });
  return {
    width: geometry.width,
    height: bottom + 4,
    columns: labelled(geometry, plan.days),
    ribbons: [...tails(geometry, plan.marks, flows, thick), ...ribbons],
    steps: drawn,
    outline: plan.outline ?? plan.marks.map(({ id }) => ({ id })),
    ways: plan.stretches.flatMap(({ title, row, from }) => {
      if (!title) return [];
      const at = rowOf(from, row);
      const half = Math.max(HALF_HEIGHT, ((rows[at]?.people ?? 0) * scale) / 2);
      // Before its first step, whose green rises behind it; the next way's words never reach so far.
      const begins = plan.marks
        .filter((mark) => mark.at >= from && results.has(mark.id) && rowOf(mark.at, mark.row) === at)
        .reduce((least, mark) => Math.min(least, geometry.x(mark.at)), Number.MAX_VALUE);
      return [
        {
          words: title.words,
          x: Math.min(begins - 24, geometry.width),
          y: yOf(at) - half - 8,
          tone: title.tone,
        },
      ];
    }),
    rise,
    fall: FALL,
  };
}

/** The band begins a little before the first step and ends a little behind the last of each way. */
function tails(
  geometry: Geometry,
  marks: readonly { id: string; shape: MarkShape }[],
  flows: ReadonlyMap<string, Flow>,
  thick: (people: number) => number,
): { key: string; d: string }[] {
  const first = marks[0] && flows.get(marks[0].id);
  const furthest = new Map<number, Flow>();
  for (const { id, shape } of marks) {
    const flow = flows.get(id) as Flow;
    if (shape !== "end" && flow.x > (furthest.get(flow.y)?.x ?? 0)) furthest.set(flow.y, flow);
  }
  return [
    ...(first
      ? [
          {
            key: "begins",
            d: ribbon(geometry.left, first.y, thick(first.people), first.x, first.y, thick(first.people)),
          },
        ]
      : []),
    ...[...furthest.values()].map(({ x, y, people }) => ({
      key: `ends ${y}`,
      d: ribbon(x, y, thick(people), x + HALF_MARK + 6, y, thick(people)),
    })),
  ];
}

/** A day's label where it has room. */
function labelled(geometry: Geometry, days: readonly { label: string }[]): { label: string; x: number }[] {
  let free = Number.NEGATIVE_INFINITY;
  return days.flatMap(({ label }, day) => {
    const x = geometry.x(day + 0.5);
    if (x - free < 40) return [];
    free = x;
    return [{ label, x }];
  });
}

/** Level at both ends. */
function ribbon(x1: number, y1: number, t1: number, x2: number, y2: number, t2: number): string {
  const middle = (x1 + x2) / 2;
  return (
    `M${x1} ${y1 - t1 / 2} C${middle} ${y1 - t1 / 2} ${middle} ${y2 - t2 / 2} ${x2} ${y2 - t2 / 2} ` +
    `L${x2} ${y2 + t2 / 2} C${middle} ${y2 + t2 / 2} ${middle} ${y1 + t1 / 2} ${x1} ${y1 + t1 / 2} Z`
  );
}

/** From the band up, as wide at its end as they were many; `part` of it from the left. */
function rising(x: number, from: number, height: number, width: number, part: number): string {
  if (width === 0 || part === 0) return "";
  const [begins, wide] = [x - 16, Math.max(2.5, width)];
  const [left, right, top] = [x + 12, x + 12 + Math.max(1.2, part * wide), from - height];
  const ends = begins + Math.max(5, part * (wide + 42));
  return (
    `M${begins} ${from} C${x + 2} ${from - 4} ${left - 4} ${from - height * 0.55} ${left} ${top} L${right} ${top} ` +
    `C${right + 1 - 4 * (1 - part)} ${from - height * 0.52} ${ends - 8 * part} ${from - 6} ${ends} ${from} Z`
  );
}

function falling(x: number, from: number, height: number, width: number): string {
  if (width === 0) return "";
  const [left, right, bottom] = [x + 12, x + 12 + Math.max(1.5, width), from + height];
  return `M${x - 6} ${from} C${x + 8} ${from + 3} ${left - 2} ${from + height * 0.5} ${left} ${bottom} L${right} ${bottom} C${right + 1} ${from + height * 0.5} ${right + 2} ${from + 5} ${right + 9} ${from} Z`;
}
