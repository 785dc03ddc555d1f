/** A page as one prospect sees it, and what it could not show them. What is missing never breaks a page: its block gives way. */

import type { PublicLanguage } from "../languages.ts";
import { formatHtml } from "../writing/format.ts";
import { type MergeValues, renderMarkup, renderMerge } from "../writing/merge.ts";
import { type Block, type Definition, wordsIn } from "./template.ts";

export type FilledBlock =
  | { id: string; kind: "greeting"; text: string }
  /** Safe HTML, made of what the team wrote; what prospects' fields hold is text in it. */
  | { id: string; kind: "words"; html: string }
  | { id: string; kind: "company"; name: string; logo: string | null }
  | { id: string; kind: "film"; text: string; besideSite: boolean }
  | { id: string; kind: "picture"; fileId: number; text: string }
  | { id: string; kind: "files"; files: number[] }
  | { id: string; kind: "times"; text: string };

/** What one prospect does not get, and what they get instead. */
export interface Lack {
  blockId: string;
  kind: Block["kind"];
  /** What is missing, in words: "first name", "their logo". */
  what: string;
  instead:
    | "left out"
    | "a plain greeting"
    | "their initials"
    | "the film alone"
    | "the film of everybody"
    | "a still picture";
}

/** What there is for them, besides their fields. */
export interface Have {
  film: boolean;
  logo: string | null;
  /** Whether something is known of their site. */
  site: boolean;
  /** Of the page's files, those that are still here. */
  files: ReadonlySet<number>;
  times: boolean;
  /** What a page says that greets nobody by name, in its language. */
  plainGreeting: string;
}

/** The Markdown and Liquid of a text with their values; null, and the empty field, where it cannot be filled in. */
function filled(text: string, values: MergeValues, markup: boolean): { text: string } | { lacks: string } {
  const rendered = markup ? renderMarkup(text, values, []) : renderMerge(text, values);
  if (rendered.ok) return { text: rendered.text.trim() };
  return { lacks: rendered.emptyField?.replaceAll("_", " ") ?? "a text that can be filled in" };
}

export function fillPage(
  definition: Definition,
  language: PublicLanguage,
  values: MergeValues,
  have: Have,
): { blocks: FilledBlock[]; lacks: Lack[] } {
  const lacks: Lack[] = [];
  const shown = (block: Block): FilledBlock[] => {
    const { id, kind } = block;
    const without = (what: string, instead: Lack["instead"]) => {
      lacks.push({ blockId: id, kind, what, instead });
    };
    /** A line beside something else: where it cannot be filled in, that stands alone. */
    const line = (text: Parameters<typeof wordsIn>[0]): string => {
      const made = filled(wordsIn(text, definition, language), values, false);
      if ("text" in made) return made.text;
      without(made.lacks, "left out");
      return "";
    };
    switch (block.kind) {
      case "greeting": {
        const made = filled(wordsIn(block.text, definition, language), values, false);
        if ("text" in made) return made.text === "" ? [] : [{ id, kind: "greeting", text: made.text }];
        without(made.lacks, "a plain greeting");
        return [{ id, kind: "greeting", text: have.plainGreeting }];
      }
      case "words": {
        const made = filled(wordsIn(block.text, definition, language), values, true);
        if ("text" in made)
          return made.text === "" ? [] : [{ id, kind: "words", html: formatHtml(made.text) }];
        without(made.lacks, "left out");
        return [];
      }
      case "company": {
        const name = values.company?.trim() ?? "";
        if (name === "") {
          without("company", "left out");
          return [];
        }
        if (have.logo === null) without("their logo", "their initials");
        return [{ id, kind: "company", name, logo: have.logo }];
      }
      case "film": {
        if (!have.film) {
          without("the film", "left out");
          return [];
        }
        const wantsSite = block.beside === "site";
        if (wantsSite && !have.site) without("what their site looks like", "the film alone");
        return [{ id, kind: "film", text: line(block.text), besideSite: wantsSite && have.site }];
      }
      case "picture":
        if (block.fileId === null || !have.files.has(block.fileId)) {
          without("the picture", "left out");
          return [];
        }
        return [{ id, kind: "picture", fileId: block.fileId, text: line(block.text) }];
      case "files": {
        const files = block.files.filter((file) => have.files.has(file));
        return files.length === 0 ? [] : [{ id, kind: "files", files }];
      }
      case "times":
        if (!have.times) {
          without("free times", "left out");
          return [];
        }
        return [{ id, kind: "times", text: line(block.text) }];
    }
  };
  return { blocks: definition.blocks.flatMap(shown), lacks };
}
