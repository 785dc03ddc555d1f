/** Target profiles: saved, named, changed. */

import fastDeepEqual from "fast-deep-equal";
import { z } from "zod";
import { countryCode } from "../../../core/prospects/cleaning/places.ts";
import { profileSchema, type TargetProfile } from "../../../core/prospects/profile.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import { type SharedState, sharingOf } from "../../accounts/share.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { askOutside } from "../../outside/ask.ts";

export interface Profile {
  id: number;
  name: string;
  description: string;
  definition: TargetProfile;
  shared: SharedState;
}

type Row = Omit<Profile, "definition" | "shared"> & { definition: string };
const profileOf = (row: Row): Omit<Profile, "shared"> => ({
  ...row,
  definition: profileSchema.parse(JSON.parse(row.definition)),
});

/** Those that somebody may use. */
export function allProfiles(app: App, by: By): Profile[] {
  return sql(app.db, "SELECT id, name, description, definition FROM profiles ORDER BY name")
    .all<Row>([])
    .filter(({ id }) => mayNot(app, by, "profile.use", id) === null)
    .map((row) => ({ ...profileOf(row), shared: sharingOf(app, by, "profile", row.id) }));
}

export function profileById({ db }: App, id: number): Omit<Profile, "shared"> | null {
  const row = sql(db, "SELECT id, name, description, definition FROM profiles WHERE id = @id").get<Row>({
    id,
  });
  return row ? profileOf(row) : null;
}

const form = z.object({
  id: z.number().int().nullable(),
  name: z.string().trim().min(1, "Give the profile a name.").max(80),
  description: z.string().trim().max(5_000),
  definition: profileSchema.refine(
    ({ employeesFrom: from, employeesTo: to }) => from === null || to === null || from <= to,
    { path: ["employeesTo"], message: "The larger number comes last." },
  ),
});

/** Saves a profile, a new one if it has no id. Returns its id. */
export function saveProfile(app: App, userId: By, input: unknown): Outcome<number> {
  const { db, clock } = app;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, name, description, definition } = read.data;
  // Whoever only searches with a colleague's changes nothing of it.
  const before = id === null ? null : profileById(app, id);
  if (before && fastDeepEqual(before, { id, name, description, definition })) return done(before.id);
  const no = id === null ? mayNot(app, userId, "profile.create") : mayNot(app, userId, "profile.change", id);
  if (no) return no;
  const codes = definition.countries.map((country) => countryCode(country));
  const unknown = codes.indexOf(null);
  if (unknown >= 0)
    return refused({ "definition.countries": `There is no country “${definition.countries[unknown]}”.` });
  const twin = sql(db, "SELECT id FROM profiles WHERE name = @name").get<{ id: number }>({
    name,
  });
  if (twin && twin.id !== id)
    return refused({ name: "Another profile has this name. Choose a different one." });
  const values = {
    id,
    name,
    description,
    definition: JSON.stringify({ ...definition, countries: [...new Set(codes)] }),
    userId,
    now: clock.now(),
  };
  const result = sql(
    db,
    `INSERT INTO profiles (id, name, description, definition, user_id, saved_at)
     VALUES (@id, @name, @description, @definition, @userId, @now)
     ON CONFLICT (id) DO UPDATE SET name = @name, description = @description, definition = @definition, saved_at = @now
     RETURNING id`,
  ).get<{ id: number }>(values);
  return done(result?.id as number);
}

/** A paragraph about whom one looks for, turned into a profile by the writing assistant, for the rep to correct. Throws nothing. */
export async function describeProfile({ config }: App, text: string): Promise<Outcome<TargetProfile>> {
  if (text.trim().length < 15)
    return refused({ description: "Write a sentence or two: what you sell, and whom you are looking for." });
  if (!config.assistant)
    return refused({
      description: "No writing assistant is set up (SAUDADE_ASSISTANT). Fill in the fields yourself.",
    });
  try {
    const answer = await askOutside(config, new URL("/profile", config.assistant).href, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ text }),
      patience: 20_000,
      isConfigured: true,
    });
    if (answer.status !== 200) throw new AppError("not_found");
    return done(profileSchema.parse(JSON.parse(answer.text)));
  } catch {
    return refused({
      description: "The writing assistant does not answer. Fill in the fields yourself, or try again.",
    });
  }
}
