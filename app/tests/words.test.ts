/** For one state there is one word, on every screen. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";

/** What was said of addresses besides good, likely, doubtful, bad, not checked and none (core/prospects/verdict.ts). */
const OTHER_WORDS =
  /\b(?:un)?proven\b|\brisky\b|\bunsure address|\bnot (?:as )?(?:good|sure)\b|\bdubious\b|\bunverified\b/i;

/** The text between quotes and tags: no comments, and no value that is compared with. */
const said = (source: string) =>
  source.replace(/\/\*[\s\S]*?\*\/|(?<!:)\/\/.*$/gm, "").replace(/[=!]== "[^"]*"/g, "");

it("of an address nothing is said but the words for it", () => {
  const sources = ["app", "server/today", "server/notices", "server/sequences"].flatMap((room) =>
    readdirSync(room, { recursive: true, withFileTypes: true }).map((file) =>
      join(file.parentPath, file.name),
    ),
  );
  const found = sources
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$|\/tests\//.test(file))
    .flatMap((file) =>
      said(readFileSync(file, "utf8"))
        .split("\n")
        .filter((line) => OTHER_WORDS.test(line))
        .map((line) => `${file}: ${line.trim()}`),
    );
  expect(found).toEqual([]);
});
