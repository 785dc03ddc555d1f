/** Somebody of whom another program tells: found by their address or added, with what it says of them. */
import { customFieldName } from "../../../core/prospects/columns.ts";
import { PERSON_FIELDS } from "../../../core/prospects/fields.ts";
import type { AppTx } from "../../app.ts";
import { CUSTOM } from "../../db/fields.ts";
import { noteCustomFields, prospectIdByEmail } from "../../db/prospects.ts";
import { done, type Outcome } from "../../errors.ts";
import { addProspect } from "./add-prospect.ts";
import { saveProspect } from "./save-prospect.ts";

/** By the names of fields, the team's own by "custom:name". */
export type Given = Readonly<Record<string, string>>;

/** The team's own fields among them; a new name becomes a field. */
export function ownFieldsOf(app: AppTx, given: Given): Record<string, string> {
  const own = Object.entries(given)
    .filter(([field]) => field.startsWith(CUSTOM))
    .map(([field, value]) => [customFieldName(field.slice(CUSTOM.length)), value] as const);
  noteCustomFields(
    app.db,
    own.map(([name]) => name),
  );
  return Object.fromEntries(own.map(([name, value]) => [`${CUSTOM}${name}`, value]));
}

/** A colleague's person stays as they are, and is found all the same. `list`: on which somebody comes who is new. */
export function takePerson(
  app: AppTx,
  by: number,
  given: Given,
  list: string,
): Outcome<{ prospectId: number; isNew: boolean }> {
  const email = (given.email ?? "").toLowerCase();
  const known = email === "" ? null : prospectIdByEmail(app.db, email);
  const fields = Object.fromEntries(
    PERSON_FIELDS.flatMap((field) => (field !== "email" && given[field] ? [[field, given[field]]] : [])),
  );
  const own = ownFieldsOf(app, given);
  let prospectId = known;
  if (prospectId === null) {
    const added = addProspect(app, by, { email, ...fields, listName: list });
    if (!added.ok) return added;
    prospectId = added.value.id;
  }
  const changes = known === null ? own : { ...own, ...fields };
  if (Object.keys(changes).length > 0) {
    const saved = saveProspect(app, by, { id: prospectId, ...changes });
    if (!saved.ok && saved.code !== "not_yours") return saved;
  }
  return done({ prospectId, isNew: known === null });
}
