/**
 * Where everything of a path is drawn: days from left to right, a row for each channel, and at a fork two ways with rows of
 * their own, yes above no, until they join again. Counts in days, slots and rows; the drawing makes pixels of them.
 */
import { patienceOn } from "./condition.ts";
import { CHANNEL_OF, type Channel, everyStep, isEmail, isTouch, type Path, type PathNode } from "./path.ts";
import { usualDays } from "./wait.ts";

/** A moment in the drawing: a working day, and a place within it. */
export interface Cursor {
  day: number;
  slot: number;
}

export interface LaidNode {
  node: PathNode;
  at: Cursor;
  /** From the top; forks stand between the rows they split, hence halves. */
  row: number;
}

/** A stretch of rows: the lines that are drawn, and the names of their channels at its left. */
export interface Stretch {
  lanes: Channel[];
  top: number;
  from: Cursor;
  to: Cursor;
  /** The way that begins here. */
  way: { forkId: string; branch: "yes" | "no" } | null;
}

export interface Link {
  from: string;
  to: string;
  way: "yes" | "no" | null;
}

export interface PathDrawing {
  nodes: LaidNode[];
  stretches: Stretch[];
  links: Link[];
  /** How many slots each day needs, from day 0. */
  slots: number[];
  rows: number;
  /** The working days of the longest way. */
  days: number;
}

/** What a "no" needs above its rows for its own words, in rows. */
const WORDS_ABOVE = 0.4;
const LANE_ORDER: readonly Channel[] = ["email", "social", "call", "errand"];

interface Loose {
  id: string;
  at: Cursor;
  way: "yes" | "no" | null;
}

const later = (a: Cursor, b: Cursor): Cursor => ((a.day - b.day || a.slot - b.slot) > 0 ? a : b);

