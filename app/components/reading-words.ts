/** How somebody read a file, in words. */
import type { Reading } from "../../core/pages/reading";
import { count } from "./words";

/** "40 s", "1 min 5 s", "12 min". */
export const lasted = (seconds: number): string => {
  const minutes = Math.floor(seconds / 60);
  const words =
    minutes === 0
      ? `${seconds} s`
      : minutes >= 10 || seconds % 60 === 0
        ? `${Math.round(seconds / 60)} min`
        : `${minutes} min ${seconds % 60} s`;
  // On one line, wherever it stands.
  return words.replaceAll(" ", "\u00a0");
};

/** "3 of 12 pages in 1 min 5 s, longest on page 2". */
export function readingWords({ pages, seen, seconds, longest }: Reading): string {
  const most = longest === null || seen < 2 ? "" : `, longest on page ${longest}`;
  if (pages <= 1) return lasted(seconds);
  return `${seen === pages ? `all ${count(pages, "page")}` : `${seen} of ${count(pages, "page")}`} in ${lasted(seconds)}${most}`;
}
