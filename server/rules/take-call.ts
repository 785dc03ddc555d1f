/** Another program calls a rule at the rule's own address, with JSON about somebody. */
import { z } from "zod";
import { valueAt } from "../../core/connections/json-path.ts";
import type { App } from "../app.ts";
import { noteHappening } from "../db/listeners.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { takePerson } from "../prospects/people/take-person.ts";
import { allRules } from "./rules.ts";

const bodySchema = z.record(z.string(), z.unknown());

/**
 * Finds or adds whom it is about, as the rule's owner would, and sets the rule off. Somebody known keeps their fields, but
 * for those that the rule maps and its owner may change.
 */
export function takeCall(app: App, address: string, input: unknown): Outcome<{ prospectId: number }> {
  const known = sql(app.db, "SELECT id FROM rules WHERE address = @address").get<{ id: number }>({ address });
  const rule = known && allRules(app).find(({ id }) => id === known.id);
  if (rule?.rule.when.kind !== "called")
    return { ...refused({ form: "Nobody listens at this address." }), code: "not_found" };
  if (rule.state !== "on") return refused({ form: "This rule is switched off." });
  const read = bodySchema.safeParse(input);
  if (!read.success) return refused({ form: "Send a JSON object." });
  const { list, mapping } = rule.rule.when;
  const given = Object.fromEntries(
    Object.entries(mapping)
      .map(([field, path]): [string, string] => [field, valueAt(read.data, path)])
      .filter(([, value]) => value !== ""),
  );
  return transact(app, (app): Outcome<{ prospectId: number }> => {
    const taken = takePerson(app, rule.ownerId, given, list || rule.name);
    if (!taken.ok) return taken;
    const { prospectId } = taken.value;
    noteHappening(app.db, { kind: "rule.called", at: app.clock.now(), prospectId, detail: String(rule.id) });
    return done({ prospectId });
  });
}
