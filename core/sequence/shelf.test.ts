import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../writing/fields.ts";
import { mergeProblems } from "../writing/merge.ts";
import type { EmailStep, Path } from "./path.ts";
import { everyStep, isEmail } from "./path.ts";
import { readSequenceFile, sequenceFileJsonSchema, withoutFiles, writeSequenceFile } from "./path-file.ts";
import { pathProblems, pushyRemarks } from "./path-problems.ts";
import { pathSchema } from "./path-schema.ts";
import { blanksIn, SHELF } from "./shelf.ts";
import { anyPath } from "./test-paths.ts";
import { NO_WAIT } from "./wait.ts";

describe("the shelf", () => {
  it("holds at least twelve starting points, each with a name of its own and steps on two channels or more in most", () => {
    expect(SHELF.length).toBeGreaterThanOrEqual(12);
    expect(new Set(SHELF.map(({ name }) => name)).size).toBe(SHELF.length);
    const mixed = SHELF.filter(({ path }) => new Set(everyStep(path).map(({ kind }) => kind)).size > 1);
    expect(mixed.length).toBeGreaterThan(8);
  });

  it.each(SHELF.map((point) => [point.name, point] as const))(
    "“%s” can be started once its blanks are filled in",
    (_, { path }) => {
      expect(pathSchema.parse(path)).toEqual(path);
      expect(pathProblems(path, { tracksOpens: true, tracksClicks: true, stopsOnReply: true })).toEqual([]);
      expect(pushyRemarks(path)).toEqual([]);
      const texts = everyStep(path).flatMap((step) =>
        isEmail(step) ? step.variants.flatMap(({ subject, body }) => [subject, body]) : [step.text],
      );
      expect(texts.flatMap((text) => mergeProblems(text, [...PROSPECT_FIELDS, ...SENDER_FIELDS]))).toEqual(
        [],
      );
      expect(texts.flatMap(blanksIn).length).toBeGreaterThan(0);
    },
  );

  it("knows a blank from a link, also where the editor protected its brackets", () => {
    expect(blanksIn("[what you do] and \\[the date\\], [my calendar](https://x.example)")).toEqual([
      "what you do",
      "the date",
    ]);
  });
});

describe("a sequence as a file", () => {
  it("comes back as it was written", () => {
    fc.assert(
      fc.property(anyPath, (path) => {
        const text = writeSequenceFile({ name: "Loans", about: "", path });
        expect(readSequenceFile(text)).toMatchObject({ ok: true, file: { name: "Loans", path } });
      }),
      { numRuns: 60 },
    );
  });

  it("leaves out pictures and attachments, which are another installation's, and says so with the step", () => {
    const mail = (change: Partial<EmailStep>): EmailStep => ({
      ...{
        id: "a",
        kind: "email",
        name: "A",
        note: "",
        wait: { days: 0, working: true },
        format: "formatted",
      },
      ...{ quotes: false, attachments: [], variants: [{ id: "a", weight: 1, subject: "S", body: "Hi" }] },
      ...change,
    });
    const bodies = [
      { id: "a", weight: 1, subject: "S", body: "See ![the sheet](file:12) and ![](file:3)." },
      { id: "b", weight: 1, subject: "S", body: "No ![picture](https://x.example/y.png)" },
    ];
    const path: Path = [
      mail({ id: "plain", note: "Mine" }),
      {
        id: "f",
        kind: "fork",
        ask: { about: "address" },
        patience: NO_WAIT,
        yes: [mail({ attachments: [7, 8] })],
        no: [],
      },
      mail({ id: "shown", note: "Mine", variants: bodies }),
    ] as Path;
    const [plain, fork, shown] = withoutFiles(path) as [EmailStep, { yes: EmailStep[] }, EmailStep];
    expect(plain).toEqual(path[0]);
    expect(fork.yes[0]).toMatchObject({ attachments: [], note: expect.stringContaining("(2 here)") });
    expect(shown.variants.map(({ body }) => body)).toEqual(["See  and .", bodies[1]?.body]);
    expect(shown.note).toMatch(/\(2 here\): put them in again\.\nMine$/);
  });

  it.each([
    ["no JSON", "{", "This is no JSON"],
    ["another format", '{"format":"x"}', "no sequence"],
    ["a newer format", '{"format":"saudade-sequence","version":9}', "newer version"],
    [
      "a step of an unknown kind",
      '{"format":"saudade-sequence","version":1,"name":"x","path":[{"id":"a","kind":"fax"}]}',
      "cannot be read at path.0",
    ],
    ["something huge", " ".repeat(2_000_001), "too large"],
  ])("that is %s is refused with where and why", (_, text, words) => {
    const read = readSequenceFile(text);
    expect(read.ok ? "" : read.problem).toContain(words);
  });
});

it("the schema file in docs is the one that is read by", () => {
  const file = new URL("../../docs/sequence-file.schema.json", import.meta.url);
  expect(JSON.parse(readFileSync(file, "utf8"))).toEqual(
    JSON.parse(JSON.stringify(sequenceFileJsonSchema())),
  );
});
