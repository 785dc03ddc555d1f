/** Where an uploaded file waits until it is imported: beside the database, out of it, since 50 MB there would stay for good. */
import {
  closeSync,
  createReadStream,
  existsSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { dirname, join } from "node:path";
import { type Encoding, isEncoding } from "../../../core/prospects/encodings.ts";
import { type ReadTable, readTable } from "../../../core/prospects/table.ts";
import { readVcards } from "../../../core/prospects/vcard.ts";
import type { App } from "../../app.ts";
import { erasedCheck } from "../../db/erased.ts";
import { sql } from "../../db/open.ts";

const pathOf = ({ config }: App, importId: number) =>
  join(dirname(config.database), "uploads", `import-${importId}`);

/** Where the rows that an import leaves out are written. */
export const leftOutPath = (app: App, importId: number) => `${pathOf(app, importId)}-left-out.csv`;

/** What its rows were read as. */
export const readRowsPath = (app: App, importId: number) => `${pathOf(app, importId)}-read`;

export function keepFile(app: App, importId: number, bytes: Uint8Array): void {
  const path = pathOf(app, importId);
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, bytes, { mode: 0o600 });
}

/** Takes over a file that was written beside it already. */
export function keepReceived(app: App, importId: number, path: string): void {
  renameSync(path, pathOf(app, importId));
}

/** Where a file waits while it arrives. */
export function arrivalPath({ config }: App, name: string): string {
  const folder = join(dirname(config.database), "uploads");
  mkdirSync(folder, { recursive: true });
  return join(folder, `arriving-${name}`);
}

/** Deletes the files of these imports with what they left out. One that still needs its file says so. */
export function dropFilesOfImports(app: App, importIds: readonly number[]): void {
  for (const id of importIds)
    for (const path of [
      pathOf(app, id),
      leftOutPath(app, id),
      readRowsPath(app, id),
      `${readRowsPath(app, id)}.new`,
    ])
      rmSync(path, { force: true });
}

/**
 * Deletes each kept file in which somebody stands who was erased after it came. One that came later is somebody's work: it
 * is read, says whom it leaves out, and goes after its week. It is read a piece at a time.
 */
export async function dropFilesOfErased(app: App): Promise<void> {
  const folder = join(dirname(app.config.database), "uploads");
  for (const name of existsSync(folder) ? readdirSync(folder) : []) {
    const id = importOf(name);
    if (id !== null && (await standsIn(join(folder, name), erasedCheck(app, id))))
      rmSync(join(folder, name), { force: true });
  }
}

const importOf = (fileName: string): number | null => {
  const id = fileName.match(/^import-(\d+)/)?.[1];
  return id === undefined ? null : Number(id);
};

/** No address is longer (RFC 5321 4.5.3.1): so much of a piece is looked at once more with the next. */
const LONGEST_ADDRESS = 320;

