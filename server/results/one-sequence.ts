/** The results of one sequence: its figures, its steps, and what the shown part and the margin ask of the same starts. */
import { DAY, dayNumberOf, textOfDay, workingDayAfter } from "../../core/calendar.ts";
import { creditOf, type Green } from "../../core/results/credit.ts";
import { type Figures, figuresOf } from "../../core/results/figures.ts";
import { type Evidence, type Finding, findingsOf, type WordedStep } from "../../core/results/findings.ts";
import { type Group, groupsOf } from "../../core/results/groups.ts";
import { type Hour, hoursOf, type Stretch, stretchesOf } from "../../core/results/hours.ts";
import { type HowLong, howLong } from "../../core/results/how-long.ts";
import { noStepFigures, type StepFigures, stepFigures } from "../../core/results/steps.ts";
import {
  CHANNEL_OF,
  type Channel,
  everyStep,
  isEmail,
  type Path,
  type StepKind,
} from "../../core/sequence/path.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import type { Db } from "../db/open.ts";
import { pathOfVersion, stepsEver, versionsOf } from "../db/sequences.ts";
import { versionsSaying } from "../sequences/brought.ts";
import { sequenceOf } from "../sequences/open-sequence.ts";
import { knownOf, sentAt, someoneOf } from "./answerers.ts";
import { type Look, type Material, materialOf } from "./look.ts";

export interface StepResult extends StepFigures {
  name: string;
  kind: StepKind;
  channel: Channel;
  /** It is in the path that is drawn no longer. */
  isRemoved: boolean;
}

export interface SequenceResults {
  id: number;
  name: string;
  version: number;
  versions: number[];
  path: Path;
  figures: Figures;
  /** Those of the drawn path first, in its order. */
  steps: StepResult[];
  worded: WordedStep[];
  hours: Hour[];
  stretches: Stretch[];
  groups: Group[];
  howLong: HowLong;
  findings: Finding[];
  /** The first and the last day of their starts; null: nobody was started. */
  began: string | null;
  lastStart: string | null;
}

const LATELY = 28 * DAY;
const WORKING_DAYS_LATELY = 20;

/** Null where there is no such sequence, or it is not theirs to see. */
export function sequenceResults(
  app: App,
  by: By,
  id: number,
  look: Look,
  zone: string,
): SequenceResults | null {
  const sequence = sequenceOf(app, by, id);
  if (!sequence) return null;
  const { db } = app;
  const material = materialOf(app, by, id, look, zone);
  const { starts, touches } = material;
  const versions = versionsOf(db, id);
  const path =
    look.version && versions.includes(look.version) ? pathOfVersion(db, id, look.version) : sequence.path;
  const steps = stepResults(db, id, path, material, look);
  const times = starts.map(({ startedAt }) => startedAt);
  const latest = times.length === 0 ? 0 : times.reduce((most, each) => Math.max(most, each));
  const known = knownOf(db, id);
  const sent = sentAt(material, known, zone, look.green);
  const worded = wordedSteps(db, id, path, material, look.green, latest);
  const found: Omit<Evidence, "steps"> & { steps: StepResult[] } = {
    green: look.green,
    figures: figuresOf(starts),
    aMonth: starts.filter(({ startedAt }) => startedAt > latest - LATELY).length,
    steps,
    worded,
    groups: groupsOf(someoneOf(app, by, id, material, known, look.green)),
    stretches: stretchesOf(sent),
    howLong: howLong(starts, touches, look.green),
  };
  return {
    id,
    name: sequence.name,
    version: look.version ?? sequence.version,
    versions,
    path,
    ...found,
    hours: hoursOf(sent),
    findings: findingsOf({
      ...found,
      steps: steps.map((step) => ({ ...step, isCall: step.channel === "call" })),
    }),
    began:
      times.length === 0
        ? null
        : dayText(
            times.reduce((least, each) => Math.min(least, each)),
            zone,
          ),
    lastStart: times.length === 0 ? null : dayText(latest, zone),
  };
}

const dayText = (at: number, zone: string) => textOfDay(dayNumberOf(at, zone));

function stepResults(
  db: Db,
  id: number,
  path: Path,
  { starts, touches }: Material,
  look: Look,
): StepResult[] {
  const figures = stepFigures(starts, touches, look.credit);
  const drawn = everyStep(path);
  const ever = stepsEver(db, id);
  const removed = [...figures.keys()].filter((stepId) => !drawn.some((step) => step.id === stepId));
  return [...drawn, ...removed.flatMap((stepId) => ever.get(stepId) ?? [])].map((step) => ({
    ...(figures.get(step.id) ?? noStepFigures(step.id)),
    name: step.name,
    kind: step.kind,
    channel: CHANNEL_OF[step.kind],
    isRemoved: removed.includes(step.id),
  }));
}

/** The wordings of the path's emails, each with how many it reached since it says what it says, and what answered it. */
function wordedSteps(
  db: Db,
  sequenceId: number,
  path: Path,
  material: Material,
  green: Green,
  latest: number,
): WordedStep[] {
  const steps = everyStep(path).filter(isEmail);
  const worded = steps.filter(({ variants }) => variants.length > 1);
  if (worded.length === 0) return [];
  const owed = owedTouches(material, green);
  const made = [...material.touches.values()].flat();
  return worded.map(({ id, name, variants }) => {
    const got = made.filter((touch) => touch.stepId === id && touch.isReached);
    return {
      stepId: id,
      name,
      wordings: variants.map((variant) => {
        const versions = versionsSaying(db, sequenceId, id, variant);
        const own = got.filter(
          ({ variantId, version }) => variantId === variant.id && (version === null || versions.has(version)),
        );
        return {
          id: variant.id,
          part: own.filter(({ touchId }) => owed.has(touchId)).length,
          whole: own.length,
        };
      }),
      aDay: got.filter(({ at }) => at > latest - LATELY).length / WORKING_DAYS_LATELY,
    };
  });
}

function owedTouches({ starts, touches }: Material, green: Green): Set<number> {
  return new Set(
    starts.flatMap((start) =>
      creditOf(start, touches.get(start.id) ?? [], green, "answered").map(({ touch }) => touch.touchId),
    ),
  );
}

/** The working day on which something is settled, so many from now. */
export const settledOn = (now: number, days: number, zone: string): string =>
  workingDayAfter(now, days, [1, 2, 3, 4, 5], zone);
