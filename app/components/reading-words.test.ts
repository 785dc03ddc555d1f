import { expect, it } from "vitest";
import { readingOf } from "../../core/pages/reading";
import { lasted, readingWords } from "./reading-words";

it.each([
  [0, "0 s"],
  [59, "59 s"],
  [60, "1 min"],
  [65, "1 min 5 s"],
  [599, "9 min 59 s"],
  [625, "10 min"],
])("%d seconds are said as they are", (seconds, words) => {
  expect(lasted(seconds)).toBe(words.replaceAll(" ", "\u00a0"));
});

it.each([
  [12, { 2: 40, 5: 20, 9: 5 }, "3 of 12 pages in 1 min 5 s, longest on page 2"],
  [3, { 1: 4, 2: 4, 3: 4 }, "all 3 pages in 12 s, longest on page 1"],
  [4, { 3: 7 }, "1 of 4 pages in 7 s"],
  [1, { 1: 30 }, "30 s"],
])("what was read of %d pages is said in a line", (pages, seconds, words) => {
  expect(readingWords(readingOf(pages, seconds as Record<string, number>)).replaceAll("\u00a0", " ")).toBe(
    words,
  );
});
