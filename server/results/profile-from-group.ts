/** A new version of a target profile by what the results say of a group: beside the one it came from, which stays as it is. */
import { z } from "zod";
import { profileSchema } from "../../core/prospects/profile.ts";
import { isProfiled, proposeProfile } from "../../core/prospects/propose-profile.ts";
import { groupValue } from "../../core/results/group-words.ts";
import { ATTRIBUTES } from "../../core/results/groups.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { type Outcome, refused } from "../errors.ts";
import { type Profile, profileById, saveProfile } from "../prospects/searches/profiles.ts";
import type { Look } from "./look.ts";
import { sequenceResults } from "./one-sequence.ts";

const form = z.object({ attribute: z.enum(ATTRIBUTES), value: z.string().max(200) });
const LONGEST_NAME = 80;

/** Returns the new profile's id. */
export function profileFromGroup(
  app: App,
  userId: number,
  sequenceId: number,
  input: unknown,
  look: Look,
  zone: string,
): Outcome<number> {
  const no = mayNot(app, userId, "sequence.see", sequenceId) ?? mayNot(app, userId, "profile.create");
  if (no) return no;
  const read = form.safeParse(input);
  const group =
    read.success &&
    sequenceResults(app, userId, sequenceId, look, zone)?.groups.find(
      ({ attribute, value, differs }) =>
        differs && attribute === read.data.attribute && value === read.data.value,
    );
  if (!group || !isProfiled(group.attribute))
    return refused({ form: "The results no longer say this. Reload the page." });
  const { attribute, value, own, rest } = group;
  const base = profileOf(app, userId, sequenceId);
  const definition = proposeProfile(base.definition, {
    ...{ attribute, value },
    isMore: own.part / own.whole > rest.part / rest.whole,
  });
  if (!definition) return refused({ form: `“${base.name}” has it so already, or cannot say it.` });
  const name = freeName(app, `${base.name}, ${groupValue(group)}`);
  return saveProfile(app, userId, { id: null, name, description: base.description, definition });
}

/** The profile that found most of those who were started; an empty one by the sequence's name where none did. */
function profileOf(
  app: App,
  userId: number,
  sequenceId: number,
): Pick<Profile, "name" | "description" | "definition"> {
  const used = sql(
    app.db,
    `SELECT l.profile_id AS id FROM journeys j JOIN list_prospects lp ON lp.prospect_id = j.prospect_id
       JOIN lists l ON l.id = lp.list_id AND l.profile_id IS NOT NULL
     WHERE j.sequence_id = @sequenceId GROUP BY l.profile_id ORDER BY count(*) DESC`,
  )
    .all<{ id: number }>({ sequenceId })
    .find(({ id }) => mayNot(app, userId, "profile.use", id) === null);
  const name =
    sql(app.db, "SELECT name FROM sequences WHERE id = @sequenceId").get<{ name: string }>({ sequenceId })
      ?.name ?? "";
  return (
    (used && profileById(app, used.id)) ?? { name, description: "", definition: profileSchema.parse({}) }
  );
}

function freeName({ db }: App, wanted: string): string {
  const isTaken = (name: string) =>
    sql(db, "SELECT 1 FROM profiles WHERE name = @name").get({ name }) !== undefined;
  const short = wanted.slice(0, LONGEST_NAME - 4);
  if (!isTaken(short)) return short;
  let nth = 2;
  while (isTaken(`${short} ${nth}`)) nth++;
  return `${short} ${nth}`;
}
