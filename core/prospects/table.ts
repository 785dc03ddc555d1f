/** A CSV file as headers and rows, with the lines that are none; or what is wrong with all of it, in words that say what to do. */
import Papa from "papaparse";
import { decodeText } from "./decode.ts";
import { ENCODINGS, type Encoding } from "./encodings.ts";
import { recordsOf } from "./records.ts";

export const MOST_ROWS = 100_000;
export const MOST_BYTES = 50 * 1024 * 1024;

/** Rows from which the delimiter is guessed. */
const GUESSED_FROM = 20;

export interface Table {
  headers: string[];
  rows: string[][];
  /** The line of the file, counted from 1, on which each row begins. */
  lines: number[];
  /** Lines that are no row, and why; the others are read without them. */
  damaged: { line: number; problem: string }[];
  /** What was found of the file as a whole, in sentences. */
  notes: string[];
  /** In which set of letters it is written, and whether that is only likely. */
  letters: { encoding: Encoding; isGuess: boolean };
}

export type ReadTable = { ok: true; table: Table } | { ok: false; problem: string };

const refuse = (problem: string): ReadTable => ({ ok: false, problem });

/** Reads any common delimiter and encoding (RFC 4180 and its relatives). */
export function readTable(bytes: Uint8Array, encoding: Encoding | null = null): ReadTable {
  if (bytes.length > MOST_BYTES)
    return refuse("The file is larger than 50 MB. Split it and import the parts one by one.");
  const decoded = decodeText(bytes, encoding);
  if (!decoded.ok)
    return refuse(
      decoded.problem === "spreadsheet"
        ? "This is a spreadsheet file, whatever its name ends in. Open it, save it as CSV, and import that."
        : "This is no text file. Export the list as CSV and import that.",
    );
  const text = decoded.text.replace(/^\ufeff/, "");
  if (text.trim() === "") return refuse("The file is empty.");
  const { encoding: letters, isGuess } = decoded;
  return parse(text, { encoding: letters, isGuess });
}

/** A first line that says what parts the columns, as spreadsheets write it. */
const SEPARATOR_LINE = /^sep=(.)\r?\n/i;

function parse(whole: string, letters: Table["letters"]): ReadTable {
  const [separatorLine = "", separator] = whole.match(SEPARATOR_LINE) ?? [];
  const text = whole.slice(separatorLine.length);
  // Blank lines count for the numbers of the lines, and must not count when the delimiter is guessed.
  const delimiter =
    separator ??
    Papa.parse<string[]>(text, { preview: GUESSED_FROM, skipEmptyLines: "greedy" }).meta.delimiter;
  const read = readRows(text, delimiter);
  const { rows, damaged, notes } = read;
  const lines = separatorLine === "" ? read.lines : read.lines.map((line) => line + 1);
  if (separatorLine !== "") for (const each of damaged) each.line++;

  // In place: a file of 100,000 rows is not held twice.
  let count = 0;
  for (const [index, row] of rows.entries()) {
    if (row.every((cell) => cell.trim() === "")) continue;
    rows[count] = row;
    lines[count] = lines[index] as number;
    count++;
  }
  rows.length = count;
  lines.length = count;
  dropPreamble(rows, lines, notes);
  const [head] = rows;
  if (!head) return refuse("The file is empty.");
  if (head.length === 1 && !/@/.test(head[0] ?? "") && rows.every((row) => row.length === 1))
    if (/[|:\t;]/.test(head[0] ?? ""))
      return refuse(
        "The columns of this file could not be told apart. Save it with commas, semicolons or tabs between them.",
      );
  const isData = head.some((cell) => cell.length <= 320 && /^\S+@\S+\.\S+$/.test(cell.trim()));
  if (isData)
    notes.push(
      "The file has no column names: its first line is a row. The columns were told by what they hold.",
    );
  else {
    rows.shift();
    lines.shift();
  }
  if (rows.length === 0)
    return refuse(
      damaged.length > 0
        ? `No row of the file can be read. The first: line ${damaged[0]?.line}, ${damaged[0]?.problem}.`
        : "The file has column names and no rows below them.",
    );
  if (rows.length > MOST_ROWS)
    return refuse(
      `The file has ${rows.length.toLocaleString("en-GB")} rows; at most 100,000 go in one import. Split it.`,
    );
  const headers = head.map((cell, column) =>
    isData || cell.trim() === "" ? `Column ${column + 1}` : cell.trim(),
  );
  return {
    ok: true,
    table: { headers, rows, lines, damaged, notes: [...notes, ...lettersNotes(whole, letters)], letters },
  };
}

/** Nothing is lost in silence: how the letters were read, where that is a guess, and those that could not be. */
function lettersNotes(text: string, { encoding, isGuess }: Table["letters"]): string[] {
  const lost = text.split("\ufffd").length - 1;
  return [
    ...(isGuess
      ? [`The file's letters were read as ${ENCODINGS[encoding]}. Go back to the columns if they look wrong.`]
      : []),
    ...(lost > 0
      ? [
          `${lost.toLocaleString("en-GB")} ${lost === 1 ? "letter" : "letters"} could not be read and stand as “\ufffd”. Choose other letters at the columns, or export the file as UTF-8.`,
        ]
      : []),
  ];
}

interface Rows extends Omit<Table, "headers" | "letters"> {}

function readRows(text: string, delimiter: string): Rows {
  const { data, errors } = Papa.parse<string[]>(text, { delimiter, skipEmptyLines: false });
  const notes: string[] = [];
  if (!errors.some((error) => error.type === "Quotes"))
    return { rows: data, lines: lineNumbers(data), damaged: [], notes };
  // A quotation mark went astray somewhere: the lines that it touches are set aside, and the rest is read.
  const { records, damaged } = recordsOf(text, delimiter);
  const sound = Papa.parse<string[]>(records.map((record) => record.text).join("\n"), {
    delimiter,
    skipEmptyLines: false,
  });
  const lines = records.map((record) => record.line);
  // What still does not come out line by line is read so.
  const rows =
    sound.data.length === records.length
      ? sound.data
      : records.map((record) => Papa.parse<string[]>(record.text, { delimiter }).data[0] ?? []);
  return { rows, lines, damaged, notes };
}

/** A title or a date above the column names, which some programs export: rows much narrower than the rest. */
function dropPreamble(rows: string[][], lines: number[], notes: string[]): void {
  const filled = (row: string[]) => row.filter((cell) => cell.trim() !== "").length;
  const usual = rows
    .slice(0, GUESSED_FROM)
    .map(filled)
    .toSorted((a, b) => a - b)[Math.floor(Math.min(rows.length, GUESSED_FROM) / 2)] as number;
  let above = 0;
  while (usual > 2 && above < rows.length - 2 && filled(rows[above] as string[]) === 1) above++;
  if (above === 0) return;
  notes.push(
    `What stands above the column names (${rows
      .slice(0, above)
      .map(
        (row) =>
          `“${row
            .find((cell) => cell.trim() !== "")
            ?.trim()
            .slice(0, 60)}”`,
      )
      .join(", ")}) was left out.`,
  );
  rows.splice(0, above);
  lines.splice(0, above);
}

/** A quoted cell may span lines, so a row's line is not its index. */
function lineNumbers(rows: string[][]): number[] {
  let line = 1;
  return rows.map((row) => {
    const begins = line;
    line++;
    for (const cell of row)
      for (let at = cell.indexOf("\n"); at >= 0; at = cell.indexOf("\n", at + 1)) line++;
    return begins;
  });
}
