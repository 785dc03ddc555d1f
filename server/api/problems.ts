/** What the API answers where it cannot do what was asked: problem details (RFC 9457), of a closed list. */
import { z } from "zod";
import type { Refused } from "../errors.ts";

const PROBLEMS = {
  no_key: [401, "There is no good key."],
  scope_missing: [403, "The key is not good for this."],
  not_yours: [403, "This belongs to somebody else of the team."],
  not_found: [404, "There is no such thing."],
  precondition_failed: [412, "It has changed meanwhile."],
  in_progress: [409, "The same request is under way."],
  key_reused: [422, "This Idempotency-Key was used for another request."],
  invalid: [422, "What was sent cannot be used."],
  unreadable: [400, "The body is no JSON."],
  too_large: [413, "This is more than may be sent at once."],
  too_many: [429, "Too many requests."],
  busy: [503, "The database is busy with another program's work."],
  failed: [500, "Something went wrong here."],
} as const;
export type ProblemCode = keyof typeof PROBLEMS;

export const problemSchema = z
  .object({
    type: z.string().meta({ description: "urn:saudade:problem: and one of a closed list." }),
    title: z.string(),
    status: z.number().int(),
    detail: z.string().optional().meta({ description: "What to do about it." }),
    errors: z
      .array(z.object({ field: z.string(), message: z.string() }))
      .optional()
      .meta({ description: "What is wrong with which part of it." }),
  })
  .meta({ id: "Problem" });
export type Problem = z.infer<typeof problemSchema>;

export const PROBLEM_CODES = Object.keys(PROBLEMS) as ProblemCode[];
export const statusOf = (code: ProblemCode): number => PROBLEMS[code][0];

export function problem(code: ProblemCode, detail?: string, errors?: Problem["errors"]): Problem {
  const [status, title] = PROBLEMS[code];
  return {
    ...{ type: `urn:saudade:problem:${code}`, title, status },
    ...(detail === undefined ? {} : { detail }),
    ...(errors === undefined ? {} : { errors }),
  };
}

/** A use case's refusal as a problem. */
export function problemOf({ errors, code }: Refused): Problem {
  const kind: ProblemCode = code === "not_found" || code === "not_yours" ? code : "invalid";
  const fields = Object.entries(errors).filter(([field]) => field !== "form");
  return problem(
    kind,
    errors.form ?? fields[0]?.[1],
    fields.length === 0 ? undefined : fields.map(([field, message]) => ({ field, message })),
  );
}
