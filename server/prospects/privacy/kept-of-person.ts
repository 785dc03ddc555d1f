/**
 * The catalogue of what the database keeps about a person, table by table. From it comes the file that a person is given
 * (GDPR article 15) and what erasing them reaches (article 17). A table or a column of text without a line fails its test.
 */
import { type Db, sql, type Value } from "../../db/open.ts";

/** Who somebody is in the database, each as a JSON array: what a line's `where` finds their rows by. */
export interface Subject {
  /** Their own number and those that were merged into it. */
  ids: string;
  /** In small letters. */
  addresses: string;
  names: string;
  journeys: string;
  touches: string;
  replies: string;
  meetings: string;
}

export interface Line {
  /** Which rows are theirs: SQL over @ids, @addresses and the other arrays of a subject. */
  where: string;
  /** What a person is given of them: the name in the file, and columns. Null: another line gives it. */
  given: { as: string; columns: string } | null;
  /** What erasing does: the rows go, columns are set to these SQL values, or all stays as a count without a name. */
  erase: "delete" | "stays" | Readonly<Record<string, string>>;
  /** Columns of text that stay, since they hold nobody's words: states, kinds, numbers of ours. */
  keeps?: readonly string[];
}

const among = (column: string, whose: keyof Subject) =>
  `${column} IN (SELECT value FROM json_each(@${whose}))`;
/** Whether one of their addresses or names stands anywhere in a text. */
const mentions = (text: string, whose: "addresses" | "names") =>
  `EXISTS (SELECT 1 FROM json_each(@${whose}) said WHERE instr(${whose === "addresses" ? `lower(${text})` : text}, said.value) > 0)`;
const blank = (...columns: string[]) => Object.fromEntries(columns.map((column) => [column, "''"]));
const nulls = (...columns: string[]) => Object.fromEntries(columns.map((column) => [column, "NULL"]));

/** The part of an undo record that is about them: a row of theirs, or one in which their address stands. */
const OF_THEM_IN_UNDO = `coalesce(
  ${mentions("c.value", "addresses")}
  OR coalesce(${among("coalesce(c.value ->> '$.before.prospect_id', c.value ->> '$.after.prospect_id')", "ids")}, 0)
  OR (c.value ->> '$.table' = 'prospects' AND ${among("coalesce(c.value ->> '$.before.id', c.value ->> '$.after.id')", "ids")})
  OR (c.value ->> '$.table' = 'journeys' AND ${among("coalesce(c.value ->> '$.before.id', c.value ->> '$.after.id')", "journeys")})
  OR (coalesce(c.value ->> '$.before.scope', c.value ->> '$.after.scope') = 'prospect'
    AND ${among("coalesce(c.value ->> '$.before.scope_id', c.value ->> '$.after.scope_id')", "ids")}), 0)`;

