/** Another program calls a rule at the rule's own address, with JSON about somebody. */
import { z } from "zod";
import { customFieldName } from "../../core/prospects/columns.ts";
import { PERSON_FIELDS } from "../../core/prospects/fields.ts";
import type { App } from "../app.ts";
import { CUSTOM } from "../db/fields.ts";
import { noteHappening } from "../db/listeners.ts";
import { sql, transact } from "../db/open.ts";
import { noteCustomFields, prospectIdByEmail } from "../db/prospects.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { addProspect } from "../prospects/people/add-prospect.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { allRules } from "./rules.ts";

const LONGEST = 200;

/** What stands at "contact.email", or at "people.0.email"; "" for what is no text or number. */
export function valueAt(body: unknown, path: string): string {
  let at: unknown = body;
  for (const part of path.split(".")) {
    if (typeof at !== "object" || at === null || !Object.hasOwn(at, part)) return "";
    at = (at as Record<string, unknown>)[part];
  }
  return typeof at === "string" || typeof at === "number" || typeof at === "boolean"
    ? String(at).trim().slice(0, LONGEST)
    : "";
}

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
  const email = (given.email ?? "").toLowerCase();
  return transact(app, (app): Outcome<{ prospectId: number }> => {
    let prospectId = email === "" ? null : prospectIdByEmail(app.db, email);
    const fields = Object.fromEntries(
      Object.entries(given).filter(
        ([field]) => field !== "email" && PERSON_FIELDS.some((each) => each === field),
      ),
    );
    const isNew = prospectId === null;
    if (prospectId === null) {
      const added = addProspect(app, rule.ownerId, { email, ...fields, listName: list || rule.name });
      if (!added.ok) return added;
      prospectId = added.value.id;
    }
    const own = Object.entries(given).filter(([field]) => field.startsWith(CUSTOM));
    const changes = Object.fromEntries(
      own.map(([field, value]) => [`${CUSTOM}${customFieldName(field.slice(CUSTOM.length))}`, value]),
    );
    noteCustomFields(
      app.db,
      Object.keys(changes).map((field) => field.slice(CUSTOM.length)),
    );
    if (Object.keys({ ...changes, ...(isNew ? {} : fields) }).length > 0) {
      const saved = saveProspect(app, rule.ownerId, { id: prospectId, ...changes, ...(isNew ? {} : fields) });
      // A colleague's person stays as they are; that they were called about is news all the same.
      if (!saved.ok && saved.code !== "not_yours") return saved;
    }
    noteHappening(app.db, { kind: "rule.called", at: app.clock.now(), prospectId, detail: String(rule.id) });
    return done({ prospectId });
  });
}
