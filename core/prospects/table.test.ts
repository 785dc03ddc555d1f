import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { checkAddress, readAddress } from "./address.ts";
import { guessContent } from "./column-content.ts";
import { type ColumnUse, customFieldName, matchColumns } from "./columns.ts";
import { type ReadRow, rowReader, usesProblem } from "./rows.ts";
import { readTable, type Table } from "./table.ts";
import { readVcards, writeVcards } from "./vcard.ts";

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
    ["no rows", utf8("email,name\n"), "no rows"],
    ["an unknown delimiter", utf8("email:name\na:b\nc:d\n"), "could not be told apart"],
    ["a picture", Uint8Array.from([0x89, 0x50, 0, 0, 0, 13, 7, 7, 0, 9]), "no text file"],
  ])("is refused with what to do: %s", (_, bytes, words) => {
    expect(problemOf(bytes)).toContain(words);
  });

  it("loses to a quote that is left open only the line on which it stands", () => {
    const table = tableOf(
      utf8(
        'email,note\na@m.example,"one\ntwo"\nb@m.example,"open\nc@m.example,x\nd@m.example,"Kai "Nord" GmbH"\n',
      ),
    );
    expect(table.damaged).toEqual([{ line: 4, problem: expect.stringContaining("never closed") }]);
    expect(table.rows).toEqual([
      ["a@m.example", "one\ntwo"],
      ["c@m.example", "x"],
      ["d@m.example", 'Kai "Nord" GmbH'],
    ]);
    expect(table.lines).toEqual([2, 5, 6]);
  });

  it("is read whatever lines are broken by a quotation mark, but for those", () => {
    const line = fc.record({
      name: fc.stringMatching(/^[a-z][a-z ]{0,7}$/),
      isBroken: fc.boolean(),
      isQuoted: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 30 }), (lines) => {
        fc.pre(lines.some(({ isBroken }) => !isBroken));
        const rows = lines.map(({ name, isBroken, isQuoted }, at) =>
          isBroken ? `${at}@m.example,"${name},x` : `${at}@m.example,${isQuoted ? `"${name}, y"` : name},x`,
        );
        const table = tableOf(utf8(`email,name,town\n${rows.join("\n")}\n`));
        expect(table.rows.map(([email]) => email)).toEqual(
          lines.flatMap(({ isBroken }, at) => (isBroken ? [] : [`${at}@m.example`])),
        );
        expect(table.damaged.map(({ line }) => line)).toEqual(
          lines.flatMap(({ isBroken }, at) => (isBroken ? [at + 2] : [])),
        );
      }),
    );
  });

  it("without column names is read from its first line, and says so", () => {
    const table = tableOf(utf8("a@m.example,Ana\nb@m.example,Bia"));
    expect(table).toMatchObject({ headers: ["Column 1", "Column 2"], lines: [1, 2] });
    expect(table.notes).toEqual([expect.stringContaining("no column names")]);
    expect(matchColumns(table.headers, table.rows, new Map(), guessContent)).toEqual([
      "email",
      "custom:column_2",
    ]);
  });

  it("with a line that names its delimiter, or a title above the names, begins below them", () => {
    const table = tableOf(
      utf8("sep=;\nMuseums of the north;;\n\nemail;name;town\na@m.example;Ana;Faro\nb@m.example;Bia;Faro"),
    );
    expect(table).toMatchObject({ headers: ["email", "name", "town"], lines: [5, 6] });
    expect(table.notes).toEqual([expect.stringContaining("Museums of the north")]);
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

  it("are found by content where no name says so", () => {
    const rows = [
      ["a@m.example", "Porto", "https://www.m.example", "+351 21 123 4567", "Portugal"],
      ["b@k.example", "Faro", "k.example", "+49 40 123456", "DE"],
    ];
    expect(matchColumns(["one", "two", "three", "four", "five"], rows, new Map(), guessContent)).toEqual([
      "email",
      "city",
      "company_domain",
      "phone",
      "country",
    ]);
  });

  it("are used as they were the last time", () => {
    expect(matchColumns(["Remark", "Mail"], [], new Map([["remark", "title"]]))).toEqual(["title", "email"]);
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
  const readAll = (text: string, uses: ColumnUse[]) => {
    const table = tableOf(utf8(text));
    const readRow = rowReader(table, uses);
    return table.rows.map((_, index) => readRow(index));
  };
  const people = (rows: ReadRow[]) => rows.flatMap((row) => (row.kind === "person" ? [row.person] : []));

  it("without a good address are reported with their line and reason, and repeated ones once", () => {
    const rows = readAll('email,name\na@m.example,"two\nlines"\n,Bia\nA@M.example,Ana\nbroken,Caio', [
      "email",
      "first_name",
    ]);
    expect(people(rows).map(({ email }) => email)).toEqual(["a@m.example"]);
    expect(rows.slice(1)).toEqual([
      {
        kind: "refused",
        line: 4,
        problem: "nobody",
        reason: "no address, and no name with a company by which to find one",
      },
      {
        kind: "refused",
        line: 5,
        problem: "shared_address",
        reason: "a@m.example is Two Lines's on line 2; Ana has no address of their own",
      },
      { kind: "refused", line: 6, problem: "broken_address", reason: "“broken” has no @" },
    ]);
  });

  it("keep a time zone only if there is one of that name", () => {
    const rows = readAll("email,tz\na@m.example,Europe/Lisbon\nb@m.example,Lisboa", ["email", "time_zone"]);
    expect(people(rows).map(({ fields }) => fields.timeZone)).toEqual(["Europe/Lisbon", ""]);
  });

  it("with a name and a company and no address are kept, and say so", () => {
    const [row] = readAll("mail,name,firm\nn/a,Ilse Brandt,Kaimuseum", ["email", "full_name", "company"]);
    expect(row).toMatchObject({
      kind: "person",
      person: { email: "", fields: { firstName: "Ilse", lastName: "Brandt" } },
    });
    expect(row?.kind === "person" && row.flags[0]).toMatchObject({ problem: "no_address" });
  });

  it("with a value as long as a page are refused, for a quotation mark went astray", () => {
    expect(
      readAll(`email,note\na@m.example,${"x".repeat(5_001)}`, ["email", "custom:note"])[0],
    ).toMatchObject({
      kind: "refused",
      reason: expect.stringContaining("5,000 characters"),
    });
  });

  it("say what is wrong with their cells", () => {
    const rows = readAll(
      "email,name,town\na@m.example,Ana Reis\nb@m.example,Bia Sol,Faro,x,y\nc@m.example,=1+1,Faro\nd@m.example,Sales Manager,Faro",
      ["email", "full_name", "city"],
    );
    expect(rows.map((row) => row.kind === "person" && row.flags.map(({ problem }) => problem))).toEqual([
      ["missing_cells"],
      ["surplus_cells"],
      ["formula", "not_a_name"],
      ["not_a_name"],
    ]);
    expect(people(rows)[3]?.fields).toMatchObject({ firstName: "", lastName: "" });
  });

  it("do without the cleaning rules that the import does without", () => {
    const table = tableOf(utf8("email,first\na@m.example,ANA"));
    expect(
      people([rowReader(table, ["email", "first_name"], new Set(["capitals"]))(0)])[0]?.fields.firstName,
    ).toBe("ANA");
  });
});

describe("a cell", () => {
  it.each([
    ["Ilse <ilse@kai.example>", "ilse@kai.example", false],
    ["a@m.example; b@m.example", "a@m.example", true],
    ["a@m.example, b@m.example", "a@m.example", true],
    ["broken / b@m.example", "b@m.example", true],
    ["ilse @ kai.example", "ilse@kai.example", true],
    ["ilse(at)kai.example", "ilse@kai.example", true],
  ])("“%s” holds %s", (cell, address, noted) => {
    const read = readAddress(cell);
    expect(read).toMatchObject({ ok: true, address });
    expect(read.ok && read.note !== null).toBe(noted);
  });

  it.each(["", "n/a", "-", "NULL", "none"])("“%s” is blank, not broken", (cell) =>
    expect(readAddress(cell)).toMatchObject({ ok: false, isEmpty: true }),
  );
});

describe("a vCard file", () => {
  const people = [
    {
      email: "ilse@kai.example",
      firstName: "Ilse",
      lastName: "Brandt",
      company: "Kaimuseum; Nord",
      title: "Registrar",
      city: "Hamburg",
      country: "DE",
      phone: "+4940123456",
      profile: "",
    },
    {
      email: "ana@sal.example",
      firstName: "Ana",
      lastName: "",
      company: "",
      title: "",
      city: "",
      country: "",
      phone: "",
      profile: "",
    },
  ];
  it("is read as it was written", () => {
    const read = readVcards(utf8(writeVcards(people)));
    expect(read?.ok && read.table.rows).toEqual([
      [
        "Ilse",
        "Brandt",
        "ilse@kai.example",
        "Kaimuseum; Nord",
        "Registrar",
        "Hamburg",
        "DE",
        "+4940123456",
        "",
        "",
      ],
      ["Ana", "", "ana@sal.example", "", "", "", "", "", "", ""],
    ]);
  });
  it("that breaks off names the line of the card", () => {
    const read = readVcards(utf8("BEGIN:VCARD\nVERSION:3.0\nFN:A\nEND:VCARD\nBEGIN:VCARD\nFN"));
    expect(read?.ok && read.table.rows).toHaveLength(1);
    expect(read?.ok && read.table.damaged).toMatchObject([{ line: 5 }]);
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
