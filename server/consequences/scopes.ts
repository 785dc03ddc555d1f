/** The rows that each kind of press can change, with the columns that it does: what remember.ts looks at. */
import { type Db, sql } from "../db/open.ts";
import type { Pausable } from "../db/pauses.ts";

export type Row = Record<string, string | number | null>;

interface Watched {
  table: string;
  columns: readonly string[];
  where: string;
  /** Rows that are written stay written; only what they belong to goes back. */
  isAppendOnly?: boolean;
}

export interface Scope {
  rows: readonly Watched[];
  values: Record<string, string | number | null>;
}

const KEYS: Record<string, readonly string[]> = {
  list_prospects: ["list_id", "prospect_id"],
  forms: ["list_id"],
};
export const keyOf = (table: string): readonly string[] => KEYS[table] ?? ["id"];

const HOLD_COLUMNS = ["scope", "scope_id", "reason", "detail", "since", "until", "cause_prospect_id"];
const BLOCK_COLUMNS = ["kind", "value", "reason", "at", "note", "user_id"];
const REMINDER_COLUMNS = [
  "user_id",
  "prospect_id",
  "reply_id",
  "kind",
  "text",
  "due_at",
  "at",
  "ended_at",
  "how",
];

/** What consequences can change of people; `@ids` and `@addresses` are JSON. */
const OF_PEOPLE: readonly Watched[] = [
  { table: "prospects", columns: ["stage"], where: "id IN (SELECT value FROM json_each(@ids))" },
  {
    table: "journeys",
    columns: ["state", "stop_reason", "stop_detail", "ended_at"],
    where: "prospect_id IN (SELECT value FROM json_each(@ids))",
  },
  {
    table: "touches",
    columns: ["state", "ended_at"],
    where: `prospect_id IN (SELECT value FROM json_each(@ids)) AND state NOT IN ('claimed', 'sent', 'done', 'refused')`,
  },
  {
    table: "replies",
    columns: ["label_id", "labelled_at", "labelled_by", "read_at"],
    where: "prospect_id IN (SELECT value FROM json_each(@ids))",
  },
  {
    table: "holds",
    columns: HOLD_COLUMNS,
    where: `(scope = 'prospect' AND scope_id IN (SELECT value FROM json_each(@ids)))
      OR (scope = 'company' AND scope_id IN (SELECT company_id FROM prospects WHERE id IN (SELECT value FROM json_each(@ids))))
      OR (scope = 'journey' AND scope_id IN (SELECT id FROM journeys WHERE prospect_id IN (SELECT value FROM json_each(@ids))))`,
  },
  {
    table: "block_list",
    columns: BLOCK_COLUMNS,
    where: "kind = 'address' AND value IN (SELECT value FROM json_each(@addresses))",
  },
  { table: "list_prospects", columns: [], where: "prospect_id IN (SELECT value FROM json_each(@ids))" },
  {
    table: "reminders",
    columns: REMINDER_COLUMNS,
    where: "prospect_id IN (SELECT value FROM json_each(@ids))",
  },
];

function addressesOf(db: Db, ids: readonly number[]): string {
  return JSON.stringify(
    sql(
      db,
      `SELECT email FROM prospects WHERE email IS NOT NULL
         AND (id IN (SELECT value FROM json_each(@ids)) OR merged_into IN (SELECT value FROM json_each(@ids)))`,
    )
      .all<{ email: string }>({ ids: JSON.stringify(ids) })
      .map(({ email }) => email),
  );
}

export const ofProspects = (db: Db, ids: readonly number[]): Scope => ({
  rows: OF_PEOPLE,
  values: { ids: JSON.stringify(ids), addresses: addressesOf(db, ids) },
});
export const ofProspect = (db: Db, id: number): Scope => ofProspects(db, [id]);

/** What follows a person into another: rows that only change whom they are about. */
const FOLLOWING = [
  "events",
  "meetings",
  "notes",
  "service_mails",
  "undo_records",
  "column_values",
  "films",
  "pages",
];

