import type { Standing } from "../../../core/sequence/standing";

/** What is said of people in each standing, and what repairs it. */
export const WORDS: Record<
  Standing,
  { waits: string; pill: string; tone: "tile" | "ochre" | "clay" | "quiet" | "kelp" }
> = {
  ready: { waits: "go now", pill: "", tone: "tile" },
  no_address: { waits: "have no address", pill: "no address", tone: "clay" },
  address_not_good: { waits: "wait for a better address", pill: "better address", tone: "ochre" },
  held: { waits: "are paused, away, or a colleague of theirs answered", pill: "held", tone: "ochre" },
  lacks_field: { waits: "lack what the text needs", pill: "fill in", tone: "clay" },
  line_unread: { waits: "have a line that nobody has read", pill: "read it", tone: "clay" },
  already: { waits: "were started on this sequence before", pill: "started before", tone: "quiet" },
  elsewhere: { waits: "are on another sequence", pill: "elsewhere", tone: "quiet" },
  blocked: { waits: "are on the block list", pill: "blocked", tone: "quiet" },
  address_bad: { waits: "have a bad address", pill: "bad address", tone: "quiet" },
  written_lately: { waits: "were written to in the last 30 days", pill: "written lately", tone: "quiet" },
};
export const COLORS: Record<string, { bgcolor: string; color: string }> = {
  tile: { bgcolor: "tile.main", color: "#fff" },
  ochre: { bgcolor: "ochre.wash", color: "ochre.text" },
  clay: { bgcolor: "clay.wash", color: "clay.main" },
  quiet: { bgcolor: "divider", color: "text.secondary" },
};
