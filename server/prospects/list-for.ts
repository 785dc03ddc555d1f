/** The list that people are put on, by its name: one's own if it is new, else one that may be changed. */
import type { Sharing } from "../../core/team/may.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { AppTx } from "../app.ts";
import { listIdOf, listNamed } from "../db/lists.ts";
import { done, type Outcome } from "../errors.ts";

/** `sharing`: of a list that is made by it. */
export function listFor(app: AppTx, by: By, name: string, sharing: Sharing = "use"): Outcome<number> {
  const known = listIdOf(app.db, name);
  const no = known === null ? mayNot(app, by, "list.create") : mayNot(app, by, "list.change", known);
  if (no)
    return { ...no, errors: { ...no.errors, listName: no.errors.form ?? "", name: no.errors.form ?? "" } };
  return done(known ?? listNamed(app.db, name, app.clock.now(), { ownerId: by, sharing }));
}
