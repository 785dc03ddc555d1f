/** A sequence's path as the timeline draws it. */
import { layOutPath, type PathDrawing } from "../../core/sequence/lay-out-path";
import {
  CHANNEL_OF,
  type Channel,
  everyNode,
  isEmail,
  type Path,
  type PathNode,
} from "../../core/sequence/path";
import type { DropPlace, Mark, Outline, TimelineProps } from "../timeline/marks";
import { KIND_WORDS, nodeName, wayWords } from "./step-words";

const LANE_WORDS: Record<Channel, string> = {
  email: "Email",
  social: "Social",
  call: "Call",
  errand: "Errand",
};
/** `today`: the ISO weekday on which day 0 falls, or the next of the sequence's `sendingDays`; `isWrong`: whether something keeps a node from starting. */
export function drawPlan(
  path: Path,
  {
    today,
    sendingDays = WORK_WEEK,
    isWrong,
  }: { today: number; sendingDays?: readonly number[]; isWrong: (id: string) => boolean },
): TimelineProps & { dropPlaces: DropPlace[]; drawing: PathDrawing } {
  const drawing = layOutPath(path);
  const last = Math.max(5, drawing.days + 1);
  const slots = Array.from({ length: last + 1 }, (_, day) => drawing.slots[day] ?? 1);
  const busy = new Set(drawing.nodes.map(({ at }) => at.day));
  const where = ({ day, slot }: { day: number; slot: number }) => day + (slot + 0.5) / (slots[day] ?? 1);
  const marks = drawing.nodes.map(
    ({ node, at, row }): Mark => ({
      id: node.id,
      at: where(at),
      row,
      label: node.kind === "end" ? "End" : node.kind === "fork" ? node.name : node.name,
      shape: node.kind === "fork" || node.kind === "end" ? node.kind : CHANNEL_OF[node.kind],
      state: isWrong(node.id) ? "person" : "planned",
      ...(isEmail(node) && node.variants.length > 1 ? { badge: String(node.variants.length) } : {}),
      spoken:
        node.kind === "end"
          ? "End of this way"
          : `${nodeName(node, path)}, ${KIND_WORDS[node.kind].toLowerCase()} on working day ${at.day}`,
    }),
  );
  const forks = new Map(
    everyNode(path).flatMap((node) => (node.kind === "fork" ? [[node.id, node] as const] : [])),
  );
  return {
    drawing,
    name: "Steps of the sequence",
    days: slots.map((width, day) => ({
      label: day === 0 ? "Day 0" : String(day),
      width: busy.has(day) || drawing.nodes.length < 12 ? width : 0.45,
    })),
    rows: drawing.rows,
    weekendsAfter: daysBeforeBreaks(slots.length, today, sendingDays),
    stretches: drawing.stretches.map(({ lanes, top, from, to, way }) => {
      const fork = way && forks.get(way.forkId);
      return {
        lanes: lanes.map((lane) => LANE_WORDS[lane]),
        row: top,
        from: where(from),
        to: where(to),
        ...(way && fork ? { title: { words: wayWords(fork, way.branch, path), tone: way.branch } } : {}),
      };
    }),
    marks,
    links: drawing.links.map(({ from, to }) => ({ from, to })),
    outline: outlineOf(path, path),
    dropPlaces: dropPlacesOf(path, drawing, where),
  };
}

const WORK_WEEK = [1, 2, 3, 4, 5];

/** The days after which one or more days without email lie, by the weekdays on which a sequence sends. */
export function daysBeforeBreaks(count: number, today: number, sendingDays: readonly number[]): number[] {
  const week = sendingDays.toSorted((a, b) => a - b);
  if (week.length === 0 || week.length === 7) return [];
  const first = Math.max(
    0,
    week.findIndex((each) => each >= today),
  );
  return Array.from({ length: count }, (_, day) => day).filter((day) => {
    const here = week[(first + day) % week.length] as number;
    const next = week[(first + day + 1) % week.length] as number;
    return (next - here + 7) % 7 !== 1;
  });
}

const outlineOf = (nodes: Path, path: Path): Outline[] =>
  nodes.map((node) =>
    node.kind === "fork"
      ? {
          id: node.id,
          ways: (["yes", "no"] as const).map((branch) => ({
            title: wayWords(node, branch, path),
            items: outlineOf(node[branch], path),
          })),
        }
      : { id: node.id },
  );

/** A place before every node, and one at the end of every way; its id says where: "fork:branch:index". */
function dropPlacesOf(
  path: Path,
  { nodes }: PathDrawing,
  where: (cursor: { day: number; slot: number }) => number,
): DropPlace[] {
  const laid = new Map(nodes.map((each) => [each.node.id, { at: where(each.at), row: each.row }]));
  const places: DropPlace[] = [];
  const walk = (list: Path, within: string): void => {
    list.forEach((node, index) => {
      const here = laid.get(node.id);
      if (here) places.push({ id: `${within}:${index}`, at: Math.max(0, here.at - 0.45), row: here.row });
      if (node.kind === "fork") {
        walk(node.yes, `${node.id}:yes`);
        walk(node.no, `${node.id}:no`);
      }
    });
    const last = list.at(-1) && laid.get((list.at(-1) as PathNode).id);
    if (last && list.at(-1)?.kind !== "end" && list.at(-1)?.kind !== "fork")
      places.push({ id: `${within}:${list.length}`, at: last.at + 0.45, row: last.row });
  };
  walk(path, ":");
  return places;
}

/** The gap that a drop place's id names. */
export function gapOf(placeId: string): {
  within: { forkId: string; branch: "yes" | "no" } | null;
  index: number;
} {
  const parts = placeId.split(":");
  const index = Number(parts.at(-1));
  const [forkId = "", branch] = parts;
  return { within: branch === "yes" || branch === "no" ? { forkId, branch } : null, index };
}
