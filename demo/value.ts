import type { Outcome } from "../server/errors.ts";

/** What a use case gave. Throws where it refused: the demo asks for nothing that may be. */
export function value<T>(outcome: Outcome<T>): T {
  if (!outcome.ok) throw new Error(Object.values(outcome.errors).join(" "));
  return outcome.value;
}
