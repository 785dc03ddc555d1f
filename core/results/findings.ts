/**
 * What the numbers say: one catalogue of findings, each with what it rests on, how sure it is, what acting on it would be worth,
 * and the press that does it. Silent while the numbers are too small; of two that speak of the same, one is said.
 */
import { compareRates } from "./beta.ts";
import type { Green } from "./credit.ts";
import type { Figures } from "./figures.ts";
import type { Group } from "./groups.ts";
import type { Stretch } from "./hours.ts";
import type { HowLong } from "./how-long.ts";
import { chanceOfSuch } from "./many.ts";
import { type Share, shareOf } from "./share.ts";
import type { StepFigures } from "./steps.ts";
import { moreToSettle, verdictOf } from "./wordings.ts";

/** A step with its wordings; each with how many got it, and what it brought. */
export interface WordedStep {
  stepId: string;
  name: string;
  wordings: { id: string; part: number; whole: number }[];
  /** How many more get the step in a working day, as of late. */
  aDay: number;
}

export interface Evidence {
  green: Green;
  figures: Figures;
  /** People who are started in a month, as of late. */
  aMonth: number;
  /** In the order of the path. */
  steps: (StepFigures & { name: string; isCall: boolean })[];
  worded: WordedStep[];
  groups: Group[];
  stretches: Stretch[];
  howLong: HowLong;
}

export type Finding = {
  /** What it is about, for setting it aside: the same next week. */
  key: string;
  /** How many more a month are to be expected of acting on it. */
  worth: number;
} & (
  | { kind: "wording_better"; step: WordedStep; best: number; isBest: number }
  | { kind: "wordings_alike"; step: WordedStep }
  /**
   * `more`: people until it is settled; null: more than anybody has. `days`: working days at today's pace; null: there is none, or it
   * takes longer than anybody waits.
   */
  | { kind: "wordings_open"; step: WordedStep; more: number | null; days: number | null; isLong: boolean }
  | { kind: "end_early"; after: number; made: number; brought: number; before: Share }
  | { kind: "call_pays"; stepId: string; name: string; call: Share; emails: Share; chance: number }
  | { kind: "step_silent"; stepId: string; name: string; share: Share }
  | { kind: "group_differs"; group: Group }
  | { kind: "time_differs"; stretch: Stretch }
  | { kind: "many_bounce"; share: Share }
  | { kind: "many_opt_out"; share: Share }
);

/** A step that so many got and nobody answered can be spared. */
const SILENT_FROM = 60;
/** So many a hundred harm a mailbox's name. */
const MANY_BOUNCES = 0.03;
const MANY_OPT_OUTS = 0.02;
/** A difference by less than this chance is said to be real. */
const CHANCE = 0.05;
/** Of fewer people nothing is said, however far apart they are. */
const LEAST = 30;
const MOST = 6;

/** What harms comes first, since it stops everything else; then what is worth most. */
export function findingsOf(evidence: Evidence): Finding[] {
  const all = [
    ...harms(evidence),
    ...[
      ...wordings(evidence),
      ...endsEarly(evidence),
      ...calls(evidence),
      ...groups(evidence),
      ...times(evidence),
    ].sort((a, b) => b.worth - a.worth),
  ];
  return all.slice(0, MOST);
}

function harms({ figures: { written, reached, bounced, optedOut } }: Evidence): Finding[] {
  const found: Finding[] = [];
  const bounces = shareOf(bounced, written);
  // Surely above what a sender may lose, not by the chance of a first bad day.
  if (written >= LEAST && bounces.low > MANY_BOUNCES)
    found.push({ kind: "many_bounce", key: "many_bounce", worth: 0, share: bounces });
  const optOuts = shareOf(optedOut, reached);
  if (reached >= LEAST && optOuts.low > MANY_OPT_OUTS)
    found.push({ kind: "many_opt_out", key: "many_opt_out", worth: 0, share: optOuts });
  return found;
}

/** In working days. */
const A_YEAR = 250;

