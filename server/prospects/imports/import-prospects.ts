import type { ColumnUse } from "../../../core/prospects/columns.ts";
import type { App } from "../../app.ts";
import { done, type Outcome, refused } from "../../errors.ts";
import { unwatched } from "../../jobs/report.ts";
import { type ImportReport, importById, setImport } from "./imports.ts";
import { lookThrough } from "./look-through.ts";
import { runImport } from "./run-import.ts";
import { uploadImport } from "./upload-import.ts";

/** A whole import in one go, where nobody has to look at it first. */
export async function importProspects(
  app: App,
  userId: number | null,
  file: { name: string; bytes: Uint8Array; listName: string; uses?: ColumnUse[] },
): Promise<Outcome<{ importId: number; listId: number; report: Partial<ImportReport> }>> {
  const uploaded = uploadImport(app, userId, file);
  if (!uploaded.ok) return uploaded;
  const importId = uploaded.value;
  const { settings } = importById(app, importId) as NonNullable<ReturnType<typeof importById>>;
  if (file.uses) setImport(app, importId, { state: "columns", settings: { ...settings, uses: file.uses } });
  await lookThrough(app, importId, unwatched);
  const looked = importById(app, importId);
  if (looked?.state !== "ready") return refused({ file: looked?.problem ?? "The file cannot be imported." });
  await runImport(app, importId, unwatched);
  const result = importById(app, importId);
  return done({ importId, listId: result?.listId as number, report: result?.report ?? {} });
}
