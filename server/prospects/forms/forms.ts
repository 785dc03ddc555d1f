/** Web forms: whoever fills one in on somebody's site lands on its list, and can be started on a sequence at once. */

import { z } from "zod";
import { domainOf, readAddress } from "../../../core/prospects/address.ts";
import { cleanPerson, type PersonFields } from "../../../core/prospects/cleaning/person.ts";
import { customFieldName } from "../../../core/prospects/columns.ts";
import { FIELD_CODES } from "../../../core/prospects/fields.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { isBlocked } from "../../db/block-list.ts";
import { erasedCheck } from "../../db/erased.ts";
import { wordsIn } from "../../db/json.ts";
import { noteHappening } from "../../db/listeners.ts";
import { sql, transact } from "../../db/open.ts";
import { allCustomFields } from "../../db/prospects.ts";
import { sequenceById } from "../../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { newToken } from "../../secrets.ts";
import { startJourneys } from "../../sequences/start-sequence.ts";
import { visibleSequences } from "../../sequences/visible-sequences.ts";
import { askVerify } from "../addresses/verify-addresses.ts";
import { prospectStore } from "../people/store-prospect.ts";

export interface Form {
  listId: number;
  token: string;
  sequenceId: number | null;
  sequenceName: string | null;
  /** The fields of the team's own that it asks for; what else an entry brings is left out. */
  fields: string[];
  entries: number;
}

export function formOfList(app: App, by: By, listId: number): Form | null {
  const { db } = app;
  const form = sql(
    db,
    `SELECT f.list_id AS listId, f.token, f.sequence_id AS sequenceId, f.fields,
       (SELECT count(*) FROM prospects p WHERE p.origin = 'form' AND p.origin_id = f.list_id AND p.live = 1) AS entries
     FROM forms f WHERE f.list_id = @listId`,
  ).get<Omit<Form, "fields" | "sequenceName"> & { fields: string }>({ listId });
  if (!form) return null;
  const sequenceName =
    form.sequenceId === null
      ? null
      : (visibleSequences(app, by).find(({ id }) => id === form.sequenceId)?.name ??
        (sequenceById(db, form.sequenceId)?.deletedAt == null
          ? "a colleague's own sequence"
          : "a sequence that was deleted"));
  return { ...form, sequenceName, fields: wordsIn(form.fields) };
}

/** Fields of the team's own that a form can ask for. */
export const fieldChoices = ({ db }: App): string[] => allCustomFields(db);

const MOST_OWN_FIELDS = 20;

/** What a form fills by itself, by its name there. */
const FIELDS: Record<string, keyof PersonFields> = Object.fromEntries(
  (["firstName", "lastName", "company", "title", "city", "country", "phone"] as const).map((field) => [
    FIELD_CODES[field],
    field,
  ]),
);
const settings = z.object({
  listId: z.coerce.number().int(),
  sequenceId: z
    .union([z.literal("").transform(() => null), z.coerce.number().int()])
    .nullable()
    .default(null),
  /** Without any, those that it has. */
  fields: z
    .array(z.string().trim().min(1).max(60))
    .max(MOST_OWN_FIELDS, `A form may ask for ${MOST_OWN_FIELDS} fields of your own.`)
    .transform((names) => [...new Set(names.map(customFieldName))].filter((name) => !(name in FIELDS)))
    .nullable()
    .default(null),
});

/** Opens a list's form, or changes which sequence its entries start. */
export function saveForm(app: App, userId: By, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const read = settings.safeParse(input);
  if (!read.success) {
    const { fields } = fieldErrors(read.error);
    return refused({ form: fields ?? "Choose a sequence, or none." });
  }
  const { listId, sequenceId, fields } = read.data;
  const bound = sql(db, "SELECT sequence_id AS id FROM forms WHERE list_id = @listId").get<{
    id: number | null;
  }>({ listId });
  if (
    sequenceId !== null &&
    !sql(db, "SELECT 1 FROM sequences WHERE id = @sequenceId AND deleted_at IS NULL").get({ sequenceId })
  )
    return refused({ form: "This sequence does not exist, or no longer. Choose another, or none." });
  // Binding one to a sequence starts strangers on it, and unbinding keeps them off.
  const sequences = [sequenceId, bound?.id ?? null].filter((id) => id !== null && sequenceId !== bound?.id);
  const no =
    mayNot(app, userId, "list.change", listId) ??
    mayNot(app, userId, "sequence.change", sequences as number[]);
  if (no) return no;
  sql(
    db,
    `INSERT INTO forms (list_id, token, sequence_id, fields, user_id, made_at)
     VALUES (@listId, @token, @sequenceId, coalesce(@fields, '[]'), @userId, @now)
     ON CONFLICT (list_id) DO UPDATE SET sequence_id = @sequenceId, fields = coalesce(@fields, fields)`,
  ).run({
    listId,
    sequenceId,
    fields: fields && JSON.stringify(fields),
    token: newToken(),
    userId,
    now: clock.now(),
  });
  return done(null);
}

