/** What a timeline draws: marks in rows, the ways between them, and what can be done with them. */
import type { Column, Place } from "./geometry";
import type { MarkShape, TouchState } from "./shapes";

export interface Mark extends Place {
  id: string;
  label: string;
  shape: MarkShape;
  state: TouchState;
  /** A small number at its corner: how many wordings. */
  badge?: string;
  /** What a screen reader hears instead of the drawing. */
  spoken: string;
}

export interface Stretch {
  /** The rows' names, from `row` on. */
  lanes: string[];
  row: number;
  from: number;
  to: number;
  /** What leads here, at a fork. */
  title?: { words: string; tone: "yes" | "no" };
}

export interface Link {
  from: string;
  to: string;
  dashed?: boolean;
}

/** The marks as they are read: at a fork, its ways. */
export interface Outline {
  id: string;
  ways?: { title: string; items: Outline[] }[];
}

/** A place between two marks into which one can be dropped. */
export interface DropPlace extends Place {
  id: string;
}

export interface TimelineProps {
  name: string;
  days: Column[];
  rows: number;
  /** Bands stand after these days. */
  weekendsAfter: number[];
  stretches: Stretch[];
  /** In the order of reading. */
  marks: Mark[];
  links: Link[];
  outline?: Outline[];
  /** Where now is. */
  now?: number;
  zoom?: number;
  mostHeight?: number;
  /** How wide the place is in which it most likely stands: drawn so until it is measured, nothing jumps. */
  likelyWidth?: number;
}