export function layOutPath(path: Path): PathDrawing {
  const drawing: PathDrawing = { nodes: [], stretches: [], links: [], slots: [1], rows: 1, days: 0 };
  const take = (at: Cursor): Cursor => {
    while (drawing.slots.length <= at.day) drawing.slots.push(1);
    drawing.slots[at.day] = Math.max(drawing.slots[at.day] as number, at.slot + 1);
    drawing.days = Math.max(drawing.days, at.day);
    return at;
  };
  const next = ({ day, slot }: Cursor, days: number): Cursor =>
    days > 0 ? { day: day + days, slot: 0 } : { day, slot };

  /** Lays out nodes from a cursor on, and returns the loose ends from which the path goes on, and the rows it took. */
  const lay = (
    nodes: Path,
    begins: Cursor,
    top: number,
    from: Loose[],
    way: Stretch["way"],
  ): { loose: Loose[]; bottom: number } => {
    let cursor = begins;
    let loose = from;
    let bottom = top;
    let index = 0;
    let begun = way;
    while (index < nodes.length) {
      const run: PathNode[] = [];
      while (index < nodes.length && nodes[index]?.kind !== "fork") run.push(nodes[index++] as PathNode);
      const channels = new Set(run.flatMap((node) => (isTouch(node) ? [CHANNEL_OF[node.kind]] : [])));
      const lanes = LANE_ORDER.filter((lane) => channels.has(lane));
      if (run.length > 0) {
        // The names of the rows stand before the first touch.
        const first = run[0] as PathNode;
        const stretchFrom = take(cursor);
        const stretch: Stretch = { lanes, top, from: stretchFrom, to: stretchFrom, way: begun };
        const isFirst = drawing.stretches.length === 0;
        drawing.stretches.push(stretch);
        const wait = isTouch(first) ? usualDays(first.wait) : 0;
        // On the same day the names need a slot of their own.
        if (!isFirst) cursor = { day: cursor.day, slot: cursor.slot + 1 };
        if (!isFirst && wait === 0) take(cursor);
        for (const node of run) {
          cursor = take(next(cursor, isTouch(node) ? usualDays(node.wait) : 0));
          const lane = isTouch(node) ? lanes.indexOf(CHANNEL_OF[node.kind]) : 0;
          drawing.nodes.push({ node, at: cursor, row: top + Math.max(0, lane) });
          for (const { id, way: branch } of loose) drawing.links.push({ from: id, to: node.id, way: branch });
          loose = node.kind === "end" ? [] : [{ id: node.id, at: cursor, way: null }];
          stretch.to = cursor;
          cursor = { day: cursor.day, slot: cursor.slot + 1 };
        }
        bottom = Math.max(bottom, top + Math.max(1, lanes.length));
        begun = null;
      }
      const fork = nodes[index];
      if (fork?.kind !== "fork") break;
      index++;
      const at = take(cursor);
      const laid: LaidNode = { node: fork, at, row: top };
      const behind = drawing.nodes.push(laid);
      for (const { id, way: branch } of loose) drawing.links.push({ from: id, to: fork.id, way: branch });
      const starts = (branch: "yes" | "no"): Cursor => {
        const waits = patienceOn(fork, branch);
        return waits > 0 ? { day: at.day + waits, slot: 0 } : { day: at.day, slot: at.slot + 1 };
      };
      // Where one way ends, the other carries the rest on its rows.
      const rest = nodes.slice(index);
      const [yesEnds, noEnds] = [isOver(fork.yes), isOver(fork.no)];
      const carries = yesEnds === noEnds ? null : yesEnds ? "no" : "yes";
      const branch = (way: "yes" | "no", begin: number) =>
        lay(
          carries === way ? [...fork[way], ...rest] : fork[way],
          starts(way),
          begin,
          [{ id: fork.id, at: starts(way), way }],
          { forkId: fork.id, branch: way },
        );
      const yes = branch("yes", top);
      const noTop = Math.max(yes.bottom, top + 1) + WORDS_ABOVE;
      const no = branch("no", noTop);
      laid.row = (top + noTop) / 2;
      bottom = Math.max(bottom, no.bottom, noTop + 1);
      loose = [...(yesEnds ? [] : yes.loose), ...(noEnds ? [] : no.loose)];
      if (carries) break;
      if (loose.length === 0) {
        // Both ways end: what stands behind is drawn all the same, so that it can be taken away.
        cursor = { day: drawing.slots.length, slot: 0 };
        continue;
      }
      // Behind every node of both ways, those of a way that ends among them: what follows takes their rows.
      cursor = [...loose, ...drawing.nodes.slice(behind)].map((each) => each.at).reduce(later);
      cursor = { day: cursor.day, slot: cursor.slot + 1 };
    }
    return { loose: loose.map((each) => ({ ...each, at: later(each.at, begins) })), bottom };
  };
  const { bottom } = lay(path, { day: 0, slot: 0 }, 0, [], null);
  drawing.rows = Math.max(1, bottom);
  return drawing;
}

/** Whether nobody comes out at the end of these nodes. */
const isOver = (nodes: Path): boolean =>
  nodes.some((node) => node.kind === "end" || (node.kind === "fork" && isOver(node.yes) && isOver(node.no)));

/** How many touches a path has by channel, and by week of five working days, over all its ways. */
export function countTouches({ nodes }: PathDrawing): { channels: Map<Channel, number>; weeks: number[] } {
  const channels = new Map<Channel, number>();
  const weeks: number[] = [];
  for (const { node, at } of nodes) {
    if (!isTouch(node)) continue;
    const channel = CHANNEL_OF[node.kind];
    channels.set(channel, (channels.get(channel) ?? 0) + 1);
    const week = Math.floor(at.day / 5);
    while (weeks.length <= week) weeks.push(0);
    weeks[week] = (weeks[week] ?? 0) + 1;
  }
  return { channels, weeks };
}

/** The emails that one person gets at most: of a fork's ways they take one. */
export function mostEmails(path: Path): number {
  const [node, ...rest] = path;
  if (!node || node.kind === "end") return 0;
  if (node.kind !== "fork") return Number(isEmail(node)) + mostEmails(rest);
  const ways = [node.yes, node.no].map((way) => mostEmails(way) + (isOver(way) ? 0 : mostEmails(rest)));
  return Math.max(...ways);
}

/** The working days of a path's longest way. */
export const daysOfPath = (path: Path): number => (everyStep(path).length === 0 ? 0 : layOutPath(path).days);
