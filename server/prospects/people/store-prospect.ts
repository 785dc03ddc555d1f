/** The one door through which people come in, whatever brings them: a file, the directory, a form, the rep. */

import { fold } from "../../../core/fold.ts";
import { companyKey } from "../../../core/prospects/cleaning/companies.ts";
import type { FieldChange, PersonFields } from "../../../core/prospects/cleaning/person.ts";
import { cleaningKeeper } from "../../db/cleanings.ts";
import { companyFinder } from "../../db/companies.ts";
import { type Db, sql } from "../../db/open.ts";
import { noteCustomFields } from "../../db/prospects.ts";

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
  const companyName = sql(db, "SELECT name FROM companies WHERE id = @id");
  // By position, like the others of the innermost loop: an import binds them 100,000 times.
  const insert = sql(
    db,
    `INSERT INTO prospects (email, first_name, last_name, company_id, company, title, city, country, time_zone, language, phone,
       profile, custom, owner_id, origin, origin_id, created_at, found_by)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (email) DO NOTHING`,
  );
  const known = sql(db, "SELECT coalesce(merged_into, id) AS id FROM prospects WHERE email = @email");
  const keepCleaning = cleaningKeeper(db);
  const enlist = sql(
    db,
    "INSERT INTO list_prospects (list_id, prospect_id, import_id) VALUES (?, ?, ?) ON CONFLICT DO NOTHING",
  );
  const names = new Map<number, string>();
  const customs = new Set<string>();
  const nameOf = (id: number) => {
    let name = names.get(id);
    if (name === undefined) {
      name = companyName.get<{ name: string }>({ id })?.name ?? "";
      names.set(id, name);
    }
    return name;
  };
  const words = new Map<string, string>();
  /** What somebody's company is called for them: in their own word, unless it is the house's in another spelling. */
  const wordFor = (id: number, own: string): string => {
    const house = nameOf(id);
    if (own === "" || own === house) return house;
    const key = `${id}\n${own}`;
    let word = words.get(key);
    if (word === undefined) {
      word = companyKey(own) === companyKey(house) ? house : own;
      words.set(key, word);
    }
    return word;
  };
  const { listId, importId, now, origin, originId, ownerId } = door;

  return ({ email, fields, custom, changes }) => {
    const companyId = companyOf({ name: fields.company, domain: fields.companyDomain });
    const company = companyId === null ? "" : wordFor(companyId, fields.company);
    const { firstName, lastName, title, city, country, timeZone, language, phone, profile } = fields;
    const named = [email || null, firstName, lastName, companyId, company, title, city, country];
    const more = [
      timeZone || null,
      // What was found before there was such a field has none.
      language || "",
      phone,
      profile,
      JSON.stringify(custom),
      ownerId,
      origin,
      originId,
      now,
    ];
    const foundBy = fold(`${firstName} ${lastName}\n${company}\n${email ?? ""}`);
    const result = insert.run([...named, ...more, foundBy]);
    const isNew = result.changes === 1;
    const id = isNew ? Number(result.lastInsertRowid) : (known.get<{ id: number }>({ email })?.id as number);
    if (isNew) keepCleaning(id, changes);
    for (const name in custom)
      if (!customs.has(name)) {
        noteCustomFields(db, [name]);
        customs.add(name);
      }
    if (listId !== null) enlist.run([listId, id, importId]);
    return { id, isNew };
  };
}
