/**
 * Sequences as files: JSON that any program can read and write, with a version of its own. Described in docs/sequence-file.md;
 * the schema file is made from this one.
 */
import { z } from "zod";
import { replace } from "./edit-path.ts";
import { MAX_NOTE } from "./limits.ts";
import { type EmailStep, everyNode, isEmail, type Path } from "./path.ts";
import { pathSchema } from "./path-schema.ts";

export const FORMAT = "saudade-sequence";
export const FORMAT_VERSION = 1;

export const sequenceFileSchema = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(FORMAT_VERSION),
  name: z.string().trim().min(1).max(80),
  about: z.string().max(500).default(""),
  path: pathSchema,
});
export type SequenceFile = z.infer<typeof sequenceFileSchema>;

/** A sequence is some dozen kilobytes; what is larger by far is none. */
const MOST_BYTES = 2_000_000;

export type ReadFile = { ok: true; file: SequenceFile } | { ok: false; problem: string };

/** Reads a file's text. What cannot be read is answered with where and why. */
export function readSequenceFile(text: string): ReadFile {
  if (text.length > MOST_BYTES)
    return { ok: false, problem: "This file is too large for a sequence (over 2 MB)." };
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch (error) {
    return {
      ok: false,
      problem: `This is no JSON: ${error instanceof Error ? error.message : "it cannot be read"}.`,
    };
  }
  const head = z.object({ format: z.unknown(), version: z.unknown() }).safeParse(parsed);
  if (!head.success || head.data.format !== FORMAT)
    return { ok: false, problem: `This file is no sequence: its "format" should be "${FORMAT}".` };
  const version = Number(head.data.version);
  if (version > FORMAT_VERSION)
    return {
      ok: false,
      problem: `This file was written by a newer version (format ${version}; this one reads up to ${FORMAT_VERSION}). Update, then import it again.`,
    };
  const read = sequenceFileSchema.safeParse(parsed);
  if (read.success) return { ok: true, file: read.data };
  const [issue] = read.error.issues;
  return {
    ok: false,
    problem: `It cannot be read at ${issue?.path.join(".") || "its beginning"}: ${issue?.message}`,
  };
}

/** Pictures and attachments lie with the installation that wrote the file: by their number another would send one of its own. */
export const withoutFiles = (path: Path): Path =>
  everyNode(path)
    .filter(isEmail)
    .reduce((left, { id }) => replace(left, id, (node) => (isEmail(node) ? bare(node) : node)), path);

const PICTURE = /!\[[^\]]*\]\(file:\d+\)/g;

function bare(step: EmailStep): EmailStep {
  const pictures = step.variants.flatMap(({ body }) => body.match(PICTURE) ?? []).length;
  const had = pictures + step.attachments.length;
  if (had === 0) return step;
  const words = `The file brought no pictures and attachments (${had} here): put them in again.`;
  return {
    ...step,
    note: [words, step.note].filter(Boolean).join("\n").slice(0, MAX_NOTE),
    attachments: [],
    variants: step.variants.map((variant) => ({ ...variant, body: variant.body.replace(PICTURE, "") })),
  };
}

/** With an indent, so that two versions can be compared line by line. */
export const writeSequenceFile = (file: Pick<SequenceFile, "name" | "about" | "path">): string =>
  `${JSON.stringify({ format: FORMAT, version: FORMAT_VERSION, ...file }, null, 2)}\n`;

/** The JSON schema (draft 2020-12) of what is read. */
export const sequenceFileJsonSchema = (): unknown =>
  z.toJSONSchema(sequenceFileSchema, { unrepresentable: "any", io: "input", reused: "ref" });
