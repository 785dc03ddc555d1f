import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { checkAddress } from "./address.ts";
import { customFieldName, matchColumns } from "./columns.ts";
import { readRows, usesProblem } from "./rows.ts";
import { readTable, type Table } from "./table.ts";

const utf8 = (text: string) => new TextEncoder().encode(text);
const tableOf = (bytes: Uint8Array): Table => {
  const read = readTable(bytes);
  if (!read.ok) throw new Error(read.problem);
  return read.table;
};
const problemOf = (bytes: Uint8Array) => {
  const read = readTable(bytes);
  return read.ok ? null : read.problem;
};

describe("a file of prospects", () => {
  it.each([",", ";", "\t", "|"])("is read with “%s” between the columns", (delimiter) => {
    const rows = [
      ["email", "city"],
      ["a@m.example", "Évora"],
    ];
    expect(tableOf(utf8(Papa.unparse(rows, { delimiter }))).rows).toEqual([["a@m.example", "Évora"]]);
  });

  it("is read when it has a single row, with blank lines around it", () => {
    expect(tableOf(utf8("email\tcity\na@m.example\tFaro\n\n\n")).rows).toEqual([["a@m.example", "Faro"]]);
  });

  it("is read in Latin-1 and in UTF-16 of either order, with or without a mark", () => {
    const text = "email,city\na@m.example,Évora\n";
    const latin = Uint8Array.from(text, (char) => char.charCodeAt(0));
    const little = new Uint8Array(Buffer.from(text, "utf16le"));
    const big = new Uint8Array(Buffer.from(text, "utf16le").swap16());
    const marked = new Uint8Array(Buffer.from(`\ufeff${text}`, "utf16le"));
    for (const bytes of [latin, little, big, marked])
      expect(tableOf(bytes)).toMatchObject({ headers: ["email", "city"], rows: [["a@m.example", "Évora"]] });
  });

  it.each([
    ["an Excel file renamed .csv", Uint8Array.from([0x50, 0x4b, 3, 4, 20]), "save it as CSV"],
    ["an empty file", utf8(" \n"), "empty"],
    ["no header", utf8("a@m.example,Ana\nb@m.example,Bia"), "column names"],
    ["no rows", utf8("email,name\n"), "no rows"],
    ["an unknown delimiter", utf8("email:name\na:b\nc:d\n"), "could not be told apart"],
    ["a picture", Uint8Array.from([0x89, 0x50, 0, 0, 0, 13, 7, 7, 0, 9]), "no text file"],
  ])("is refused with what to do: %s", (_, bytes, words) => {
    expect(problemOf(bytes)).toContain(words);
  });

  it("names the line of a quote that is left open", () => {
    expect(problemOf(utf8('email,note\na@m.example,"one\ntwo"\nb@m.example,"open\nc@m.example,x'))).toContain(
      "line 4",
    );
  });

  it("gives back any table that was written as CSV", () => {
    const cell = fc.string({ maxLength: 12 }).map((text) => `x${text.replace(/\r/g, "")}`);
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 20 }), (rows) => {
        const csv = Papa.unparse([["one", "two"], ...rows], { newline: "\n" });
        expect(tableOf(utf8(csv)).rows).toEqual(rows);
      }),
    );
  });
});

describe("columns", () => {
  it("are matched by name, in several languages, and the rest become fields of the list", () => {
    expect(
      matchColumns(["Work Email", "Prénom", "Nachname", "Organisation", "Annual budget (€)"], []),
    ).toEqual(["email", "first_name", "last_name", "company", "custom:annual_budget"]);
  });

  it("with the addresses are found by content when no name says so", () => {
    expect(
      matchColumns(
        ["who", "where"],
        [
          ["a@m.example", "Porto"],
          ["b@m.example", "Faro"],
        ],
      )[0],
    ).toBe("email");
  });

  it("must name the addresses once", () => {
    expect(usesProblem(["city"])).toContain("addresses");
    expect(usesProblem(["email", "email"])).toContain("Two columns");
    expect(usesProblem(["email", "city"])).toBeNull();
  });

  it("become names that a merge field can have", () => {
    expect(["Número de salas", "2nd contact", "!!"].map(customFieldName)).toEqual([
      "numero_de_salas",
      "field_2nd_contact",
      "field_x",
    ]);
  });
});

describe("rows", () => {
  it("without a good address are reported with their line and reason, and repeated ones once", () => {
    const table = tableOf(utf8('email,name\na@m.example,"two\nlines"\n,Bia\nA@M.example,Ana\nbroken,Caio'));
    const { prospects, refused, repeated } = readRows(table, ["email", "first_name"]);
    expect(prospects.map(({ email }) => email)).toEqual(["a@m.example"]);
    expect(refused).toEqual([
      { line: 4, reason: "no address" },
      { line: 6, reason: "“broken” has no @" },
    ]);
    expect(repeated).toEqual([{ line: 5, reason: "a@m.example is on line 2 already" }]);
  });

  it("keep a time zone only if there is one of that name", () => {
    const table = tableOf(utf8("email,tz\na@m.example,Europe/Lisbon\nb@m.example,Lisboa"));
    expect(readRows(table, ["email", "time_zone"]).prospects.map(({ timeZone }) => timeZone)).toEqual([
      "Europe/Lisbon",
      null,
    ]);
  });
});

describe("an address", () => {
  it("is taken out of a display name or a mailto", () => {
    for (const typed of ["Ilse Brandt <Ilse@Kai.example>", "mailto:ilse@kai.example", " ilse@kai.example "])
      expect(checkAddress(typed)).toEqual({ ok: true, address: "ilse@kai.example" });
  });

  it.each([
    "a b@m.example",
    "a@b",
    "a@@m.example",
    "a@m.example; b@m.example",
    ".a@m.example",
    "a@-m.example",
  ])("like “%s” is refused", (typed) => expect(checkAddress(typed).ok).toBe(false));
});
