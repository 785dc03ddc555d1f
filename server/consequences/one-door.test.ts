/** What only one place may write is written at no other: asked of the source, since nothing else could notice a second door. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { projectRoot } from "../config.ts";

const sources = readdirSync(join(projectRoot, "server"), { recursive: true, encoding: "utf8" })
  .filter((file) => file.endsWith(".ts") && !file.endsWith(".test.ts") && !file.startsWith("tests"))
  .map((file) => ({ file, text: readFileSync(join(projectRoot, "server", file), "utf8") }));
const withMatch = (pattern: RegExp) =>
  sources.filter(({ text }) => pattern.test(text)).map(({ file }) => file);

describe("only one file", () => {
  const DOORS: [what: string, pattern: RegExp, files: string[]][] = [
    ["blocks an address", /INSERT( OR \w+)? INTO block_list/, ["db/block-list.ts"]],
    ["takes an entry off the block list", /DELETE FROM block_list/, ["db/block-list.ts"]],
    ["begins a journey", /INSERT INTO journeys/, ["sequences/start-sequence.ts"]],
    ["ends a journey or lets it go on", /UPDATE journeys SET state/, ["db/journeys.ts"]],
    ["moves somebody to a stage", /SET stage = /, ["db/journeys.ts"]],
    ["sets or lifts a hold", /(INTO|FROM|UPDATE) holds( \(|\n| SET| WHERE \$\{|")/, ["db/holds.ts"]],
  ];
  for (const [what, pattern, files] of DOORS)
    it(`${what}: ${files}`, () => {
      expect(withMatch(pattern)).toEqual(files);
    });
});

it("stops, resumes, blocks and stages are written by what applies consequences", () => {
  const callers = (name: string) =>
    withMatch(new RegExp(`\\b${name}\\(db`)).filter((file) => file !== "db/journeys.ts");
  expect(callers("resumeJourney")).toEqual(["consequences/apply.ts"]);
  expect(callers("setStage")).toEqual(["consequences/apply.ts"]);
  expect(callers("raiseStage")).toEqual(["consequences/apply.ts"]);
  expect(callers("stopJourneys")).toEqual(["consequences/apply.ts"]);
  // A page of entries that are nobody's in particular; and of two addresses that are one person's each gets the other's.
  expect(callers("blockEntry").sort()).toEqual([
    "consequences/apply.ts",
    "prospects/block-list/block-list.ts",
    "prospects/duplicates/merge-prospects.ts",
  ]);
});