/** In the order in which it is erased: what is found through another table's rows stands before that table. */
export const KEPT: Readonly<Record<string, Line | readonly Line[]>> = {
  // What other programs were told, and what they said to it; kept for some weeks, what they were answered for a day.
  deliveries: {
    where: `${among("prospect_id", "ids")} OR ${mentions("answer", "addresses")}`,
    given: { as: "toldToOtherPrograms", columns: "tried_at, answer" },
    erase: "delete",
  },
  happenings: {
    where: `${among("prospect_id", "ids")} OR ${mentions("payload", "addresses")} OR ${mentions("detail", "addresses")}`,
    given: { as: "newsForOtherPrograms", columns: "kind, at, payload" },
    erase: "delete",
  },
  crm_outbox: {
    where: `${among("prospect_id", "ids")} OR ${mentions("body", "addresses")}`,
    given: { as: "toldToTheCrm", columns: "kind, body, at" },
    erase: "delete",
  },
  crm_conflicts: {
    where: `link_id IN (SELECT id FROM crm_links WHERE ${among("prospect_id", "ids")})`,
    given: { as: "differencesToTheCrm", columns: "field, here, there" },
    erase: "delete",
  },
  crm_deals: {
    where: among("prospect_id", "ids"),
    given: { as: "dealsInTheCrm", columns: "name, stage, value" },
    erase: "delete",
  },
  // The last look's examples name people.
  crms: {
    where: `${mentions("coalesce(report, '')", "addresses")} OR ${mentions("coalesce(report, '')", "names")}`,
    given: null,
    erase: nulls("report"),
    keeps: [
      ...[
        "name",
        "url",
        "dialect",
        "settings",
        "client_id",
        "client_secret_sealed",
        "key_sealed",
        "access_sealed",
        "state",
      ],
      ...[
        "held_because",
        "choices",
        "pass",
        "seen",
        "failing_because",
        "kinds",
        "address",
        "hook_secret_sealed",
      ],
    ],
  },
  // Their number there stays until somebody has said whether they are to go there, too.
  crm_links: {
    where: `${among("prospect_id", "ids")} OR ${mentions("there", "addresses")}`,
    given: { as: "inTheCrm", columns: "there_id, there" },
    erase: {
      ...{ prospect_id: "NULL", base: "NULL", there: "'{}'", is_dirty: "0" },
      state: "iif(kind = 'person' AND state = 'linked', 'gone_here', state)",
    },
    keeps: ["kind", "there_id", "company_there"],
  },
  // What was found of them, and what was found of their company and names them.
  column_values: {
    where: `${among("prospect_id", "ids")} OR ${mentions("column_values.value || column_values.said || column_values.source_text", "names")} OR ${mentions("column_values.value || column_values.said || column_values.source_text", "addresses")}`,
    given: { as: "foundOutAboutThem", columns: "code, value, source_url, source_text, at" },
    erase: "delete",
  },
  // Where programs came from that asked for their page, as far as the address's block.
  page_loads: {
    where: `page_id IN (SELECT id FROM pages WHERE ${among("prospect_id", "ids")})`,
    given: { as: "visitsOfTheirPage", columns: "at, agent, network, because" },
    erase: "delete",
  },
  // Its moving picture's file goes with the sweep of what nothing names.
  pages: {
    where: among("prospect_id", "ids"),
    given: { as: "theirPages", columns: "made_at, ends_at, watched" },
    erase: "delete",
  },
  file_looks: {
    where: among("prospect_id", "ids"),
    given: { as: "filesTheyLookedAt", columns: "given_at, opened_at, last_at, pages, seconds, saved_at" },
    erase: "delete",
  },
  films: {
    where: among("prospect_id", "ids"),
    given: { as: "filmsForThem", columns: "name, made_at, captions" },
    erase: "delete",
  },
  // What is kept of a site that names them is read anew when somebody asks.
  sites: {
    where: `${mentions("reading", "names")} OR ${mentions("reading", "addresses")}`,
    given: { as: "readOnTheirCompanysSite", columns: "domain, at" },
    erase: "delete",
  },
  rule_acts: {
    where: `run_id IN (SELECT id FROM rule_runs WHERE ${among("prospect_id", "ids")}) OR ${mentions("said", "names")} OR ${mentions("said", "addresses")}`,
    given: { as: "doneByRules", columns: "said, acted_at" },
    erase: "delete",
  },
  rule_runs: {
    where: among("prospect_id", "ids"),
    given: { as: "whyRulesActed", columns: "because, at" },
    erase: "delete",
  },
  api_answers: {
    where: `${mentions("body", "addresses")}
      OR EXISTS (SELECT 1 FROM json_each(@ids) said WHERE instr(body, '"id":' || said.value || ',"email"') > 0)`,
    given: { as: "answersToOtherPrograms", columns: "body, at_wall" },
    erase: "delete",
  },
  answer_drafts: {
    where: among("reply_id", "replies"),
    given: { as: "answersBegun", columns: "text, at" },
    erase: "delete",
  },
  approvals: {
    where: among("prospect_id", "ids"),
    given: { as: "approvals", columns: "step_id, at" },
    erase: "delete",
  },
  own_texts: {
    where: among("prospect_id", "ids"),
    given: { as: "textsWrittenForThem", columns: "subject, body, at" },
    erase: "delete",
  },
  undo_records: [
    {
      where: `${among("prospect_id", "ids")} OR ${among("reply_id", "replies")} OR ${mentions("what", "names")} OR ${mentions("what", "addresses")}
        OR (kind = 'merge_people' AND EXISTS (SELECT 1 FROM json_each(about) a WHERE ${among("a.value", "ids")}))`,
      given: { as: "changesThatCanBeTakenBack", columns: "what, changes, at" },
      erase: "delete",
    },
    {
      where: `EXISTS (SELECT 1 FROM json_each(changes) c WHERE ${OF_THEM_IN_UNDO})`,
      given: {
        as: "changesOfSeveral",
        columns: `what, (SELECT json_group_array(json(c.value)) FROM json_each(changes) c WHERE ${OF_THEM_IN_UNDO}) AS changes, at`,
      },
      erase: {
        changes: `(SELECT json_group_array(json(c.value)) FROM json_each(changes) c WHERE NOT ${OF_THEM_IN_UNDO})`,
        about: `(SELECT json_group_array(a.value) FROM json_each(about) a WHERE NOT (${among("a.value", "ids")}))`,
      },
      keeps: ["kind", "what"],
    },
  ],
  reply_models: {
    where: `EXISTS (SELECT 1 FROM json_each(changes) c WHERE ${among("c.value ->> '$.replyId'", "replies")})`,
    given: null,
    erase: {
      changes: `(SELECT json_group_array(json(c.value)) FROM json_each(changes) c WHERE NOT ${among("c.value ->> '$.replyId'", "replies")})`,
    },
    keeps: ["model", "state"],
  },
  notices: {
    where: `EXISTS (SELECT 1 FROM json_each(@ids) WHERE notices.path = '/prospects/' || value)
      OR EXISTS (SELECT 1 FROM json_each(@replies) WHERE notices.path = '/replies?reply=' || value || '&show=people')`,
    given: { as: "noticesAboutThem", columns: "text, at" },
    erase: "delete",
  },
  set_aside: {
    where: among("lower(from_address)", "addresses"),
    given: { as: "lettersThatCouldNotBeRead", columns: "subject, reason, at" },
    erase: "delete",
  },
  refusals: {
    where: among("lower(recipient)", "addresses"),
    given: { as: "refusedByTheirHost", columns: "recipient, words, at" },
    erase: "delete",
  },
  booking_asks: {
    where: among("lower(email)", "addresses"),
    given: { as: "callsAskedFor", columns: "name, email, phone, place, starts_at, answers" },
    erase: "delete",
  },
  service_mails: {
    where: `${among("prospect_id", "ids")} OR ${among("lower(recipient)", "addresses")} OR ${among("meeting_id", "meetings")}
      OR (kind = 'notice' AND ${mentions("body", "names")})`,
    given: { as: "invitationsAndNotices", columns: "kind, recipient, subject, body, sent_at" },
    erase: {
      ...blank("recipient", "recipient_name", "subject", "body", "calendar"),
      ...nulls("trouble", "prospect_id"),
      state: "CASE state WHEN 'queued' THEN 'dropped' ELSE state END",
    },
    keeps: ["kind", "method", "message_id"],
  },
  meetings: {
    where: among("id", "meetings"),
    given: {
      as: "meetings",
      columns:
        "name, email, phone, place, visitor_zone, answers, starts_at, ends_at, cancelled_at, held_at, missed_at",
    },
    erase: {
      ...blank("email", "phone", "place"),
      name: "'Erased'",
      visitor_zone: "'UTC'",
      answers: "'[]'",
      prospect_id: "NULL",
    },
    keeps: ["token", "attendance"],
  },
  mailboxes: {
    where: `${mentions("coalesce(trouble, '') || coalesce(smtp_trouble, '') || coalesce(copy_trouble, '')", "addresses")}`,
    given: null,
    erase: Object.fromEntries(
      ["trouble", "smtp_trouble", "copy_trouble"].map((column) => [
        column,
        `iif(${mentions(`coalesce(${column}, '')`, "addresses")}, 'The server refused something.', ${column})`,
      ]),
    ),
    // All else is the mailbox's own.
    keeps: ["*"],
  },
  loads: {
    where: among("touch_id", "touches"),
    given: { as: "loads", columns: "kind, at, agent, network, url, trust, because" },
    erase: "delete",
  },
  load_tallies: {
    where: among("touch_id", "touches"),
    given: { as: "opensAndClicks", columns: "kind, loads" },
    erase: "stays",
    keeps: ["kind"],
  },
  touches: [
    {
      where: `${among("prospect_id", "ids")} AND state = 'queued'`,
      given: null,
      erase: "delete",
    },
    {
      where: among("prospect_id", "ids"),
      given: {
        as: "touches",
        columns:
          "kind, state, recipient, cc, subject, body, note, outcome, due_at, sent_at, ended_at, server_answer",
      },
      erase: {
        ...blank("recipient", "subject", "body", "note", "cc", "bcc", "thread_references"),
        ...nulls("markup", "in_reply_to", "server_answer", "refused_words"),
        attachments: "'[]'",
      },
      keeps: ["kind", "step_id", "variant_id", "state", "outcome", "message_id", "format"],
    },
  ],
  events: {
    where: among("prospect_id", "ids"),
    given: { as: "events", columns: "at, kind, detail" },
    erase: nulls("detail"),
    keeps: ["kind", "bounce"],
  },
  decisions: {
    where: among("journey_id", "journeys"),
    given: { as: "decisions", columns: "at, kind, outcome" },
    erase: "stays",
    keeps: ["node_id", "kind", "outcome", "inputs"],
  },
  holds: [
    {
      where: `(scope = 'prospect' AND ${among("scope_id", "ids")}) OR (scope = 'journey' AND ${among("scope_id", "journeys")})`,
      given: { as: "pauses", columns: "reason, detail, since, until" },
      erase: "delete",
    },
    {
      where: among("cause_prospect_id", "ids"),
      given: { as: "pausesOfColleagues", columns: "reason, detail, since, until" },
      erase: nulls("detail"),
      keeps: ["scope", "reason"],
    },
  ],
  let_go: {
    where: among("prospect_id", "ids"),
    given: { as: "letGoOn", columns: "at" },
    erase: "delete",
  },
  journeys: {
    where: among("id", "journeys"),
    given: {
      as: "sequences",
      columns:
        "(SELECT name FROM sequences s WHERE s.id = sequence_id) AS name, state, started_at, ended_at, stop_reason, stop_detail",
    },
    erase: nulls("wait_detail", "stop_detail"),
    keeps: ["state", "place_id", "wait_reason", "stop_reason"],
  },
  reminders: {
    where: among("prospect_id", "ids"),
    given: { as: "reminders", columns: "kind, text, due_at, ended_at, how" },
    erase: "delete",
  },
  replies: {
    where: `${among("prospect_id", "ids")} OR ${among("lower(from_address)", "addresses")}`,
    given: {
      as: "letters",
      columns: "kind, from_address, from_name, subject, text, quoted, attached, detail, reading, at",
    },
    erase: {
      ...blank("from_address", "from_name", "answer_to", "subject", "text", "quoted", "thread_references"),
      ...nulls("detail", "reading"),
      // Theirs may name their host; it stays unlike any other.
      message_id: "'erased ' || id",
      attached: "'[]'",
      prospect_id: `iif(${among("prospect_id", "ids")}, NULL, prospect_id)`,
    },
    keeps: ["kind", "certainty"],
  },
  block_list: {
    where: `kind = 'address' AND ${among("value", "addresses")}`,
    given: { as: "blocked", columns: "value, reason, note, at" },
    erase: "delete",
  },
  block_removals: {
    where: `kind = 'address' AND ${among("value", "addresses")}`,
    given: { as: "blocksLifted", columns: "value, reason, why, at" },
    erase: blank("value", "why"),
    keeps: ["kind", "reason"],
  },
  cleanings: {
    where: among("prospect_id", "ids"),
    given: { as: "asImported", columns: "fields" },
    erase: "delete",
  },
  changes: {
    where: among("prospect_id", "ids"),
    given: { as: "changes", columns: "field, before, after, source, detail, at" },
    erase: "delete",
  },
  notes: {
    where: among("prospect_id", "ids"),
    given: { as: "notes", columns: "text, at" },
    erase: "delete",
  },
  duplicates: {
    where: `kind = 'person' AND (${among("a_id", "ids")} OR ${among("b_id", "ids")})`,
    given: { as: "takenForAnother", columns: "reason, state, at" },
    erase: "delete",
  },
  found_people: {
    where: `${among("known_id", "ids")} OR ${among("kept_id", "ids")}
      OR ${among("lower(raw ->> '$.email')", "addresses")} OR ${among("lower(fields ->> '$.email')", "addresses")}`,
    given: { as: "foundInTheDirectory", columns: "raw, fields, reason, detail" },
    erase: "delete",
  },
  import_rows: {
    where: `${among("prospect_id", "ids")} OR ${mentions("detail", "addresses")}`,
    given: { as: "rowsOfFiles", columns: "kind, line, detail" },
    erase: "delete",
  },
  imports: {
    where: mentions("report", "addresses"),
    given: null,
    erase: { report: "json_remove(report, '$.problems')" },
    keeps: ["file_name", "state", "settings", "problem"],
  },
  list_prospects: {
    where: among("prospect_id", "ids"),
    given: { as: "lists", columns: "(SELECT name FROM lists l WHERE l.id = list_id) AS name" },
    erase: "delete",
  },
  companies: {
    where: `id IN (SELECT company_id FROM prospects WHERE ${among("id", "ids")})`,
    given: { as: "company", columns: "name, domain, industry, region" },
    erase: "stays",
    keeps: ["name", "domain", "industry", "region", "about"],
  },
  prospects: {
    where: among("id", "ids"),
    given: {
      as: "person",
      columns: `email, first_name, last_name, company, title, city, country, time_zone, language, phone, profile, stage, custom, unread,
        verdict, verdict_reason, verdict_detail, verdict_at, origin, created_at`,
    },
    erase: {
      ...blank(
        "first_name",
        "last_name",
        "company",
        "title",
        "city",
        "country",
        "phone",
        "profile",
        "language",
        "verdict_detail",
      ),
      ...nulls("email", "company_id", "time_zone", "verdict", "verdict_reason", "verdict_at"),
      custom: "'{}'",
      unread: "'{}'",
      found_by: "''",
      erased_at: "@now",
    },
    keeps: ["stage", "origin"],
  },
};

