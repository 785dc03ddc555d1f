/**
 * A sequence's steps: what a rep writes, saved as numbered versions. A step keeps its id through
 * every version, so that a prospect who already got it never gets it again after an edit.
 */
import { z } from "zod";

export const MAX_STEPS = 20;
export const MAX_WAIT_DAYS = 60;

export const stepSchema = z.object({
  id: z.string().min(1).max(40),
  kind: z.literal("email"),
  name: z.string().trim().min(1, "Give the step a short name.").max(60),
  /** Working days after the step before; for the first step, after the start. */
  waitDays: z.number().int().min(0).max(MAX_WAIT_DAYS),
  /** Empty: the email goes in the thread of the one before. */
  subject: z.string().max(200, "A subject has at most 200 characters."),
  body: z.string().max(20_000, "An email has at most 20,000 characters."),
});

export const stepsSchema = z.array(stepSchema).max(MAX_STEPS, `At most ${MAX_STEPS} steps.`);
export type Step = z.infer<typeof stepSchema>;

/**
 * The steps a prospect still has ahead: those after the last one they got. A step that was put in
 * before that point later on is not caught up with.
 */
export function stepsAhead(steps: readonly Step[], doneIds: ReadonlySet<string>): Step[] {
  const lastDone = steps.findLastIndex((step) => doneIds.has(step.id));
  return steps.slice(lastDone + 1);
}

/** Whether the email goes in the thread of the one before it. */
export function isSameThread(steps: readonly Step[], index: number): boolean {
  return index > 0 && (steps[index]?.subject.trim() ?? "") === "";
}

/** The subject template of a step: its own, or that of the email which began its thread. */
export function threadSubject(steps: readonly Step[], index: number): string {
  for (let at = index; at >= 0; at--) {
    const subject = steps[at]?.subject.trim();
    if (subject) return subject;
  }
  return "";
}

/** The working day on which each step falls, counted from the start (day 0), if nothing waits. */
export function plannedDays(steps: readonly Step[]): number[] {
  let day = 0;
  return steps.map((step) => {
    day += step.waitDays;
    return day;
  });
}

export interface StepProblem {
  stepId: string;
  field: "subject" | "body" | "waitDays" | "name";
  message: string;
}

/** What keeps these steps from being started, one entry for each mistake; merge fields are checked in `writing`. */
export function stepProblems(steps: readonly Step[]): StepProblem[] {
  const problems: StepProblem[] = [];
  steps.forEach((step, index) => {
    if (index === 0 && step.subject.trim() === "")
      problems.push({
        stepId: step.id,
        field: "subject",
        message: "The first email needs a subject.",
      });
    if (step.body.trim() === "")
      problems.push({
        stepId: step.id,
        field: "body",
        message: `“${step.name}” has no text yet. Write it, or remove the step.`,
      });
    if (index > 0 && step.waitDays === 0)
      problems.push({
        stepId: step.id,
        field: "waitDays",
        message: "A follow-up waits at least one working day.",
      });
  });
  return problems;
}

/** Moves a step to another working day by changing its own wait and the next one's, so that the later steps stay where they are. */
export function moveStep(steps: readonly Step[], id: string, byDays: number): Step[] {
  const index = steps.findIndex((step) => step.id === id);
  const step = steps[index];
  if (!step) return [...steps];
  const shortest = index === 0 ? 0 : 1;
  const next = steps[index + 1];
  const most = next ? step.waitDays + next.waitDays - 1 : MAX_WAIT_DAYS;
  const waitDays = Math.min(Math.max(step.waitDays + byDays, shortest), most);
  const moved = waitDays - step.waitDays;
  return steps.map((each, at) => {
    if (at === index) return { ...each, waitDays };
    if (at === index + 1) return { ...each, waitDays: each.waitDays - moved };
    return each;
  });
}
