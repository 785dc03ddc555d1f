/** How long nobody answered, with those of whom it is not known yet: E. L. Kaplan and P. Meier (1958). */

/** One person: after how many touches (or days) they answered, or until when nothing was known. */
export interface Waited {
  at: number;
  answered: boolean;
}

export interface SurvivalStep {
  at: number;
  /** Had got so far without an answer. */
  atRisk: number;
  answered: number;
  /** The share that has not answered after this; its standard error by M. Greenwood (1926). */
  silent: number;
  error: number;
}

/** A step for each `at` at which somebody answered, in order. */
export function survivalOf(courses: readonly Waited[]): SurvivalStep[] {
  const ends = new Map<number, { answered: number; censored: number }>();
  for (const { at, answered } of courses) {
    const end = ends.get(at) ?? { answered: 0, censored: 0 };
    end[answered ? "answered" : "censored"]++;
    ends.set(at, end);
  }
  let atRisk = courses.length;
  let silent = 1;
  let variance = 0;
  const steps: SurvivalStep[] = [];
  for (const [at, { answered, censored }] of [...ends].sort(([one], [other]) => one - other)) {
    if (answered > 0) {
      silent *= 1 - answered / atRisk;
      variance += answered === atRisk ? 0 : answered / (atRisk * (atRisk - answered));
      steps.push({ at, atRisk, answered, silent, error: silent * Math.sqrt(variance) });
    }
    atRisk -= answered + censored;
  }
  return steps;
}
