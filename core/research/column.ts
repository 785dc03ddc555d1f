/** A column that is worked out: what goes in, how it is found, what comes out. */
import { z } from "zod";
import { pathSchema } from "../connections/json-path.ts";
import { fold } from "../fold.ts";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../writing/fields.ts";
import { fieldsIn, mergeProblems } from "../writing/merge.ts";
import { type ColumnScope, type Gives, SITE_PIECES } from "./column-kinds.ts";

const template = (most: number) => z.string().trim().min(1, "Write what is asked for.").max(most);

export const columnSettingsSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("site"), piece: z.enum(SITE_PIECES) }),
  z.object({
    kind: z.literal("ask"),
    /** With fields in it, as everywhere. */
    question: template(1_000),
    /** What it may answer from: their site, or the fields in the question alone. */
    reads: z.enum(["site", "fields"]),
    /** The longest answer, in signs. */
    most: z.coerce.number().int().min(20).max(1_000).default(300),
  }),
  z.object({ kind: z.literal("formula"), formula: template(1_000) }),
  z.object({
    kind: z.literal("service"),
    /** With fields in it, which are encoded. */
    url: template(500).refine(
      (text) => /^https?:\/\/[^\s/{]+/.test(text),
      "Write an address like https://facts.example/?d={{ company_domain }}.",
    ),
    /** The header that carries the key, where it wants one. */
    header: z
      .string()
      .trim()
      .regex(/^[\w-]*$/, "Letters and hyphens only.")
      .refine(
        (name) => !/^(host|content-length|transfer-encoding|connection|upgrade|te|trailer)$/i.test(name),
        "This header is not yours to set.",
      )
      .max(60)
      .default("authorization"),
    /** Where the value stands in its JSON, and where it says on what it rests; "" for nowhere. */
    valueAt: pathSchema,
    sourceAt: z.union([z.literal(""), pathSchema]).default(""),
  }),
]);
export type ColumnSettings = z.infer<typeof columnSettingsSchema>;

/** What is known of a company, by what a column's texts call it. */
export const COMPANY_FIELDS = ["company", "company_domain", "industry", "employees", "region"] as const;

/** The text that is filled in for each; "" where none is. */
export function templateOf(settings: ColumnSettings): string {
  switch (settings.kind) {
    case "site":
      return "";
    case "ask":
      return settings.question;
    case "formula":
      return settings.formula;
    case "service":
      return settings.url;
  }
}

/** The columns that a column takes its values from must be there before it; `columns`: the scope of each, by its field. */
export function scopeOf(settings: ColumnSettings, columns: ReadonlyMap<string, ColumnScope>): ColumnScope {
  const isOfCompany = (field: string) =>
    (COMPANY_FIELDS as readonly string[]).includes(field) || columns.get(field) === "company";
  return fieldsIn(templateOf(settings)).every(isOfCompany) ? "company" : "person";
}

/** What is wrong with a column's text, or null. `fields`: those that lists and other columns have. */
export function columnProblem(settings: ColumnSettings, fields: readonly string[]): string | null {
  return mergeProblems(templateOf(settings), [...COMPANY_FIELDS, ...PROSPECT_FIELDS, ...fields])[0] ?? null;
}

export const givesOf = (settings: ColumnSettings, asked: Gives): Gives =>
  settings.kind === "site"
    ? settings.piece === "logo" || settings.piece === "picture"
      ? "picture"
      : "text"
    : settings.kind === "ask"
      ? "text"
      : asked === "picture"
        ? "text"
        : asked;

/** What texts call a column: "What they do, in a line" is what_they_do_in_a_line. Null where a name has no letters, or means another field. */
export function columnCode(name: string): string | null {
  const code = fold(name)
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^[_0-9]+|_+$/g, "")
    .slice(0, 40)
    .replace(/_+$/, "");
  const taken: readonly string[] = [
    ...PROSPECT_FIELDS,
    ...SENDER_FIELDS,
    ...COMPANY_FIELDS,
    "time_zone",
    "full_name",
  ];
  return code === "" || taken.includes(code) ? null : code;
}

/** Columns that are ready to be put on a list. */
export const READY_COLUMNS: readonly { id: string; name: string; says: string; settings: ColumnSettings }[] =
  [
    {
      id: "line",
      name: "What they do",
      says: "In a line, as their site says it.",
      settings: { kind: "site", piece: "line" },
    },
    {
      id: "news",
      name: "Recent news",
      says: "The newest dated piece on their site or in its feed.",
      settings: { kind: "site", piece: "news" },
    },
    {
      id: "logo",
      name: "Logo",
      says: "Made anew as a picture, for their page.",
      settings: { kind: "site", piece: "logo" },
    },
    {
      id: "picture",
      name: "Their site's picture",
      says: "The one that they show when somebody shares their page.",
      settings: { kind: "site", piece: "picture" },
    },
    {
      id: "competitors",
      name: "Compares with",
      says: "Whom their site compares them with, asked of the assistant.",
      settings: {
        kind: "ask",
        question:
          "Which other organisation does {{ company }} compare itself with, or compete with? Answer with its name alone.",
        reads: "site",
        most: 80,
      },
    },
    {
      id: "opening",
      name: "Opening line",
      says: "A first sentence about them, written by the assistant from what their site says.",
      settings: {
        kind: "ask",
        question:
          "Write one opening sentence for a letter to {{ first_name }}, {{ title }} at {{ company }}, about something particular on their site: a piece of news, an exhibition, a loan. No praise, no question.",
        reads: "site",
        most: 200,
      },
    },
  ];