function wordings({ worded, aMonth, figures }: Evidence): Finding[] {
  return worded
    .filter(({ wordings }) => wordings.length > 1 && wordings.some(({ whole }) => whole > 0))
    .map((step): Finding => {
      const { wordings } = step;
      const verdict = verdictOf(wordings);
      const key = `wordings ${step.stepId}`;
      if (verdict.state === "alike") return { kind: "wordings_alike", key, worth: 0, step };
      if (verdict.state === "open") {
        const more = moreToSettle(wordings);
        const days = more !== null && step.aDay > 0 ? Math.ceil(more / step.aDay) : null;
        const isLong = days !== null && days > A_YEAR;
        return { kind: "wordings_open", key, worth: 0, step, more, days: isLong ? null : days, isLong };
      }
      const part = wordings.reduce((sum, each) => sum + each.part, 0);
      const whole = wordings.reduce((sum, each) => sum + each.whole, 0);
      const best = wordings[verdict.best] as WordedStep["wordings"][number];
      const gain = best.part / best.whole - part / whole;
      return {
        kind: "wording_better",
        key,
        worth: aMonth * (whole / Math.max(1, figures.started)) * gain,
        step,
        best: verdict.best,
        isBest: compareRates(wordings)[verdict.best]?.isBest ?? 0,
      };
    });
}

/** The tail that hardly brings anything, or else single steps that nobody answers: never both of the same steps. */
function endsEarly({ howLong, steps, aMonth, figures, green }: Evidence): Finding[] {
  const { enough, touches } = howLong;
  if (enough) {
    const before = touches.slice(0, enough.after);
    const made = before.reduce((sum, each) => sum + each.made, 0);
    const share = shareOf(
      before.reduce((sum, each) => sum + each.brought, 0),
      made,
    );
    // What is spared goes to new people, who bring what the first touches bring.
    const spared = (aMonth * enough.made) / Math.max(1, figures.started);
    const worth =
      spared * (share.part / Math.max(1, made)) - (aMonth * enough.brought) / Math.max(1, figures.started);
    return [{ kind: "end_early", key: "end_early", worth, ...enough, before: share }];
  }
  return steps
    .filter(
      ({ reached, brought }) => reached >= SILENT_FROM && brought.answered === 0 && brought[green] === 0,
    )
    .map(({ stepId, name, reached }) => ({
      kind: "step_silent",
      key: `step_silent ${stepId}`,
      worth: 0,
      stepId,
      name,
      share: shareOf(0, reached),
    }));
}

/** A call against the emails around it: what each brings of those who got it. */
function calls({ steps, green, aMonth, figures }: Evidence): Finding[] {
  const sum = (some: Evidence["steps"]) => ({
    part: Math.round(some.reduce((all, { brought }) => all + brought[green], 0)),
    whole: some.reduce((all, { made }) => all + made, 0),
  });
  // The first email opens every door: what follows is what a call stands against.
  const emails = sum(steps.slice(1).filter(({ isCall, reached }) => !isCall && reached > 0));
  if (emails.whole < LEAST) return [];
  return steps
    .filter(({ isCall, made }) => isCall && made >= LEAST)
    .map((step) => ({ step, own: sum([step]) }))
    .filter(({ own }) => own.part / own.whole > emails.part / emails.whole)
    .map(({ step, own }): Finding & { chance: number } => ({
      kind: "call_pays",
      key: `call_pays ${step.stepId}`,
      worth: (aMonth * own.part) / Math.max(1, figures.started),
      stepId: step.stepId,
      name: step.name,
      call: shareOf(own.part, own.whole),
      emails: shareOf(emails.part, emails.whole),
      chance: chanceOfSuch(own, emails),
    }))
    .filter(({ chance }) => chance <= CHANCE);
}

/** Of the groups that differ, each attribute's clearest: those of one attribute say the same from both sides. */
function groups({ groups: all, aMonth, figures }: Evidence): Finding[] {
  const said = new Set<string>();
  return all
    .filter(({ differs, attribute }) => {
      if (!differs || said.has(attribute)) return false;
      said.add(attribute);
      return true;
    })
    .map((group) => {
      const { own, rest } = group;
      const gain = Math.abs(own.part / own.whole - rest.part / rest.whole);
      return {
        kind: "group_differs",
        key: `group ${group.attribute} ${group.value}`,
        worth: (aMonth * gain * Math.min(own.whole, rest.whole)) / Math.max(1, figures.started),
        group,
      };
    });
}

/** A time that is surely better than the others; that one is worse is the same said twice. */
function times({ stretches, aMonth, figures }: Evidence): Finding[] {
  const stretch = stretches.find(
    ({ differs, own, rest }) => differs && own.part / own.whole > rest.part / rest.whole,
  );
  if (!stretch) return [];
  const { own, rest } = stretch;
  const gain = own.part / own.whole - rest.part / rest.whole;
  return [
    {
      kind: "time_differs",
      key: `time ${stretch.by} ${stretch.from}`,
      worth: (aMonth * gain * rest.whole) / Math.max(1, figures.started),
      stretch,
    },
  ];
}
