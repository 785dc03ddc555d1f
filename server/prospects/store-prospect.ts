/** The one door through which people come in, whatever brings them: a file, the directory, a form, the rep. */
import type { FieldChange, PersonFields } from "../../core/prospects/cleaning/person.ts";
import { companyFinder } from "../db/companies.ts";
import { type Db, sql } from "../db/open.ts";

export interface Intake {
  /** "" if none is known. */
  email: string;
  fields: PersonFields;
  custom: Record<string, string>;
  changes: FieldChange[];
}

export interface IntakeDoor {
  origin: "import" | "directory" | "typed" | "form";
  originId: number | null;
  ownerId: number | null;
  listId: number | null;
  importId: number | null;
  now: number;
}

export interface Stored {
  id: number;
  isNew: boolean;
}

/** Stores people one by one, with what cleaning changed of them, and puts them on the list. Those whose address is known stay as they are. */
export function prospectStore(db: Db, door: IntakeDoor): (intake: Intake) => Stored {
  const companyOf = companyFinder(db);
  const companyName = sql<{ id: number }, { name: string }>(db, "SELECT name FROM companies WHERE id = @id");
  const insert = sql<Record<string, unknown>>(
    db,
    `INSERT INTO prospects (email, first_name, last_name, company_id, company, title, city, country, time_zone, phone,
       profile, custom, owner_id, origin, origin_id, created_at)
     VALUES (@email, @firstName, @lastName, @companyId, @company, @title, @city, @country, @timeZone, @phone,
       @profile, @custom, @ownerId, @origin, @originId, @now)
     ON CONFLICT (email) DO NOTHING`,
  );
  const known = sql<{ email: string }, { id: number }>(
    db,
    "SELECT coalesce(merged_into, id) AS id FROM prospects WHERE email = @email",
  );
  const clean = sql<Record<string, unknown>>(
    db,
    `INSERT INTO cleanings (prospect_id, field, original, cleaned, rules)
     VALUES (@id, @field, @before, @after, @rules)`,
  );
  const enlist = sql<Record<string, unknown>>(
    db,
    `INSERT INTO list_prospects (list_id, prospect_id, import_id) VALUES (@listId, @id, @importId) ON CONFLICT DO NOTHING`,
  );
  const names = new Map<number, string>();
  const nameOf = (id: number) => {
    let name = names.get(id);
    if (name === undefined) {
      name = companyName.get({ id })?.name ?? "";
      names.set(id, name);
    }
    return name;
  };
  const { listId, importId, now, origin, originId, ownerId } = door;

  return ({ email, fields, custom, changes }) => {
    const companyId = companyOf({ name: fields.company, domain: fields.companyDomain });
    const result = insert.run({
      ...fields,
      email: email || null,
      companyId,
      company: companyId === null ? "" : nameOf(companyId),
      timeZone: fields.timeZone || null,
      custom: JSON.stringify(custom),
      ownerId,
      origin,
      originId,
      now,
    });
    const isNew = result.changes === 1;
    const id = isNew ? Number(result.lastInsertRowid) : (known.get({ email })?.id as number);
    if (isNew)
      for (const { field, before, after, rules } of changes)
        clean.run({ id, field, before, after, rules: rules.join(",") });
    if (listId !== null) enlist.run({ listId, id, importId });
    return { id, isNew };
  };
}
