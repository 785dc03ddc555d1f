/** People, companies, lists, fields and stages. */
import { z } from "zod";
import { customFieldName } from "../../core/prospects/columns.ts";
import { FIELD_WORDS, PERSON_FIELDS, type PersonField } from "../../core/prospects/fields.ts";
import { parseFilter } from "../../core/prospects/filter.ts";
import { STAGE_NAMES, STAGES } from "../../core/prospects/stages.ts";
import { hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { CUSTOM } from "../db/fields.ts";
import { sql, transact } from "../db/open.ts";
import { allCustomFields, noteCustomFields } from "../db/prospects.ts";
import { done, type Outcome, refused, whenDone } from "../errors.ts";
import { listFor } from "../prospects/list-for.ts";
import { deleteList, renameList } from "../prospects/lists/change-list.ts";
import { allLists } from "../prospects/lists/lists.ts";
import { addNote, addProspect } from "../prospects/people/add-prospect.ts";
import { bulkEdit } from "../prospects/people/bulk-edit.ts";
import { prospectsQuery } from "../prospects/people/list-prospects.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { eraseProspect } from "../prospects/privacy/erase-prospect.ts";
import {
  at,
  collection,
  id,
  listingQuery,
  pageOf,
  pageOfAll,
  pathId,
  time,
  windowOf,
} from "../resources/listing.ts";
import {
  listProspectResources,
  type ProspectResource,
  prospectResource,
  prospectSchema,
} from "../resources/prospect.ts";
import { stopByRep } from "../sequences/stop-by-rep.ts";
import { type Call, many, read, write } from "./operation.ts";

const one = { id: pathId };
const nothing = z.object({}).meta({ description: "Nothing more to say." });
const text = z.string().max(200).optional();
const fields = Object.fromEntries(PERSON_FIELDS.map((field) => [field, text])) as Record<
  PersonField,
  typeof text
>;
const custom = z
  .record(z.string().trim().min(1).max(60), z.string().max(2_000))
  .optional()
  .meta({ description: "The team's own fields, by their names." });

const newProspect = z.strictObject({
  ...fields,
  custom,
  list: z
    .string()
    .min(1)
    .max(80)
    .meta({ description: "The list that they go on, by its name; a new one is made." }),
});

const changes = z.strictObject({
  ...fields,
  custom,
  stage: z.enum(STAGES).optional(),
});

/** The team's own fields as the pages' form names them; new names become fields. */
function ownFields(app: App, custom: Record<string, string> = {}): Record<string, string> {
  const named = Object.entries(custom).map(([name, value]) => [customFieldName(name), value] as const);
  noteCustomFields(
    app.db,
    named.map(([name]) => name),
  );
  return Object.fromEntries(named.map(([name, value]) => [`${CUSTOM}${name}`, value]));
}

const there = (call: Call, prospectId: number): Outcome<ProspectResource> => {
  const found = prospectResource(call.app, call.user.id, prospectId);
  return found ? done(found) : { ...refused({ form: "There is nobody of this number." }), code: "not_found" };
};

const added = z.object({
  isNew: z
    .boolean()
    .meta({ description: "False where the address was known: then they are put on the list only." }),
  prospect: prospectSchema,
});

/** Adds somebody as the page's form does, with the team's own fields beside; somebody known keeps theirs. */
function add(
  call: Call,
  { list, custom, ...typed }: z.infer<typeof newProspect>,
): Outcome<z.infer<typeof added>> {
  return transact(call.app, (app): Outcome<z.infer<typeof added>> => {
    const stored = addProspect(app, call.user.id, { ...typed, listName: list });
    if (!stored.ok) {
      const { listName, ...errors } = stored.errors;
      return { ...stored, errors: { ...errors, ...(listName === undefined ? {} : { list: listName }) } };
    }
    const { id: prospectId, isNew } = stored.value;
    if (isNew && custom !== undefined) {
      const saved = saveProspect(app, call.user.id, { id: prospectId, ...ownFields(app, custom) });
      if (!saved.ok) return saved;
    }
    return whenDone(there({ ...call, app }, prospectId), (prospect) => ({ isNew, prospect }));
  });
}

const filterText = z
  .string()
  .max(8_000)
  .refine((text) => text === "" || parseFilter(text) !== null, "This is no filter.")
  .optional()
  .meta({ description: "A filter as JSON, as the Prospects page writes it into its address." });

const prospectIds = z.array(id).min(1).max(1_000);

export const people = [
  read({
    name: "listProspects",
    path: "/prospects",
    area: "prospects",
    does: "People, by search, list, stage or filter.",
    query: {
      ...listingQuery,
      q: z.string().max(100).optional().meta({ description: "A part of a name, company or address." }),
      list: z.coerce.number().int().optional().meta({ description: "Only who is on this list." }),
      stage: z.enum(STAGES).optional(),
      filter: filterText,
    },
    answer: collection(prospectSchema),
    example: { query: { limit: "2", stage: "new" } },
    run: ({ app, user }, { query: { q, list, stage, filter, ...listing } }) =>
      listProspectResources(app, user.id, prospectsQuery.parse({ q, list, stage, f: filter }), listing),
  }),
  write("post", {
    name: "addProspect",
    path: "/prospects",
    area: "prospects",
    does: "Adds somebody, cleaned like everybody else, and puts them on a list. Somebody known is only put on the list.",
    body: newProspect,
    answer: added,
    example: {
      body: {
        ...{
          email: "nele@harbourmuseum.example",
          firstName: "Nele",
          lastName: "Ohlsen",
          company: "Harbour Museum",
        },
        ...{ title: "Registrar", custom: { loans_a_year: "40" }, list: "Museums" },
      },
    },
    run: (call, { body }) => add(call, body),
  }),
  many({
    name: "addProspects",
    path: "/prospects/bulk",
    area: "prospects",
    does: "Adds up to 1,000 people, each with an answer of its own.",
    item: newProspect,
    answer: added,
    example: {
      body: {
        items: [
          { email: "ole@northpier.example", firstName: "Ole", list: "Museums" },
          { email: "no address", list: "Museums" },
        ],
      },
    },
    run: (call, { item }) => add(call, item),
  }),
  read({
    name: "getProspect",
    path: "/prospects/{id}",
    area: "prospects",
    does: "One person; the number of an entry that was merged leads to who remained.",
    params: one,
    answer: prospectSchema,
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) => prospectResource(app, user.id, params.id),
  }),
  write("patch", {
    name: "changeProspect",
    path: "/prospects/{id}",
    area: "prospects",
    does: "Changes the fields that are given. A stage has its consequences: where a sequence stops at it, it stops.",
    params: one,
    body: changes,
    answer: prospectSchema,
    example: { params: { id: "1" }, body: { city: "Porto", custom: { loans_a_year: "12" } } },
    run: (call, { params, body: { custom, ...typed } }) =>
      transact(call.app, (app): Outcome<ProspectResource> => {
        const saved = saveProspect(app, call.user.id, { id: params.id, ...typed, ...ownFields(app, custom) });
        return saved.ok ? there({ ...call, app }, params.id) : saved;
      }),
  }),
  write("delete", {
    name: "eraseProspect",
    path: "/prospects/{id}",
    area: "prospects",
    does: "Erases somebody for good. Their name has to be given, as on the page.",
    params: one,
    body: z.strictObject({
      name: z.string().meta({ description: "Their full name, or the address where there is none." }),
    }),
    answer: nothing,
    example: { params: { id: "4" }, body: { name: "Dora Sá" } },
    run: ({ app, user }, { params, body }) =>
      whenDone(eraseProspect(app, user.id, { id: params.id, name: body.name }), () => ({})),
  }),
  write("post", {
    name: "noteProspect",
    path: "/prospects/{id}/notes",
    area: "prospects",
    does: "Writes a note about somebody.",
    params: one,
    body: z.strictObject({ text: z.string().min(1).max(4_000) }),
    answer: nothing,
    example: { params: { id: "1" }, body: { text: "Met at the fair." } },
    run: ({ app, user }, { params, body }) =>
      whenDone(addNote(app, user.id, { id: params.id, ...body }), () => ({})),
  }),
  write("post", {
    name: "stopProspect",
    path: "/prospects/{id}/stop",
    area: "sequences",
    does: "Stops what is planned for somebody, as the page's Stop does.",
    params: one,
    answer: prospectSchema,
    example: { params: { id: "1" } },
    run: (call, { params }) => {
      const stopped = stopByRep(call.app, params.id, call.user.id);
      return stopped.ok ? there(call, params.id) : stopped;
    },
  }),
  write("post", {
    name: "verifyProspects",
    path: "/prospects/verify",
    area: "prospects",
    does: "Has addresses verified anew.",
    body: z.strictObject({ prospectIds }),
    answer: z.object({ count: z.number().int() }),
    example: { body: { prospectIds: [1, 2] } },
    run: ({ app, user }, { body }) =>
      whenDone(bulkEdit(app, user, { ids: body.prospectIds, action: { kind: "verify" } }), ({ count }) => ({
        count,
      })),
  }),
  read({
    name: "listHistory",
    path: "/prospects/{id}/history",
    area: "prospects",
    does: "What happened with somebody.",
    params: one,
    query: listingQuery,
    answer: collection(
      z.object({
        id,
        at: time,
        kind: z.string(),
        journeyId: id.nullable(),
        touchId: id.nullable(),
        detail: z.string().nullable(),
      }),
    ),
    example: { params: { id: "2" }, query: { order: "desc" } },
    run: ({ app, user }, { params, query }) => historyOf(app, user.id, params.id, query),
  }),

  read({
    name: "listCompanies",
    path: "/companies",
    area: "prospects",
    does: "Companies.",
    query: {
      ...listingQuery,
      q: z.string().max(100).optional().meta({ description: "The beginning of a name." }),
    },
    answer: collection(
      z
        .object({
          id,
          name: z.string(),
          domain: z.string().nullable(),
          industry: z.string(),
          region: z.string(),
          about: z.string(),
        })
        .meta({ id: "Company" }),
    ),
    example: { query: { q: "Ka" } },
    run: ({ app }, { query: { q, ...listing } }) => {
      const window = windowOf(listing, "c.id");
      const rows = sql(
        app.db,
        `SELECT id, name, domain, industry, region, about FROM companies c
         WHERE merged_into IS NULL AND (@q IS NULL OR name LIKE @q) AND ${window.where} ORDER BY ${window.order}`,
      ).all<{
        id: number;
        name: string;
        domain: string | null;
        industry: string;
        region: string;
        about: string;
      }>({
        ...window.values,
        q: q === undefined ? null : `${q.replace(/[%_]/g, "")}%`,
      });
      return pageOf(rows, listing, (row) => row);
    },
  }),

  read({
    name: "listLists",
    path: "/lists",
    area: "prospects",
    does: "Lists, but for those that colleagues keep to themselves.",
    query: listingQuery,
    answer: collection(z.object({ id, name: z.string(), people: z.number().int() }).meta({ id: "List" })),
    example: {},
    run: ({ app, user }, { query }) => {
      const { data, next } = pageOfAll(allLists(app, user.id), query);
      return { data: data.map(({ id, name, count }) => ({ id, name, people: count })), next };
    },
  }),
  write("post", {
    name: "makeList",
    path: "/lists",
    area: "prospects",
    does: "Makes a list, or finds the one of this name that may be changed.",
    body: z.strictObject({ name: z.string().trim().min(1).max(80) }),
    answer: z.object({ id, name: z.string() }),
    example: { body: { name: "Harbour towns" } },
    run: ({ app, user }, { body: { name } }) =>
      transact(
        app,
        (app): Outcome<{ id: number; name: string }> =>
          whenDone(listFor(app, user.id, name), (id) => ({ id, name })),
      ),
  }),
  write("patch", {
    name: "renameList",
    path: "/lists/{id}",
    area: "prospects",
    does: "Gives a list another name.",
    params: one,
    body: z.strictObject({ name: z.string() }),
    answer: nothing,
    example: { params: { id: "1" }, body: { name: "Museums by the sea" } },
    run: ({ app, user }, { params, body }) => whenDone(renameList(app, user.id, params.id, body), () => ({})),
  }),
  write("delete", {
    name: "deleteList",
    path: "/lists/{id}",
    area: "prospects",
    does: "Deletes a list; its people stay, and journeys go on.",
    params: one,
    answer: nothing,
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) => whenDone(deleteList(app, user.id, params.id), () => ({})),
  }),
  write("post", {
    name: "putOnList",
    path: "/lists/{id}/prospects",
    area: "prospects",
    does: "Puts people on a list.",
    params: one,
    body: z.strictObject({ prospectIds }),
    answer: z.object({ count: z.number().int() }),
    example: { params: { id: "1" }, body: { prospectIds: [1, 2, 3] } },
    run: ({ app, user }, { params, body }) => {
      const name = hiddenFrom(app, user.id, "list.see").has(params.id)
        ? undefined
        : sql(app.db, "SELECT name FROM lists WHERE id = @id").get<{ name: string }>({ id: params.id })?.name;
      if (name === undefined) return null;
      return whenDone(
        bulkEdit(app, user, { ids: body.prospectIds, action: { kind: "add_to_list", name } }),
        ({ count }) => ({ count }),
      );
    },
  }),
  write("post", {
    name: "takeOffList",
    path: "/lists/{id}/prospects/remove",
    area: "prospects",
    does: "Takes people off a list.",
    params: one,
    body: z.strictObject({ prospectIds }),
    answer: z.object({ count: z.number().int() }),
    example: { params: { id: "1" }, body: { prospectIds: [4] } },
    run: ({ app, user }, { params, body }) =>
      whenDone(
        bulkEdit(app, user, {
          ids: body.prospectIds,
          action: { kind: "remove_from_list", listId: params.id },
        }),
        ({ count }) => ({ count }),
      ),
  }),

  read({
    name: "listFields",
    path: "/fields",
    area: "prospects",
    does: "Everything that can be known of a person.",
    answer: z.object({
      data: z.array(z.object({ name: z.string(), words: z.string(), isOwn: z.boolean() })),
    }),
    example: {},
    run: ({ app }) => ({
      data: [
        ...PERSON_FIELDS.map((name) => ({ name: name as string, words: FIELD_WORDS[name], isOwn: false })),
        ...allCustomFields(app.db).map((name) => ({ name, words: name, isOwn: true })),
      ],
    }),
  }),
  read({
    name: "listStages",
    path: "/stages",
    area: "prospects",
    does: "How far somebody can have come, in order.",
    answer: z.object({ data: z.array(z.object({ name: z.enum(STAGES), words: z.string() })) }),
    example: {},
    run: () => ({ data: STAGES.map((name) => ({ name, words: STAGE_NAMES[name] })) }),
  }),
];

/** Null where there is nobody. Of a colleague's own sequence it is not told. */
function historyOf(app: App, userId: number, prospectId: number, listing: Parameters<typeof windowOf>[0]) {
  const person = prospectResource(app, userId, prospectId);
  if (!person) return null;
  const window = windowOf(listing, "e.id");
  const rows = sql(
    app.db,
    `SELECT e.id, e.at, e.kind, e.journey_id AS journeyId, e.touch_id AS touchId, e.detail
     FROM events e LEFT JOIN journeys j ON j.id = e.journey_id
     WHERE e.prospect_id = @prospectId AND (j.sequence_id IS NULL OR j.sequence_id NOT IN (SELECT value FROM json_each(@hidden)))
       AND ${window.where} ORDER BY ${window.order}`,
  ).all<{
    id: number;
    at: number;
    kind: string;
    journeyId: number | null;
    touchId: number | null;
    detail: string | null;
  }>({
    ...{ prospectId: person.id, hidden: JSON.stringify([...hiddenFrom(app, userId, "sequence.see")]) },
    ...window.values,
  });
  return pageOf(rows, listing, (row) => ({ ...row, at: at(row.at) }));
}