export function closeForm(app: App, by: By, listId: number): Outcome<null> {
  const no = mayNot(app, by, "list.change", listId);
  if (no) return no;
  sql(app.db, "DELETE FROM forms WHERE list_id = @listId").run({ listId });
  return done(null);
}

/** A field that people do not see and programs fill in. */
export const HONEYPOT = "website";
const entry = z.record(z.string().max(60), z.string().trim().max(2_000));
const MOST_FIELDS = 30;

/** Takes an entry of a form, of the fields that are its own. Refuses a broken address; who is blocked or was erased is thanked and not kept. */
export function takeEntry(app: App, token: string, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const form = sql(
    db,
    "SELECT list_id AS listId, sequence_id AS sequenceId, user_id AS userId, fields FROM forms WHERE token = @token",
  ).get<{ listId: number; sequenceId: number | null; userId: number | null; fields: string }>({ token });
  if (!form) return refused({ form: "This form is closed." });
  const read = entry.safeParse(input);
  if (!read.success || Object.keys(read.data).length > MOST_FIELDS)
    return refused({ form: "The form holds more than it can. Shorten it and send it again." });
  const { email: typed = "", [HONEYPOT]: trap = "", ...others } = read.data;
  const address = readAddress(typed);
  if (!address.ok) return refused({ email: "Type your email address." });
  if (address.note !== null) return refused({ email: `Do you mean ${address.address}? Type it so.` });
  const { address: email } = address;
  if (trap !== "" || isBlocked(db, email) || erasedCheck(app)(email)) return done(null);

  const raw: PersonFields = {
    firstName: "",
    lastName: "",
    company: "",
    companyDomain: domainOf(email),
    title: "",
    city: "",
    country: "",
    timeZone: "",
    language: "",
    phone: "",
    profile: "",
  };
  const custom: Record<string, string> = {};
  const own = wordsIn(form.fields);
  for (const [name, value] of Object.entries(others)) {
    const field = FIELDS[name];
    if (field) raw[field] = value;
    else if (value !== "" && own.includes(customFieldName(name))) custom[customFieldName(name)] = value;
  }
  const { fields, changes } = cleanPerson(raw);
  const now = clock.now();
  transact(app, (app) => {
    const { db } = app;
    const { listId, sequenceId, userId } = form;
    const store = prospectStore(db, {
      origin: "form",
      originId: listId,
      ownerId: userId,
      listId,
      importId: null,
      now,
    });
    const { id } = store({ email, fields, custom, changes });
    askVerify(app, null, { prospectIds: [id] });
    noteHappening(db, { kind: "form.received", at: now, prospectId: id, detail: String(listId) });
    const sequence = sequenceId === null ? undefined : sequenceById(db, sequenceId);
    if (sequence?.state === "running") startJourneys(app, null, sequence, [id]);
  });
  return done(null);
}

const labelOf = (name: string) => (name[0] ?? "").toUpperCase() + name.slice(1).replaceAll("_", " ");

/** The HTML that a rep copies into a site. */
export function formSnippet(url: string, { token, fields }: Pick<Form, "token" | "fields">): string {
  const more = fields.map((name) => `  <label>${labelOf(name)} <input name="${name}"></label>\n`).join("");
  return `<form action="${url}/f/${token}" method="post">
  <label>Email address <input name="email" type="email" required></label>
  <label>First name <input name="first_name"></label>
  <label>Last name <input name="last_name"></label>
  <label>Company <input name="company"></label>
${more}  <p style="position:absolute;left:-9999px" aria-hidden="true"><input name="${HONEYPOT}" tabindex="-1" autocomplete="off"></p>
  <button>Send</button>
</form>`;
}
