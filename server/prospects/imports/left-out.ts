/** The rows that an import leaves out, as a file to correct and import again. Kept beside the upload until the import is taken back. */
import { appendFileSync, existsSync, readFileSync, rmSync } from "node:fs";
import Papa from "papaparse";
import type { App } from "../../app.ts";
import { leftOutPath } from "./import-file.ts";

/** Rows that are written at once. */
const PIECE = 1_000;

export class LeftOutFile {
  private readonly path: string;
  private readonly columns: number;
  private waiting: string[][] = [];
  private isEmpty = true;

  constructor(app: App, importId: number, headers: readonly string[]) {
    this.path = leftOutPath(app, importId);
    this.columns = headers.length;
    rmSync(this.path, { force: true });
    this.waiting.push([...headers, "Line in the file", "Why it was left out"]);
  }

  /** A row with its line and why it was left out; of one that could not be read only these. */
  add(line: number, reason: string, row: readonly string[]): void {
    const cells = Array.from({ length: this.columns }, (_, column) => row[column] ?? "");
    this.waiting.push([...cells, String(line), [reason, ...row.slice(this.columns)].join(" | ")]);
    this.isEmpty = false;
    if (this.waiting.length > PIECE) this.close();
  }

  close(): void {
    if (this.isEmpty || this.waiting.length === 0) return;
    appendFileSync(
      this.path,
      `${Papa.unparse(this.waiting, { escapeFormulae: true, newline: "\r\n" })}\r\n`,
      {
        mode: 0o600,
      },
    );
    this.waiting = [];
  }
}

export const hasLeftOut = (app: App, importId: number) => existsSync(leftOutPath(app, importId));

/** The file as CSV (RFC 4180), or null if nothing was left out. */
export function leftOutCsv(app: App, importId: number): string | null {
  const path = leftOutPath(app, importId);
  return existsSync(path) ? readFileSync(path, "utf8") : null;
}