/** Tables in which nobody outside the team stands, and why. */
export const OF_NOBODY: Readonly<Record<string, string>> = {
  ...Object.fromEntries(
    [
      "address_revision",
      "api_keys",
      "clock_moves",
      "demo_clock",
      "engine_lease",
      "journey_outcomes",
      "listeners",
      "notice_mark",
      "page_templates",
      "outcome_revisions",
      "outcomes_due",
      "pauses",
      "plan_revision",
      "reconsider",
      "recoveries",
      "recovery_reads",
      "replan",
      "reply_revision",
      "revisions",
      "touch_outcomes",
    ].map((table) => [table, "Counts and marks of the engine."]),
  ),
  ...Object.fromEntries(
    [
      "booking_hosts",
      "booking_pages",
      "calendars",
      "busy_times",
      "password_links",
      "sessions",
      "sign_in_tries",
      "social_accounts",
      "users",
    ].map((table) => [table, "The team's own people."]),
  ),
  ...Object.fromEntries(
    [
      "column_runs",
      "column_uses",
      "columns",
      "custom_fields",
      "files",
      "filters",
      "findings_set_aside",
      "forms",
      "labels",
      "list_columns",
      "lists",
      "looks",
      "pieces",
      "pool_mailboxes",
      "pools",
      "profiles",
      "sequence_mailboxes",
      "sequence_versions",
      "sequences",
      "settings",
      "shelf",
      "targets",
      "rules",
      "webhooks",
    ].map((table) => [table, "What the team wrote and set."]),
  ),
  pictures: "What companies show on their sites.",
  drifts_seen: "Weeks in which a mailbox changed.",
  wording_shares: "How many of how many a wording brought.",
  domain_checks: "What a domain's servers say of themselves.",
  mail_hosts: "Who receives a domain's mail.",
  erased_addresses: "One-way hashes, so that nobody who was erased comes back.",
  exchange_mails: "Letters between the team's own mailboxes.",
  failures: "The program's own faults.",
  folder_marks: "How far a mailbox was read.",
  seen_folders: "Names of a mailbox's folders.",
  jobs: "Numbers of lists, files and people, and how far it came.",
  searches: "The profile that was asked for; whom the directory named stands in found_people.",
  words_due: "Numbers of letters that the index does not hold yet.",
  message_words: "The index of letters, which follows touches and replies by triggers.",
  message_pieces: "The same, of languages without spaces.",
};

