/**
 * What came of a start: the one definition of every figure that a screen shows. A figure counts people who were started on a
 * sequence, each start once; every share is of those who were reached. The database keeps each start's instants beside its
 * events (the views `journey_outcomes_now` and `touch_outcomes_now`), and sums them by the table below.
 */

/** The instants at which something first happened to somebody on a sequence, in ms; null: not so far. */
export interface Course {
  startedAt: number;
  /** Nothing more is planned for them. */
  endedAt: number | null;
  /** Something ended it before its path was over. */
  stoppedAt: number | null;
  /** An email that a server took or refused, a social message or invitation, or a call that was tried. */
  writtenAt: number | null;
  /** The first of these that got through: it did not come back; of a call, somebody or a voicemail heard it. */
  reachedAt: number | null;
  /** All that was written came back; null once anything got through. */
  bouncedAt: number | null;
  /** They wrote back, or talked on the phone. An absence or another machine's letter is no answer. */
  answeredAt: number | null;
  /** They want to talk: a label that the team counts as that, or a call they booked. */
  positiveAt: number | null;
  /** A call they booked, and did not cancel since. */
  bookedAt: number | null;
  /** They asked to be left alone, or reported an email. */
  optedOutAt: number | null;
  /** As far as a load can be trusted to be theirs (core/replies/loads.ts). */
  openedAt: number | null;
  clickedAt: number | null;
}

export type Instant = keyof Course;
type Rule = { has: readonly Instant[]; lacks: readonly Instant[] };

/** Each figure by what a course has and lacks: read here, and made into SQL by server/db/outcomes.ts. */
export const FIGURES = {
  started: { has: ["startedAt"], lacks: [] },
  written: { has: ["writtenAt"], lacks: [] },
  reached: { has: ["reachedAt"], lacks: [] },
  answered: { has: ["answeredAt"], lacks: [] },
  positive: { has: ["positiveAt"], lacks: [] },
  booked: { has: ["bookedAt"], lacks: [] },
  optedOut: { has: ["optedOutAt"], lacks: [] },
  bounced: { has: ["bouncedAt"], lacks: [] },
  /** Ended early for any other reason: the rep, a colleague's word, a changed job. */
  left: { has: ["stoppedAt"], lacks: ["answeredAt", "positiveAt", "optedOutAt", "bouncedAt"] },
  active: { has: [], lacks: ["endedAt"] },
  opened: { has: ["openedAt"], lacks: [] },
  clicked: { has: ["clickedAt"], lacks: [] },
} as const satisfies Record<string, Rule>;

export type Figure = keyof typeof FIGURES;
export type Figures = Record<Figure, number>;
export const FIGURE_NAMES = Object.keys(FIGURES) as Figure[];

export const NO_FIGURES = Object.fromEntries(FIGURE_NAMES.map((name) => [name, 0])) as Figures;

/** Whether a start counts in a figure. */
export function counts(figure: Figure, course: Course): boolean {
  const { has, lacks }: Rule = FIGURES[figure];
  for (const at of has) if (course[at] === null) return false;
  for (const at of lacks) if (course[at] !== null) return false;
  return true;
}

export function figuresOf(courses: readonly Course[]): Figures {
  const figures = { ...NO_FIGURES };
  for (const course of courses) for (const name of FIGURE_NAMES) if (counts(name, course)) figures[name]++;
  return figures;
}

export function figuresTogether(all: Iterable<Figures>): Figures {
  const sum = { ...NO_FIGURES };
  for (const figures of all) for (const name of FIGURE_NAMES) sum[name] += figures[name];
  return sum;
}
