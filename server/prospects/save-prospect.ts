import { z } from "zod";
import { isZone } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { releaseHolds } from "../db/journeys.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

const text = z.string().trim().max(200);
const form = z.object({
  id: z.coerce.number().int(),
  firstName: text,
  lastName: text,
  title: text,
  city: text,
  country: text,
  timeZone: text.refine(
    (zone) => zone === "" || isZone(zone),
    "There is no time zone of this name. Example: Europe/Lisbon",
  ),
});

/** Changes a prospect's fields; journeys that waited for an empty one go on. */
export function saveProspect({ db }: App, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { timeZone, ...fields } = read.data;
  db.transaction(() => {
    sql<Record<string, unknown>>(
      db,
      `UPDATE prospects SET first_name = @firstName, last_name = @lastName, title = @title, city = @city,
         country = @country, time_zone = @zone WHERE id = @id`,
    ).run({ ...fields, zone: timeZone || null });
    releaseHolds(db, { prospectId: fields.id });
  }).immediate();
  return done(null);
}
