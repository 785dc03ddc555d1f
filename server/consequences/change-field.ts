import { STAGES } from "../../core/prospects/stages.ts";
import { writeField } from "../db/fields.ts";
import type { Tx } from "../db/open.ts";
import { apply } from "./apply.ts";

/** Writes one field of a prospect as a person set it. A stage has consequences: where a sequence stops at it, it stops. */
export function changeField(
  db: Tx,
  { prospectId, at, userId }: { prospectId: number; at: number; userId: number | null },
  field: string,
  value: string,
): void {
  const stage = field === "stage" ? STAGES.find((each) => each === value) : undefined;
  if (stage) apply(db, { kind: "stage_set", stage }, { at, prospectId, userId });
  else writeField(db, prospectId, field, value);
}
