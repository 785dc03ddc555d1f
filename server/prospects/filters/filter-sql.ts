/** A filter as SQL over `prospects p`, with its values bound by name. */

import { DAY } from "../../../core/calendar.ts";
import { fold } from "../../../core/fold.ts";
import { codesOfCountriesLike, countryCode } from "../../../core/prospects/cleaning/places.ts";
import { OWN_CODES, type OwnField } from "../../../core/prospects/fields.ts";
import type { Condition, Filter } from "../../../core/prospects/filter.ts";
import {
  type DayField,
  kindOfField,
  type Outcome,
  type TextField,
} from "../../../core/prospects/filter-fields.ts";
import { isAddressState } from "../../../core/prospects/verdict.ts";
import { STATE_IS } from "../../db/address-state.ts";
import { blockedIds } from "../../db/block-list.ts";

const own = Object.entries(OWN_CODES).map(([field, code]) => [field, `coalesce(p.${code}, '')`]);
const TEXT_COLUMNS: Record<TextField, string> = {
  ...(Object.fromEntries(own) as Record<OwnField, string>),
  company: "p.company",
  companyDomain: "coalesce((SELECT domain FROM companies WHERE id = p.company_id), '')",
  industry: "coalesce((SELECT industry FROM companies WHERE id = p.company_id), '')",
  note: "coalesce((SELECT group_concat(text, ' ') FROM notes WHERE prospect_id = p.id), '')",
};
const BLOCKED = `p.id IN (${blockedIds})`;
const DAY_COLUMNS: Record<DayField, string> = {
  added: "p.created_at",
  written: "(SELECT max(sent_at) FROM touches t WHERE t.prospect_id = p.id AND t.kind != 'test')",
};

export interface FilterSql {
  where: string;
  values: Record<string, string | number>;
}

/** The condition that a filter is; "1" for an empty one. `now` is epoch milliseconds, for conditions about days. */
export function filterSql(filter: Filter | null, now: number): FilterSql {
  const values: Record<string, string | number> = {};
  const bind = (value: string | number) => {
    const name = `f${Object.keys(values).length}`;
    values[name] = value;
    return `@${name}`;
  };
  const groups = (filter?.groups ?? [])
    .map(({ match, conditions }) =>
      joined(
        match,
        conditions.map((condition) => conditionSql(condition, bind, now)),
      ),
    )
    .filter((group) => group !== "");
  return { where: joined(filter?.match ?? "all", groups) || "1", values };
}

function joined(match: "all" | "any", parts: string[]): string {
  return parts.length === 0 ? "" : `(${parts.join(match === "all" ? " AND " : " OR ")})`;
}

type Bind = (value: string | number) => string;

function conditionSql({ field, op, value }: Condition, bind: Bind, now: number): string {
  const kind = kindOfField(field);
  if (kind === "days") {
    const column = DAY_COLUMNS[field as DayField];
    if (op === "never") return `${column} IS NULL`;
    const since = bind(now - (Number.parseInt(value, 10) || 0) * DAY);
    return op === "within" ? `${column} >= ${since}` : `${column} < ${since}`;
  }
  if (kind === "choice") {
    const found = choiceSql(field, value, bind);
    return op === "is" ? found : `NOT ${found}`;
  }
  return textSql({ field, op, value }, bind);
}

/** Conditions on text know nobody by their capitals or accents. */
function textSql({ field, op, value }: Condition, bind: Bind): string {
  const custom = field.startsWith("custom:") ? field.slice("custom:".length) : null;
  const column =
    custom === null ? TEXT_COLUMNS[field as TextField] : `coalesce(p.custom ->> ${bind(`$.${custom}`)}, '')`;
  if (op === "empty") return `${column} = ''`;
  if (op === "filled") return `${column} != ''`;
  const isWhole = op.startsWith("is");
  const around = isWhole ? "" : "%";
  const wanted = fold(value);
  const like = (pattern: string) => `LIKE ${bind(pattern)} ESCAPE '\\'`;
  const likeIt = like(`${around}${escaped(wanted)}${around}`);
  // A look at the JSON's text spares most rows the reading of it.
  const near =
    custom === null || value === ""
      ? ""
      : `p.custom ${like(`%"${custom}":"${around}${escaped(JSON.stringify(wanted).slice(1, -1))}%`)} AND `;
  // LIKE knows the capitals of ASCII only; folding costs more, so only what has other letters is folded.
  const stored = custom === null ? column : "p.custom";
  const folded = `octet_length(${stored}) > length(${stored}) AND fold(${column}) ${likeIt}`;
  const parts = [`${near}${column} ${likeIt}`, folded];
  if (field === "country") {
    // Stored are codes, or what no code was found for; typed are names.
    const codes = isWhole ? [countryCode(value)] : codesOfCountriesLike(value);
    const known = codes.filter((code) => code !== null).map((code) => bind(code));
    parts.push(`${column} IN (${known.join(", ")})`);
  }
  return `${op.endsWith("_not") ? "NOT " : ""}(${parts.map((part) => `(${part})`).join(" OR ")})`;
}

/** For LIKE, with its signs as they are. */
const escaped = (value: string) => value.replace(/[\\%_]/g, "\\$&");

function choiceSql(field: string, value: string, bind: Bind): string {
  switch (field) {
    case "stage":
      return `p.stage = ${bind(value)}`;
    case "origin":
      return `p.origin = ${bind(value)}`;
    case "owner":
      return `coalesce(p.owner_id, 0) = ${bind(Number(value) || 0)}`;
    case "verdict":
      // Filters of older days may ask for these.
      if (value === "none") return "p.email IS NULL";
      if (value === "risky") return "(p.verdict IS 'risky')";
      if (value === "unknown") return STATE_IS.unchecked;
      return isAddressState(value) ? STATE_IS[value] : "0";
    case "blocked":
      return value === "no" ? `NOT ${BLOCKED}` : BLOCKED;
    case "list":
      return `p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = ${bind(Number(value) || 0)})`;
    default:
      return outcomeSql(value, bind);
  }
}

function outcomeSql(value: string, bind: Bind): string {
  const [sequence = "any", outcome = "started"] = value.split(" ") as [string, Outcome];
  const theirs =
    sequence === "any"
      ? "j.prospect_id = p.id"
      : `j.prospect_id = p.id AND j.sequence_id = ${bind(Number(sequence) || 0)}`;
  const journey = (more = "") => `EXISTS (SELECT 1 FROM journeys j WHERE ${theirs}${more})`;
  const happened = (kind: string) =>
    `EXISTS (SELECT 1 FROM events e WHERE e.journey_id = j.id AND e.kind = '${kind}')`;
  switch (outcome) {
    case "not_started":
      return `NOT ${journey()}`;
    case "opened_silent":
      return journey(` AND ${happened("opened")} AND NOT ${happened("replied")}`);
    case "clicked_silent":
      return journey(` AND ${happened("clicked")} AND NOT ${happened("replied")}`);
    case "silent":
      return journey(` AND j.state = 'finished' AND NOT ${happened("replied")}`);
    case "replied":
    case "booked":
    case "bounced":
      return journey(` AND ${happened(outcome)}`);
    default:
      return journey();
  }
}
