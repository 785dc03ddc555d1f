/** From days and rows to pixels. */

export interface Column {
  label: string;
  /** In slots; a day on which nothing happens is narrower. */
  width: number;
}

export interface Place {
  /** Days from the left edge; a fraction places it within its day. */
  at: number;
  row: number;
}

export interface Geometry {
  width: number;
  height: number;
  /** Marks are small and without words: in a narrow frame, or when the whole of a long sequence is to be seen. */
  small: boolean;
  /** Pixels a slot is wide. */
  unit: number;
  rowHeight: number;
  left: number;
  x(at: number): number;
  y(row: number): number;
  /** The day that is nearest to a pixel. */
  dayAt(x: number): number;
  /** The left edges of the columns, and the right one of the last. */
  edges: number[];
}

/** Below this width (the margin) the drawing is smaller and leaves its labels out. */
export const SMALL = 420;
const TOP = 30;
/** A mark's own width. */
const LEAST_UNIT = 40;

/** Zoom 0 is the whole in one look; 1 is as small as words and marks stay readable. */
export function geometryOf(
  columns: readonly Column[],
  rows: number,
  frame: { width: number; zoom: number; mostHeight: number; titled: boolean },
): Geometry {
  const slots = columns.reduce((sum, { width }) => sum + width, 0);
  const small = frame.width < SMALL || (frame.zoom === 0 && slots * LEAST_UNIT > frame.width - 104);
  const [left, right] = small ? [52, 18] : [70, 34];
  const fitting = (frame.width - left - right) / Math.max(1, slots);
  const unit = Math.max(small ? 4 : LEAST_UNIT, Math.min(fitting, 120)) * (frame.zoom || 1);
  const full = small ? 40 : frame.titled ? 66 : 60;
  const rowHeight = Math.max(
    frame.zoom === 0 ? 24 : small ? 40 : 46,
    Math.min(full, (frame.mostHeight - TOP) / Math.max(1, rows)),
  );
  const edges = [left];
  for (const { width } of columns) edges.push((edges.at(-1) as number) + width * unit);
  const x = (at: number) => {
    const day = Math.max(0, Math.min(columns.length - 1, Math.floor(at)));
    return (edges[day] as number) + (at - day) * (columns[day]?.width ?? 1) * unit;
  };
  return {
    width: Math.max(frame.width, (edges.at(-1) as number) + right),
    height: TOP + rowHeight * rows + 10,
    small,
    unit,
    rowHeight,
    left,
    edges,
    x,
    y: (row) => TOP + rowHeight * (row + 0.5),
    dayAt: (px) => {
      const day = edges.findIndex((edge) => edge > px) - 1;
      return day < -1
        ? columns.length - 1 + Math.round((px - (edges.at(-1) as number)) / unit)
        : Math.max(0, day);
    },
  };
}

/** A fork stands between two rows, where the labels of the upper one are. */
const REACHES = 0.8;
const HALF_MARK = 22;

/** The room a label has before it would touch its neighbours' labels, or a mark beneath; none overlaps another. */
export function labelWidths(
  marks: readonly ({ id: string } & Place)[],
  geometry: Geometry,
): Map<string, number> {
  const widths = new Map<string, number>();
  const rows = new Map<number, ({ id: string } & Place)[]>();
  for (const mark of marks) rows.set(mark.row, [...(rows.get(mark.row) ?? []), mark]);
  for (const row of rows.values()) {
    const sorted = row.toSorted((a, b) => a.at - b.at);
    sorted.forEach((mark, index) => {
      const here = geometry.x(mark.at);
      const before = sorted[index - 1];
      const after = sorted[index + 1];
      const toLeft = before ? here - geometry.x(before.at) : 2 * here;
      const toRight = after ? geometry.x(after.at) - here : 2 * (geometry.width - here);
      const beneath = marks
        .filter(({ row: other }) => other > mark.row && other - mark.row < REACHES)
        .map((other) => 2 * (Math.abs(geometry.x(other.at) - here) - HALF_MARK));
      widths.set(mark.id, Math.min(toLeft, toRight, ...beneath, 170) - 6);
    });
  }
  return widths;
}
