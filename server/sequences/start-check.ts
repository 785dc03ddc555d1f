/** The truth before a start: who of a list goes now, who waits for what, and who is left out. */
import { ADDRESS_STATES, type AddressState, mayWriteTo } from "../../core/prospects/verdict.ts";
import { LATELY, type RuleAt, rulesAt } from "../../core/sending/may-go.ts";
import { everyStep, isEmail, type Path, textsOf } from "../../core/sequence/path.ts";
import { LEFT_OUT, STANDINGS, type Standing, WAITING } from "../../core/sequence/standing.ts";
import type { MergeField } from "../../core/writing/fields.ts";
import { fieldsIn, requiredFields } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import { STATE_OF } from "../db/address-state.ts";
import { blockedSql } from "../db/block-list.ts";
import { HOLDS_COLLEAGUE } from "../db/journeys.ts";
import { nameSql } from "../db/names.ts";
import { type Db, sql } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";

export interface StartCheck {
  counts: Record<Standing, number>;
  /** Of those who lack a field: which, and how many. */
  lacking: { field: string; count: number }[];
  /** The fields that the texts cannot do without. */
  required: string[];
}

/** The fields without which some text of a path cannot be filled in; the sender's own are always there. */
export function requiredOf(path: Path): string[] {
  const texts = everyStep(path).flatMap(textsOf);
  const sender = /^(sender_|booking_link|opt_out_link|page_)/;
  return [...new Set(texts.flatMap(requiredFields))].filter((field) => !sender.test(field));
}

const COLUMN_OF: Record<MergeField, string> = {
  first_name: "p.first_name",
  last_name: "p.last_name",
  email: "coalesce(p.email, '')",
  company: "p.company",
  title: "p.title",
  city: "p.city",
  country: "p.country",
  language: "p.language",
  phone: "p.phone",
  profile: "p.profile",
};

const isEmptySql = (field: string, bind: (name: string) => string): string => {
  const column =
    (COLUMN_OF as Record<string, string>)[field] ??
    `coalesce(json_extract(p.custom, '$.' || ${bind(field)}), '')`;
  return `trim(${column}) = ''`;
};

/** Whoever has a line of the assistant's in an email that leaves by itself, unread; a yes before the start is one that was given on reading it. */
function unreadSql({ path, settings }: Pick<Sequence, "path" | "settings">): string | null {
  if (settings.sendsUnread || settings.approval === "all") return null;
  const fields = everyStep(path)
    .filter(({ kind }) => kind === "email")
    .flatMap(textsOf)
    .flatMap(fieldsIn);
  if (fields.length === 0) return null;
  const said = [...new Set(fields)].map((field) => `'${field.replace(/[^\w]/g, "")}'`).join(", ");
  return `p.unread != '{}' AND EXISTS (SELECT 1 FROM json_each(p.unread) u WHERE u.key IN (${said}) AND u.value = p.custom ->> ('$.' || u.key))
    AND NOT EXISTS (SELECT 1 FROM approvals a WHERE a.sequence_id = @sequenceId AND a.prospect_id = p.id)`;
}

/** The rules that are asked of many people at once, as SQL over `prospects p`; null where the path asks nothing of the kind. */
type Said = Record<RuleAt<"preview" | "start">, string | null>;

/**
 * Everybody's standing at a door, as SQL over `prospects p`; its values are bound by name. It says what the door's rules in
 * core/sending/may-go.ts say of one person, in their order.
 */
export function standingSql(
  door: "preview" | "start" | "single",
  sequence: Pick<Sequence, "id" | "writesTo" | "path" | "settings">,
  now: number,
) {
  const values: Record<string, string | number> = {
    sequenceId: sequence.id,
    sure: JSON.stringify(ADDRESS_STATES.filter((state) => mayWriteTo(sequence.writesTo, state))),
    lately: now - LATELY,
  };
  const bind = (value: string) => {
    const name = `r${Object.keys(values).length}`;
    values[name] = value;
    return `@${name}`;
  };
  const hasEmail = everyStep(sequence.path).some(isEmail);
  const lacking = door === "preview" ? requiredOf(sequence.path).map((field) => isEmptySql(field, bind)) : [];
  const said: Said = {
    already: "EXISTS (SELECT 1 FROM journeys j WHERE j.prospect_id = p.id AND j.sequence_id = @sequenceId)",
    elsewhere: "EXISTS (SELECT 1 FROM journeys j WHERE j.prospect_id = p.id AND j.state = 'active')",
    blocked: blockedSql("p.email"),
    address_bad: hasEmail ? "p.verdict = 'bad'" : null,
    written_lately:
      "EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.sent_at >= @lately AND t.kind != 'test')",
    held: `EXISTS (SELECT 1 FROM holds h WHERE (h.scope = 'prospect' AND h.scope_id = p.id)
      OR (${HOLDS_COLLEAGUE}))`,
    no_address: hasEmail ? "p.email IS NULL" : null,
    address_not_good: hasEmail ? `${STATE_OF} NOT IN (SELECT value FROM json_each(@sure))` : null,
    lacks_field: lacking.length > 0 ? lacking.join(" OR ") : null,
    line_unread: door === "preview" ? unreadSql(sequence) : null,
  };
  const cases = rulesAt(door).flatMap((name) =>
    said[name] === null ? [] : `WHEN ${said[name]} THEN '${name}'`,
  );
  return { standing: `CASE ${cases.join("\n    ")} ELSE 'ready' END`, values };
}

