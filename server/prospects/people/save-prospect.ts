import { z } from "zod";
import { isZone } from "../../../core/calendar.ts";
import { checkAddress } from "../../../core/prospects/address.ts";
import { countryCode } from "../../../core/prospects/cleaning/places.ts";
import { fieldOfCode, OWN_CODES } from "../../../core/prospects/fields.ts";
import { STAGES } from "../../../core/prospects/stages.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { changeField } from "../../consequences/change-field.ts";
import { recordChange } from "../../db/changes.ts";
import { isField, readField, writeField } from "../../db/fields.ts";
import { transact } from "../../db/open.ts";
import { forgetVerdict, prospectIdByEmail } from "../../db/prospects.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { reconsiderHolds } from "../../sequences/reconsider-holds.ts";
import { askVerify } from "../addresses/verify-addresses.ts";

/** Fills in what a merge field takes its value from. */
export function fillField(
  app: App,
  userId: number | null,
  { prospectId, field, value }: { prospectId: number; field: string; value: string },
): Outcome<null> {
  const no = mayNot(app, userId, "prospect.change", prospectId);
  if (no) return no;
  const typed = value.trim().slice(0, 200);
  if (typed === "") return refused({ [field]: "Type what belongs there." });
  const stored = fieldOfCode(field);
  if (stored && stored in OWN_CODES) return saveProspect(app, userId, { id: prospectId, [stored]: typed });
  if (stored) return refused({ company: "Set the company on the prospect's own page." });
  if (!isField(`custom:${field}`)) return refused({ form: "Choose a field." });
  const { clock } = app;
  transact(app, (app) => {
    const { db } = app;
    const before = readField(db, prospectId, `custom:${field}`);
    writeField(db, prospectId, `custom:${field}`, typed);
    recordChange(db, {
      prospectId,
      field: `custom:${field}`,
      before,
      after: typed,
      source: "edit",
      sourceId: null,
      userId,
      at: clock.now(),
    });
    reconsiderHolds(app, { prospectId });
  });
  return done(null);
}

const text = z.string().trim().max(200).optional();
const form = z.object({
  id: z.coerce.number().int(),
  email: text.refine(
    (email) => !email || checkAddress(email).ok,
    "This is no address. Example: ilse@kaimuseum.example",
  ),
  firstName: text,
  lastName: text,
  title: text,
  city: text,
  country: text,
  phone: text,
  profile: text,
  stage: z.enum(STAGES).optional(),
  owner: text,
  timeZone: text.refine(
    (zone) => !zone || isZone(zone),
    "There is no time zone of this name. Example: Europe/Lisbon",
  ),
});

/** What somebody typed into a field, as it is stored: a country's name as its code. */
export const typedValue = (field: string, text: string): string =>
  field === "country" ? (countryCode(text) ?? text) : text;

/** Changes what the form holds of a prospect's fields, and keeps what was there; journeys that waited for an empty one go on. */
export function saveProspect(app: App, userId: number | null, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, ...fields } = read.data;
  const no = mayNot(app, userId, "prospect.change", id);
  if (no) return no;
  const { db, clock } = app;
  const now = clock.now();
  if (fields.email) {
    fields.email = fields.email.toLowerCase();
    const other = prospectIdByEmail(db, fields.email);
    if (other !== null && other !== id)
      return refused({ email: "Somebody else has this address. Merge the two under Duplicates." });
  }
  transact(app, (app) => {
    const { db } = app;
    for (const [field, typed] of Object.entries(fields)) {
      if (typed === undefined) continue;
      const before = readField(db, id, field);
      const after = typedValue(field, typed);
      if (before === after) continue;
      changeField(db, { prospectId: id, at: now, userId }, field, after);
      recordChange(db, {
        prospectId: id,
        field,
        before,
        after,
        source: "edit",
        sourceId: null,
        userId,
        at: now,
      });
      if (field !== "email") continue;
      forgetVerdict(db, id);
      if (after !== "") askVerify(app, userId, { prospectIds: [id] });
    }
    reconsiderHolds(app, { prospectId: id });
  });
  return done(null);
}
