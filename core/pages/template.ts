/** What a page for each prospect is made of: blocks in their order, its words in one or more languages, its colours. */
import { z } from "zod";
import { PUBLIC_LANGUAGES, type PublicLanguage } from "../languages.ts";
import type { Colours } from "./colours.ts";

const MOST_BLOCKS = 20;
const MOST_WORDS = 5_000;
/** A page that somebody pasted a book into is none. */
export const MOST_BYTES = 200_000;

const language = z.enum(PUBLIC_LANGUAGES);
/** Liquid and Markdown, as in emails, by language. */
const words = (most: number) =>
  z
    .partialRecord(language, z.string().max(most, `At most ${most.toLocaleString("en")} characters.`))
    .default({});
const id = z.string().min(1).max(40);

export const blockSchema = z.discriminatedUnion("kind", [
  z.strictObject({ id, kind: z.literal("greeting"), text: words(200) }),
  z.strictObject({ id, kind: z.literal("words"), text: words(MOST_WORDS) }),
  /** Their company's name and logo. */
  z.strictObject({ id, kind: z.literal("company") }),
  /** The rep's film, or the one that was made for them; their site beside it or not. */
  z.strictObject({
    id,
    kind: z.literal("film"),
    beside: z.enum(["site", "nothing"]).default("site"),
    text: words(200),
  }),
  z.strictObject({
    id,
    kind: z.literal("picture"),
    fileId: z.number().int().nullable().default(null),
    text: words(200),
  }),
  z.strictObject({ id, kind: z.literal("files"), files: z.array(z.number().int()).max(10).default([]) }),
  /** The free times of whoever made the page, or of a booking page. */
  z.strictObject({ id, kind: z.literal("times"), slug: z.string().max(60).default(""), text: words(200) }),
]);
export type Block = z.infer<typeof blockSchema>;
export type BlockKind = Block["kind"];

const hex = z.string().regex(/^#[0-9a-f]{6}$/i, "Write a colour as #1F4F8F.");
const coloursSchema: z.ZodType<Colours, Partial<Colours>> = z.object({
  accent: hex.default("#1f4f8f"),
  paper: hex.default("#faf9f4"),
});

export const PICTURE_WAYS = ["address", "inside"] as const;

export const definitionSchema = z
  .object({
    /** The first is the one that is shown where nothing is written in a visitor's own. */
    languages: z.array(language).min(1).max(PUBLIC_LANGUAGES.length),
    colours: coloursSchema.prefault({}),
    filmId: z.number().int().nullable().default(null),
    /** Days after which a page ends. */
    days: z.number().int().min(1).max(730).default(90),
    /** Whether an email holds the moving picture inside, or shows it from our address. */
    picture: z.enum(PICTURE_WAYS).default("address"),
    /** What is said in its place where pictures are not shown. */
    pictureText: words(200),
    blocks: z
      .array(blockSchema)
      .min(1, "A page has at least one block.")
      .max(MOST_BLOCKS, `At most ${MOST_BLOCKS} blocks.`),
  })
  .refine(
    ({ blocks }) => new Set(blocks.map(({ id }) => id)).size === blocks.length,
    "Two blocks have the same name.",
  )
  .refine(
    ({ blocks }) =>
      (["film", "times", "greeting", "company"] as const).every(
        (kind) => blocks.filter((block) => block.kind === kind).length <= 1,
      ),
    "A page has one greeting, one film, one company and one choice of times at most.",
  );
export type Definition = z.infer<typeof definitionSchema>;

export const hasBlock = ({ blocks }: Pick<Definition, "blocks">, kind: BlockKind): boolean =>
  blocks.some((block) => block.kind === kind);

/** The language that somebody sees a page in: their own where something is written in it. */
export const shownIn = (
  { languages }: Pick<Definition, "languages">,
  wanted: PublicLanguage | null,
): PublicLanguage => languages.find((each) => each === wanted) ?? (languages[0] as PublicLanguage);

/** A block's words in a language; what is not written in it stands as in the page's first. */
export function wordsIn(
  text: Partial<Record<PublicLanguage, string>>,
  { languages }: Pick<Definition, "languages">,
  language: PublicLanguage,
): string {
  const own = text[language] ?? "";
  return own.trim() === "" ? (text[languages[0] as PublicLanguage] ?? "") : own;
}

/** Every text of a page that is filled in, with the block that it stands in. */
export function textsOfPage({
  blocks,
  pictureText,
  languages,
}: Definition): { blockId: string | null; language: PublicLanguage; text: string }[] {
  const all = (blockId: string | null, text: Partial<Record<PublicLanguage, string>>) =>
    languages.flatMap((language) => {
      const words = text[language] ?? "";
      return words.trim() === "" ? [] : [{ blockId, language, text: words }];
    });
  return [
    ...blocks.flatMap((block) => ("text" in block ? all(block.id, block.text) : [])),
    ...all(null, pictureText),
  ];
}

/** What somebody begins with, who never made one. */
export const usualDefinition = (language: PublicLanguage): Definition =>
  definitionSchema.parse({
    languages: [language],
    pictureText: {
      [language]: 'For {{ first_name | default: "you" }}: a short film by {{ sender_first_name }}',
    },
    blocks: [
      { id: "film", kind: "film", text: { [language]: "{{ sender_name }}" } },
      { id: "greeting", kind: "greeting", text: { [language]: "For {{ first_name }}" } },
      { id: "company", kind: "company" },
      {
        id: "words",
        kind: "words",
        text: {
          [language]:
            'Dear {{ first_name | default: "reader" }},\n\nI filmed what this would look like for {{ company }}. It is a minute.\n\n{{ sender_first_name }}',
        },
      },
      { id: "files", kind: "files" },
      { id: "times", kind: "times", text: { [language]: "Would half an hour suit you?" } },
    ],
  });
