/** A CSV file as headers and rows, or what is wrong with it in words that say what to do. */
import Papa from "papaparse";
import { decodeText } from "./decode.ts";

export const MOST_ROWS = 100_000;
export const MOST_BYTES = 50 * 1024 * 1024;

/** Rows from which the delimiter is guessed. */
const GUESSED_FROM = 20;

export interface Table {
  headers: string[];
  rows: string[][];
  /** The line of the file, counted from 1, on which each row begins. */
  lines: number[];
}

export type ReadTable = { ok: true; table: Table } | { ok: false; problem: string };

const refuse = (problem: string): ReadTable => ({ ok: false, problem });

/** Reads any common delimiter and encoding (RFC 4180 and its relatives). */
export function readTable(bytes: Uint8Array): ReadTable {
  if (bytes.length > MOST_BYTES)
    return refuse("The file is larger than 50 MB. Split it and import the parts one by one.");
  const decoded = decodeText(bytes);
  if (!decoded.ok)
    return refuse(
      decoded.problem === "spreadsheet"
        ? "This is a spreadsheet file, whatever its name ends in. Open it, save it as CSV, and import that."
        : "This is no text file. Export the list as CSV and import that.",
    );
  const text = decoded.text.replace(/^\ufeff/, "");
  if (text.trim() === "") return refuse("The file is empty.");
  return parse(text);
}

function parse(text: string): ReadTable {
  // Blank lines count for the numbers of the lines, and must not count when the delimiter is guessed.
  const { delimiter } = Papa.parse<string[]>(text, { preview: GUESSED_FROM, skipEmptyLines: "greedy" }).meta;
  const result = Papa.parse<string[]>(text, { delimiter, skipEmptyLines: false });
  const quote = result.errors.find((error) => error.type === "Quotes");
  const lines = lineNumbers(result.data);
  if (quote)
    return refuse(
      `A quotation mark that is opened on line ${lines[quote.row ?? 0] ?? 1} is never closed, so the rows after it cannot be told apart. The mark is missing, or the file is cut off: export it again.`,
    );

  // In place: a file of 100,000 rows is not held twice.
  let count = 0;
  for (const [index, row] of result.data.entries()) {
    if (row.every((cell) => cell.trim() === "")) continue;
    result.data[count] = row;
    lines[count] = lines[index] as number;
    count++;
  }
  result.data.length = count;
  lines.length = count;
  const head = result.data.shift();
  lines.shift();
  const rows = result.data;
  if (!head) return refuse("The file is empty.");
  if (head.length === 1 && !/@/.test(head[0] ?? "") && rows.every((row) => row.length === 1))
    if (/[|:\t;]/.test(head[0] ?? ""))
      return refuse(
        "The columns of this file could not be told apart. Save it with commas, semicolons or tabs between them.",
      );
  if (head.some((cell) => cell.length <= 320 && /^\S+@\S+\.\S+$/.test(cell.trim())))
    return refuse(
      "The first line holds an address instead of column names. Put a line with the names on top: email, first name, company …",
    );
  if (rows.length === 0) return refuse("The file has column names and no rows below them.");
  if (rows.length > MOST_ROWS)
    return refuse(
      `The file has ${rows.length.toLocaleString("en-GB")} rows; at most 100,000 go in one import. Split it.`,
    );
  const headers = head.map((cell) => cell.trim());
  return {
    ok: true,
    table: { headers, rows, lines },
  };
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
