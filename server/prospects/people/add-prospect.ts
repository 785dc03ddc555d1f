import { z } from "zod";
import { domainOf, readAddress } from "../../../core/prospects/address.ts";
import { cleanPerson, type PersonFields } from "../../../core/prospects/cleaning/person.ts";
import { PERSON_FIELDS, type PersonField } from "../../../core/prospects/fields.ts";
import type { Sharing } from "../../../core/team/may.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { erasedCheck } from "../../db/erased.ts";
import { sql, transact } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { askVerify } from "../addresses/verify-addresses.ts";
import { listFor } from "../list-for.ts";
import { prospectStore } from "./store-prospect.ts";

const text = z.string().trim().max(200).default("");
const form = z.object({
  ...(Object.fromEntries(PERSON_FIELDS.map((field) => [field, text])) as Record<PersonField, typeof text>),
  listName: z.string().trim().min(1, "Name the list that they go on.").max(80),
});

/** Adds one person that the rep typed in, cleaned like everybody else. Returns their id; somebody known is put on the list. */
export function addProspect(
  app: App,
  userId: number,
  input: unknown,
  /** Of the list, if it is made by this. */
  sharing: Sharing = "use",
): Outcome<{ id: number; isNew: boolean }> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { email: typed, listName, ...typedFields } = read.data;
  const address = readAddress(typed);
  if (!address.ok && !address.isEmpty) return refused({ email: `This is no address: ${address.reason}.` });
  // Somebody who types can say it themselves; a guess is for files.
  if (address.ok && address.note !== null)
    return refused({ email: `This is no address as it stands. Do you mean ${address.address}?` });
  const email = address.ok ? address.address : "";
  if (
    email === "" &&
    (typedFields.lastName === "" || (typedFields.company === "" && typedFields.companyDomain === ""))
  )
    return refused({ email: "Type an address, or a last name and a company by which one can be found." });
  if (erasedCheck(app)(email))
    return refused({ email: "This person was erased for good and cannot be added again." });
  const raw: PersonFields = typedFields;
  if (raw.companyDomain === "" && email !== "") raw.companyDomain = domainOf(email);
  const { fields, changes } = cleanPerson(raw);
  const { clock } = app;
  const now = clock.now();
  return transact(app, (app): Outcome<{ id: number; isNew: boolean }> => {
    const { db } = app;
    const list = listFor(app, userId, listName, sharing);
    if (!list.ok) return list;
    const listId = list.value;
    const store = prospectStore(db, {
      origin: "typed",
      originId: null,
      ownerId: userId,
      listId,
      importId: null,
      now,
    });
    const stored = store({ email, fields, custom: {}, changes });
    if (email !== "") askVerify(app, userId, { prospectIds: [stored.id] });
    return done(stored);
  });
}

const note = z.object({
  id: z.coerce.number().int(),
  text: z.string().trim().min(1, "Write something first.").max(4_000),
});

/** Writes a note about somebody. */
export function addNote(app: App, userId: number, input: unknown): Outcome<null> {
  const read = note.safeParse(input);
  if (!read.success) return refused({ note: fieldErrors(read.error).text ?? "Write something first." });
  const no = mayNot(app, userId, "prospect.see", read.data.id);
  if (no) return no;
  const { db, clock } = app;
  sql(db, "INSERT INTO notes (prospect_id, user_id, text, at) VALUES (@id, @userId, @text, @now)").run({
    ...read.data,
    userId,
    now: clock.now(),
  });
  return done(null);
}