const LOCAL_PART = /[^\s@<>,;:"'()[\]|]+$/;
const DOMAIN = /^[\w.-]*\w/;

async function standsIn(path: string, isErased: (address: string) => boolean): Promise<boolean> {
  let rest = "";
  for await (const piece of createReadStream(path, { encoding: "latin1", highWaterMark: HEAD })) {
    // UTF-16 as well: between two letters of an address there is a zero, before or after.
    const text = rest + String(piece).replaceAll("\0", "").toLowerCase();
    for (let at = text.indexOf("@"); at >= 0; at = text.indexOf("@", at + 1)) {
      const [local] = text.slice(Math.max(0, at - LONGEST_ADDRESS), at).match(LOCAL_PART) ?? [""];
      const [domain] = text.slice(at + 1, at + LONGEST_ADDRESS).match(DOMAIN) ?? [""];
      if (local !== "" && domain !== "" && isErased(`${local}@${domain}`)) return true;
    }
    rest = text.slice(-LONGEST_ADDRESS);
  }
  return false;
}

/** For so long a file is kept after it came, so that an import that was taken back can be brought again. */
const KEPT_MS = 7 * 24 * 3_600_000;

/** Files of finished imports that nobody will bring again, and what is left of uploads that broke off. */
export function dropOldFiles({ config, db }: App, now = Date.now()): void {
  const folder = join(dirname(config.database), "uploads");
  const state = sql(db, "SELECT state FROM imports WHERE id = @id");
  for (const name of existsSync(folder) ? readdirSync(folder) : []) {
    const path = join(folder, name);
    const isOpen = ["columns", "ready", "looking", "importing"].includes(
      state.get<{ state: string }>({ id: importOf(name) })?.state ?? "",
    );
    // The disk's time, not the demo's clock.
    if (!isOpen && now - statSync(path).mtimeMs > KEPT_MS) rmSync(path, { force: true });
  }
}

/** A CSV or vCard file as a table, or what is wrong with it. */
export function tableOf(bytes: Uint8Array, encoding: Encoding | null = null): ReadTable {
  return readVcards(bytes, encoding) ?? readTable(bytes, encoding);
}

/** A file longer than this is read whole by the worker only; pages and uploads see its head. */
const HEAD = 512 * 1024;

export interface FileHead {
  head: ReadTable;
  /** How many rows the file has; of a long one its lines, which is more where cells have several. */
  rows: number;
}

/** The first rows of a file. What is wrong further down is found by the look through the whole. */
export function headOf(bytes: Uint8Array, encoding: Encoding | null = null): FileHead {
  if (bytes.length > HEAD) {
    const end = bytes.subarray(0, HEAD).lastIndexOf(NEWLINE);
    const head = tableOf(bytes.subarray(0, end + 1), encoding);
    if (head.ok) return { head, rows: countLines(bytes) - 1 };
  }
  const head = tableOf(bytes, encoding);
  return { head, rows: head.ok ? head.table.rows.length : 0 };
}

const NEWLINE = 0x0a;

/** The same of a file on the disk, of which no more than a piece is in memory at a time. */
export function headOfFile(path: string, encoding: Encoding | null = null): FileHead {
  const { size } = statSync(path);
  if (size <= HEAD) return headOf(readFileSync(path), encoding);
  const file = openSync(path, "r");
  try {
    const piece = Buffer.alloc(HEAD);
    const read = (from: number) => piece.subarray(0, readSync(file, piece, 0, HEAD, from));
    const begin = read(0);
    const head = tableOf(Buffer.from(begin.subarray(0, begin.lastIndexOf(NEWLINE) + 1)), encoding);
    if (!head.ok) return { head: tableOf(readFileSync(path), encoding), rows: 0 };
    let lines = 0;
    for (let from = 0; from < size; from += HEAD) lines += countNewlines(read(from));
    return { head, rows: lines - 1 };
  } finally {
    closeSync(file);
  }
}

function countNewlines(bytes: Uint8Array): number {
  let lines = 0;
  for (let at = bytes.indexOf(NEWLINE); at >= 0; at = bytes.indexOf(NEWLINE, at + 1)) lines++;
  return lines;
}

function countLines(bytes: Uint8Array): number {
  return countNewlines(bytes) + (bytes.at(-1) === NEWLINE ? 0 : 1);
}

/** The set of letters that was found or chosen for an import, if its own bytes do not say it. */
const encodingOf = ({ db }: App, importId: number): Encoding | null => {
  const chosen = sql(
    db,
    "SELECT settings ->> '$.encoding' AS encoding FROM imports WHERE id = @importId",
  ).get<{
    encoding: string | null;
  }>({ importId })?.encoding;
  return chosen && isEncoding(chosen) ? chosen : null;
};

export function keptHead(app: App, importId: number, encoding = encodingOf(app, importId)): ReadTable | null {
  try {
    return headOfFile(pathOf(app, importId), encoding).head;
  } catch {
    return null;
  }
}

export function keptTable(app: App, importId: number): ReadTable {
  try {
    return tableOf(readFileSync(pathOf(app, importId)), encodingOf(app, importId));
  } catch {
    return { ok: false, problem: "The file is no longer here. Upload it again." };
  }
}
