/** Where an uploaded file waits until it is imported: beside the database, out of it, since 50 MB there would stay for good. */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { type ReadTable, readTable } from "../../core/prospects/table.ts";
import { readVcards } from "../../core/prospects/vcard.ts";
import type { App } from "../app.ts";

const pathOf = ({ config }: App, importId: number) =>
  join(dirname(config.database), "uploads", `import-${importId}`);

export function keepFile(app: App, importId: number, bytes: Uint8Array): void {
  const path = pathOf(app, importId);
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, bytes, { mode: 0o600 });
}

export function dropFile(app: App, importId: number): void {
  rmSync(pathOf(app, importId), { force: true });
}

/** A CSV or vCard file as a table, or what is wrong with it. */
export function tableOf(bytes: Uint8Array): ReadTable {
  return readVcards(bytes) ?? readTable(bytes);
}

export function keptTable(app: App, importId: number): ReadTable {
  try {
    return tableOf(readFileSync(pathOf(app, importId)));
  } catch {
    return { ok: false, problem: "The file is no longer here. Upload it again." };
  }
}