/** A merge of two people: everything of either. */
export function ofMerge(db: Db, keepId: number, goneId: number): Scope {
  const { rows, values } = ofProspects(db, [keepId, goneId]);
  const both = "prospect_id IN (SELECT value FROM json_each(@ids))";
  const more: Record<string, readonly string[]> = {
    prospects: [
      ...[
        "email",
        "first_name",
        "last_name",
        "title",
        "city",
        "country",
        "time_zone",
        "phone",
        "profile",
        "custom",
        "unread",
        "language",
      ],
      ...[
        "owner_id",
        "stage",
        "verdict",
        "verdict_reason",
        "verdict_detail",
        "verdict_at",
        "found_by",
        "merged_into",
      ],
    ],
    journeys: ["prospect_id", "state", "stop_reason", "stop_detail", "ended_at"],
    touches: ["prospect_id", "state", "ended_at"],
    replies: ["prospect_id"],
    list_prospects: ["import_id"],
  };
  return {
    rows: [
      ...rows.map((row) => ({
        ...row,
        columns: more[row.table] ?? row.columns,
        // What was sent follows, too.
        where: row.table === "touches" ? both : row.where,
      })),
      ...FOLLOWING.map((table) => ({
        table,
        columns: ["prospect_id"],
        where: both,
        isAppendOnly: table === "events",
      })),
    ],
    values,
  };
}

/** A merge of two companies: where their people are. */
export const ofCompanyMerge = (keepId: number, goneId: number): Scope => ({
  rows: [
    {
      table: "companies",
      columns: ["domain", "merged_into"],
      where: "id IN (@keepId, @goneId) OR merged_into = @goneId",
    },
    {
      table: "prospects",
      columns: ["company_id", "company", "custom", "unread"],
      where: "company_id IN (@keepId, @goneId)",
    },
    { table: "column_values", columns: ["company_id"], where: "company_id IN (@keepId, @goneId)" },
  ],
  values: { keepId, goneId },
});

/** A list with who is on it, its form, and what points to it. */
export function ofList(db: Db, listId: number): Scope {
  const pointing = (table: "sequences" | "imports") =>
    JSON.stringify(
      sql(db, `SELECT id FROM ${table} WHERE list_id = @listId`)
        .all<{ id: number }>({ listId })
        .map(({ id }) => id),
    );
  return {
    rows: [
      { table: "lists", columns: ["*"], where: "id = @listId" },
      { table: "list_prospects", columns: ["import_id"], where: "list_id = @listId" },
      { table: "forms", columns: ["*"], where: "list_id = @listId" },
      { table: "sequences", columns: ["list_id"], where: "id IN (SELECT value FROM json_each(@sequences))" },
      { table: "imports", columns: ["list_id"], where: "id IN (SELECT value FROM json_each(@imports))" },
    ],
    values: { listId, sequences: pointing("sequences"), imports: pointing("imports") },
  };
}

/** What says that something is paused, and since when. */
export const ofPause = (of: Pausable, ids: readonly number[]): Scope => {
  const theirs = "id IN (SELECT value FROM json_each(@ids))";
  const states: Record<Pausable, Watched> = {
    sequence: { table: "sequences", columns: ["state"], where: theirs },
    mailbox: { table: "mailboxes", columns: ["state", "rest_reason", "rest_until"], where: theirs },
    account: { table: "social_accounts", columns: ["state"], where: theirs },
    journey: {
      table: "holds",
      columns: HOLD_COLUMNS,
      where: "scope = 'journey' AND scope_id IN (SELECT value FROM json_each(@ids))",
    },
  };
  return {
    rows: [
      states[of],
      {
        table: "pauses",
        columns: ["of", "of_id", "user_id", "at", "ended_at", "ended_by"],
        where: "of = @of AND of_id IN (SELECT value FROM json_each(@ids))",
      },
    ],
    values: { of, ids: JSON.stringify(ids) },
  };
};

/** Entries of the block list by their values (JSON), and the people whom they stop. */
export const ofBlocks = (db: Db, values: readonly string[], ids: readonly number[]): Scope => {
  const people = ofProspects(db, ids);
  return {
    rows: [
      ...people.rows.filter(({ table }) => table !== "block_list"),
      {
        table: "block_list",
        columns: BLOCK_COLUMNS,
        where: "value IN (SELECT value FROM json_each(@blocked))",
      },
    ],
    values: { ...people.values, blocked: JSON.stringify(values) },
  };
};
