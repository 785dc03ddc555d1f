/** A page's blocks in words. */
import type { Lack } from "../../core/pages/fill-page";
import type { Block, BlockKind } from "../../core/pages/template";

export const BLOCK_WORDS: Record<BlockKind, { name: string; says: string }> = {
  greeting: { name: "Greeting", says: "The line at the top, with their name" },
  words: { name: "Words", says: "A paragraph, in your words and theirs" },
  company: { name: "Their company", says: "Its name and logo, as a stamp" },
  film: { name: "Film", says: "Yours, beside their site" },
  picture: { name: "Picture", says: "One that all of them see" },
  files: { name: "Files", says: "To look at and to save" },
  times: { name: "Times for a call", says: "Booked right on the page" },
};

/** Those of which a page has one at most. */
export const ONCE: readonly BlockKind[] = ["greeting", "company", "film", "times"];

/** A block as it is when it is put in. */
export function newBlock(kind: BlockKind, id: string): Block {
  switch (kind) {
    case "film":
      return { id, kind, beside: "site", text: {} };
    case "picture":
      return { id, kind, fileId: null, text: {} };
    case "files":
      return { id, kind, files: [] };
    case "times":
      return { id, kind, slug: "", text: { en: "Would half an hour suit you?" } };
    case "company":
      return { id, kind };
    default:
      return { id, kind, text: {} };
  }
}

/** "Greeting: first name is missing. Instead: a plain greeting". */
export const lackWords = ({ kind, what, instead }: Pick<Lack, "kind" | "what" | "instead">): string =>
  `${BLOCK_WORDS[kind].name}: ${what} ${what === "free times" ? "are" : "is"} missing. ${instead === "left out" ? "It is left out" : `Instead: ${instead}`}`;