const FROM_LIST =
  "FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id AND p.live = 1 WHERE lp.list_id = @listId";

type OfList = Pick<Sequence, "id" | "listId" | "writesTo" | "path" | "settings">;

/** How many of the sequence's list stand how. */
export function standingCounts({ db, clock }: App, sequence: OfList): StartCheck["counts"] {
  const counts = Object.fromEntries(STANDINGS.map((each) => [each, 0])) as Record<Standing, number>;
  const { listId } = sequence;
  if (listId === null) return counts;
  const { standing, values } = standingSql("preview", sequence, clock.now());
  for (const row of sql(
    db,
    `SELECT standing, count(*) AS count FROM (SELECT ${standing} AS standing ${FROM_LIST}) GROUP BY standing`,
  ).all<{ standing: Standing; count: number }>({ ...values, listId }))
    counts[row.standing] = row.count;
  return counts;
}

/** Of those whom a start takes: how many addresses are in which state. */
export function startAddresses({ db, clock }: App, sequence: OfList): Record<AddressState, number> {
  const counts = Object.fromEntries(ADDRESS_STATES.map((each) => [each, 0])) as Record<AddressState, number>;
  const { standing, values } = standingSql("preview", sequence, clock.now());
  for (const { state, count } of sql(
    db,
    `SELECT state, count(*) AS count FROM (SELECT ${standing} AS standing, ${STATE_OF} AS state ${FROM_LIST})
     WHERE standing NOT IN (SELECT value FROM json_each(@leftOut)) GROUP BY state`,
  ).all<{ state: AddressState; count: number }>({
    ...values,
    listId: sequence.listId,
    leftOut: JSON.stringify(LEFT_OUT),
  }))
    counts[state] = count;
  return counts;
}

/** How everybody of the sequence's list stands, and what they lack. */
export function startCheck(
  app: App,
  sequence: OfList,
  counts: StartCheck["counts"] = standingCounts(app, sequence),
): StartCheck {
  const required = requiredOf(sequence.path);
  return {
    counts,
    lacking: counts.lacks_field > 0 ? lackingCounts(app.db, sequence, required, app.clock.now()) : [],
    required,
  };
}

function lackingCounts(
  db: Db,
  sequence: OfList,
  required: readonly string[],
  now: number,
): StartCheck["lacking"] {
  return required
    .map((field) => {
      const { standing, values } = standingSql("preview", sequence, now);
      const empty = isEmptySql(field, (name) => {
        values.lackedField = name;
        return "@lackedField";
      });
      const row = sql(
        db,
        `SELECT count(*) AS count FROM (SELECT ${standing} AS standing, ${empty} AS empty ${FROM_LIST})
         WHERE standing = 'lacks_field' AND empty`,
      ).get<{ count: number }>({ ...values, listId: sequence.listId });
      return { field, count: row?.count ?? 0 };
    })
    .filter(({ count }) => count > 0);
}

export interface StartPerson {
  id: number;
  name: string;
  company: string;
  standing: Standing;
  address: AddressState;
  /** Their first email was written by hand, or said yes to. */
  isOwn: 0 | 1;
  isApproved: 0 | 1;
}

export const START_PAGE = 60;

/** A page of the list's people, whoever needs something first. */
export function startPeople(
  { db, clock }: App,
  sequence: OfList,
  wanted: Standing | null,
  page: number,
): StartPerson[] {
  if (sequence.listId === null) return [];
  const { standing, values } = standingSql("preview", sequence, clock.now());
  const order = [...WAITING.toReversed(), "ready", ...LEFT_OUT];
  return sql(
    db,
    `SELECT * FROM (
       SELECT p.id, ${nameSql()} AS name,
         p.company, ${standing} AS standing, ${STATE_OF} AS address,
         EXISTS (SELECT 1 FROM own_texts o WHERE o.sequence_id = @sequenceId AND o.prospect_id = p.id) AS isOwn,
         EXISTS (SELECT 1 FROM approvals a WHERE a.sequence_id = @sequenceId AND a.prospect_id = p.id) AS isApproved
       ${FROM_LIST})
     WHERE @wanted IS NULL OR standing = @wanted
     ORDER BY (SELECT key FROM json_each(@order) WHERE value = standing), id LIMIT ${START_PAGE} OFFSET @offset`,
  ).all<StartPerson>({
    ...values,
    listId: sequence.listId,
    wanted,
    order: JSON.stringify(order),
    offset: page * START_PAGE,
  });
}
