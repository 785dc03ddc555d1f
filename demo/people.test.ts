import { describe, expect, it } from "vitest";
import { isZone } from "../core/calendar.ts";
import { matchColumns } from "../core/prospects/columns.ts";
import { rowReader } from "../core/prospects/rows.ts";
import { readTable } from "../core/prospects/table.ts";
import { everyStep, isEmail } from "../core/sequence/path.ts";
import { pathProblems } from "../core/sequence/path-problems.ts";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../core/writing/fields.ts";
import { mergeProblems } from "../core/writing/merge.ts";
import { inventPeople, peopleAsCsv } from "./people.ts";
import { DRAFT, MAILBOXES, SEED, SEQUENCES, USERS } from "./scenario.ts";

const people = inventPeople(SEED);

describe("the demo's people", () => {
  it("are about 400 at 180 institutions, the same in every run", () => {
    expect(people.length).toBeGreaterThan(380);
    expect(people.length).toBeLessThan(450);
    expect(new Set(people.map(({ domain }) => domain)).size).toBe(180);
    expect(inventPeople(SEED)).toEqual(people);
  });

  it("are invented: every domain ends in .example, every address is one of a kind and every zone real", () => {
    expect(people.filter(({ email }) => !/^[a-z.-]+@[a-z-]+\.example$/.test(email))).toEqual([]);
    expect(new Set(people.map(({ email }) => email)).size).toBe(people.length);
    expect(people.filter(({ zone }) => !isZone(zone))).toEqual([]);
    for (const { address } of MAILBOXES) expect(address).toMatch(/\.example$/);
    for (const { email } of USERS) expect(email).toMatch(/\.example$/);
  });

  it("can be imported from their CSV without a word, some of them without a first name", () => {
    const read = readTable(new TextEncoder().encode(peopleAsCsv(people)));
    if (!read.ok) throw new Error(read.problem);
    const readRow = rowReader(read.table, matchColumns(read.table.headers, read.table.rows));
    const rows = read.table.rows.map((_, index) => readRow(index));
    expect(rows.map(({ kind }) => kind)).toEqual(people.map(() => "person"));
    const nameless = rows.filter((row) => row.kind === "person" && row.person.fields.firstName === "");
    expect(nameless.length).toBeGreaterThan(3);
  });
});

describe("the demo's sequences", () => {
  it.each([...SEQUENCES, DRAFT])("“$name” can be started as it is written", ({ path, mailboxes }) => {
    const fields = [...PROSPECT_FIELDS, ...SENDER_FIELDS, "galleries"];
    expect(pathProblems(path, { tracksOpens: true, tracksClicks: true, stopsOnReply: true })).toEqual([]);
    const texts = everyStep(path).flatMap((step) =>
      isEmail(step) ? step.variants.flatMap(({ subject, body }) => [subject, body]) : [step.text],
    );
    expect(texts.flatMap((text) => mergeProblems(text, fields))).toEqual([]);
    const known = MAILBOXES.map(({ address }) => address);
    expect(mailboxes.filter((address) => !known.includes(address))).toEqual([]);
  });
});
