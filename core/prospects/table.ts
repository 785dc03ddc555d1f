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
      `A quotation mark that is opened on line ${lines[quote.row ?? 0] ?? 1} is never closed, so the rows after it cannot be told apart. Close it, or export the file again.`,
    );

  const kept = result.data
    .map((row, index) => ({ row, line: lines[index] as number }))
    .filter(({ row }) => row.some((cell) => cell.trim() !== ""));
  const [head, ...rest] = kept;
  if (!head) return refuse("The file is empty.");
  if (head.row.length === 1 && !/@/.test(head.row[0] ?? "") && rest.every(({ row }) => row.length === 1))
    if (/[|:\t;]/.test(head.row[0] ?? ""))
      return refuse(
        "The columns of this file could not be told apart. Save it with commas, semicolons or tabs between them.",
      );
  if (head.row.some((cell) => /^\S+@\S+\.\S+$/.test(cell.trim())))
    return refuse(
      "The first line holds an address instead of column names. Put a line with the names on top: email, first name, company …",
    );
  if (rest.length === 0) return refuse("The file has column names and no rows below them.");
  if (rest.length > MOST_ROWS)
    return refuse(
      `The file has ${rest.length.toLocaleString("en-GB")} rows; at most 100,000 go in one import. Split it.`,
    );
  const headers = head.row.map((cell) => cell.trim());
  return {
    ok: true,
    table: { headers, rows: rest.map(({ row }) => row), lines: rest.map(({ line }) => line) },
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
