/** What the worker thread does: takes one page, or one feed, apart. */
import type { NewsItem, PageFacts } from "../../core/research/site.ts";
import { feedItems, type Page, pageFacts } from "./page-facts.ts";

export type PageAnswer = { facts: PageFacts } | { items: NewsItem[] };

export default function read({ page, as }: { page: Page; as: "page" | "feed" }): PageAnswer {
  return as === "page" ? { facts: pageFacts(page) } : { items: feedItems(page) };
}
