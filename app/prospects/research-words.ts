/** What columns are called by, and how sure a value is, in words. */
import type { ColumnSettings } from "../../core/research/column";
import type { ColumnKind, SitePiece } from "../../core/research/column-kinds";
import type { Sureness } from "../../core/research/site";
import type { Show } from "../../server/research/research-of-list";
import type { Tone } from "../components/pill";

const PIECES: Record<SitePiece, string> = {
  line: "what they say they do",
  name: "what they call themselves",
  logo: "their logo",
  picture: "the picture that they show",
  news: "their newest dated news",
  language: "its language",
  address: "an address that stands there",
};

/** How it is found, in a few words. */
export const howFound = (settings: ColumnSettings): string => {
  switch (settings.kind) {
    case "site":
      return `from their site: ${PIECES[settings.piece]}`;
    case "ask":
      return settings.reads === "site"
        ? "asked of the assistant, from their site"
        : "asked of the assistant, from fields";
    case "formula":
      return "put together from other fields";
    case "service":
      return `asked of ${settings.url.replace(/^https?:\/\//, "").split(/[/?]/)[0]}`;
  }
};

export const KIND_WORDS: Record<ColumnKind, { name: string; says: string }> = {
  site: { name: "Read from their site", says: "One thing that stands on it." },
  ask: {
    name: "A question of your own",
    says: "The assistant answers it for each, from their site or from fields.",
  },
  formula: { name: "A formula", says: "Fields and columns put together, as in texts." },
  service: { name: "An own service", says: "Any address that answers with JSON." },
};

export const SURENESS: Record<Sureness, { words: string; tone: Tone }> = {
  sure: { words: "sure", tone: "kelp" },
  likely: { words: "likely", tone: "tile" },
  doubtful: { words: "doubtful", tone: "ochre" },
};

/** In the order of the tabs. */
export const SHOWS: readonly Show[] = ["read", "found", "none", "open"];
export const SHOW_WORDS: Record<Show, { name: string; empty: string }> = {
  read: { name: "To read", empty: "Nothing here waits to be read." },
  found: { name: "Found", empty: "Nothing was found yet." },
  none: { name: "Not found", empty: "Everything that was looked for was found." },
  open: { name: "Not looked for", empty: "Everybody was looked for." },
};

export const PIECE_CHOICES = Object.entries(PIECES).map(([piece, words]) => [piece, words] as const);
