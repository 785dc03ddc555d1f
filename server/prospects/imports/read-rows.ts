/**
 * What a file's rows were read as, kept beside it from the look through it for the import that follows: no row is
 * cleaned twice, what is stored is what was seen, and neither is in memory as a whole. One line of JSON for each row,
 * an empty one for a row that is left out, behind a line that says of what it was read.
 */
import { closeSync, openSync, readSync, renameSync, rmSync, writeSync } from "node:fs";
import { StringDecoder } from "node:string_decoder";
import {
  CLEANED_FIELDS,
  type FieldChange,
  type PersonFields,
} from "../../../core/prospects/cleaning/person.ts";
import { type NewPerson, rowReader } from "../../../core/prospects/rows.ts";
import type { Table } from "../../../core/prospects/table.ts";
import type { App } from "../../app.ts";
import { erasedCheck } from "../../db/erased.ts";
import { keptTable, readRowsPath } from "./import-file.ts";
import type { Import } from "./imports.ts";

interface Head {
  headers: string[];
  rows: number;
  /** What the columns were taken for, and the rules that were left out. */
  readWith: string;
}

/** A person without what only the look tells of them. */
export type ReadPerson = Omit<NewPerson, "mendedFrom">;
type Line = [
  email: string,
  fields: string[],
  custom: Record<string, string>,
  changes: FieldChange[],
  line: number,
  mark: NewPerson["mark"],
];

const readWith = ({ settings }: Import): string => JSON.stringify([settings.uses, settings.off]);

const lineOf = ({ email, fields, custom, changes, line, mark }: ReadPerson): Line => [
  email,
  CLEANED_FIELDS.map((field) => fields[field]),
  custom,
  changes,
  line,
  mark,
];

/** Bytes that are written or read at once. */
const PIECE = 1 << 20;

export class ReadRowsFile {
  private readonly path: string;
  private readonly file: number;
  private waiting: string[] = [];
  private length = 0;

  constructor(app: App, found: Import, table: Table) {
    this.path = readRowsPath(app, found.id);
    this.file = openSync(`${this.path}.new`, "w", 0o600);
    const head: Head = { headers: table.headers, rows: table.rows.length, readWith: readWith(found) };
    this.write(JSON.stringify(head));
  }

  /** The next row; null for one that is left out. */
  add(person: ReadPerson | null): void {
    this.write(person ? JSON.stringify(lineOf(person)) : "");
  }

  private write(line: string): void {
    this.waiting.push(line);
    this.length += line.length + 1;
    if (this.length > PIECE) this.flush();
  }

  private flush(): void {
    if (this.waiting.length > 0) writeSync(this.file, `${this.waiting.join("\n")}\n`);
    this.waiting = [];
    this.length = 0;
  }

  /** Every row is in it. */
  keep(): void {
    this.flush();
    closeSync(this.file);
    renameSync(`${this.path}.new`, this.path);
  }

  drop(): void {
    closeSync(this.file);
    rmSync(`${this.path}.new`, { force: true });
  }
}

/** The rows of a file as they were read, or what is wrong with it; read now if nobody looked through it with these settings. */
export function readRows(
  app: App,
  found: Import,
): { ok: true; head: Head; rows: Iterable<ReadPerson | null> } | { ok: false; problem: string } {
  let lines = linesOf(readRowsPath(app, found.id));
  let head = headOf(lines);
  if (head?.readWith !== readWith(found)) {
    lines.return(undefined);
    const read = keptTable(app, found.id);
    if (!read.ok) return read;
    const readRow = rowReader(read.table, found.settings.uses, new Set(found.settings.off));
    const isErased = erasedCheck(app);
    const file = new ReadRowsFile(app, found, read.table);
    for (let index = 0; index < read.table.rows.length; index++) {
      const row = readRow(index);
      file.add(row.kind === "person" && !isErased(row.person.email) ? row.person : null);
    }
    file.keep();
    lines = linesOf(readRowsPath(app, found.id));
    head = headOf(lines) as Head;
  }
  return { ok: true, head, rows: peopleOf(lines) };
}

function headOf(lines: Iterator<string>): Head | null {
  const first = lines.next();
  return first.done ? null : (JSON.parse(first.value) as Head);
}

function* peopleOf(lines: Iterable<string>): Generator<ReadPerson | null> {
  for (const text of lines) {
    if (text === "") {
      yield null;
      continue;
    }
    const [email, values, custom, changes, line, mark] = JSON.parse(text) as Line;
    const fields = {} as PersonFields;
    for (const [index, field] of CLEANED_FIELDS.entries()) fields[field] = values[index] ?? "";
    yield { email, fields, custom, changes, line, mark: mark ?? null };
  }
}

/** The lines of a file, a piece of it at a time; none if there is no file. */
function* linesOf(path: string): Generator<string> {
  let file: number;
  try {
    file = openSync(path, "r");
  } catch {
    return;
  }
  try {
    const piece = Buffer.allocUnsafe(PIECE);
    const decoder = new StringDecoder("utf8");
    let rest = "";
    for (let read = readSync(file, piece); read > 0; read = readSync(file, piece)) {
      const lines = (rest + decoder.write(piece.subarray(0, read))).split("\n");
      rest = lines.pop() ?? "";
      yield* lines;
    }
  } finally {
    closeSync(file);
  }
}