/** Who somebody is, with everybody who was merged into them. */
export function subjectOf(db: Db, id: number): Subject {
  const array = (query: string, given: Record<string, Value>) =>
    sql(db, `SELECT json_group_array(x) AS found FROM (${query})`).get<{ found: string }>(given)?.found ??
    "[]";
  const ids = array("SELECT id AS x FROM prospects WHERE id = @id OR merged_into = @id", { id });
  const addresses = array(
    `SELECT lower(email) AS x FROM prospects WHERE email IS NOT NULL AND ${among("id", "ids")}`,
    { ids },
  );
  const of = (query: string) => array(query, { ids, addresses });
  return {
    ids,
    addresses,
    // A first name alone would be found in anybody's text.
    names: of(
      `SELECT first_name || ' ' || last_name AS x FROM prospects WHERE first_name != '' AND last_name != '' AND ${among("id", "ids")}`,
    ),
    journeys: of(`SELECT id AS x FROM journeys WHERE ${among("prospect_id", "ids")}`),
    touches: of(`SELECT id AS x FROM touches WHERE ${among("prospect_id", "ids")}`),
    replies: of(
      `SELECT id AS x FROM replies WHERE ${among("prospect_id", "ids")} OR ${among("lower(from_address)", "addresses")}`,
    ),
    meetings: of(
      `SELECT id AS x FROM meetings WHERE ${among("prospect_id", "ids")} OR ${among("lower(email)", "addresses")}`,
    ),
  };
}

export const linesOf = (table: string): readonly Line[] => [KEPT[table] ?? []].flat();
