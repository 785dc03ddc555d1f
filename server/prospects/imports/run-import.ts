import { headerKey } from "../../../core/prospects/columns.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { App, AppTx } from "../../app.ts";
import { apply } from "../../consequences/apply.ts";
import { blockEntry } from "../../db/block-list.ts";
import { recordChange } from "../../db/changes.ts";
import { erasedCheck } from "../../db/erased.ts";
import { writeField } from "../../db/fields.ts";
import { askJob } from "../../db/jobs.ts";
import { listIdOf, listNamed } from "../../db/lists.ts";
import { sql, transact } from "../../db/open.ts";
import { done, type Outcome, refused } from "../../errors.ts";
import type { Report } from "../../jobs/report.ts";
import { reconsiderHolds } from "../../sequences/reconsider-holds.ts";
import { findAndMerge } from "../duplicates/find-and-merge.ts";
import { prospectStore } from "../people/store-prospect.ts";
import { keptHead } from "./import-file.ts";
import { type Import, type ImportReport, importById, setImport } from "./imports.ts";
import { differences, isTaken, knownPeople } from "./known-person.ts";
import { type ReadPerson, readRows } from "./read-rows.ts";
import { undoImport } from "./undo-import.ts";

/** Asks for the import as it was looked through; the job's id. */
export function askImport(app: App, userId: number | null, importId: number): Outcome<number> {
  const { db, clock } = app;
  const found = importById(app, importId);
  const no =
    mayNot(app, userId, "import.change", importId) ??
    mayNot(app, userId, "list.change", [listIdOf(db, found?.settings.listName ?? "") ?? 0]);
  if (no) return no;
  // One that was taken back can be brought again, as long as its file is here.
  const isAgain = found?.state === "undone" && keptHead(app, importId) !== null;
  if (!isAgain && found?.state !== "ready") return refused({ form: "Look through the file first." });
  return transact(app, (): Outcome<number> => {
    sql(db, "UPDATE imports SET stored = 0 WHERE id = @importId").run({ importId });
    setImport(app, importId, { state: "importing" });
    return done(askJob(db, { kind: "import", input: { importId }, userId, now: clock.now() }));
  });
}

/**
 * Rows of one transaction. Between two of them everybody else can write, and a killed import goes on
 * where the last one ended.
 */
const CHUNK = 5_000;

interface StoredRows {
  listId: number;
  headers: string[];
}

/** Stores the rows of the file; null if that could not be done or was cancelled. The file's rows are forgotten with it. */
async function storeRows(app: App, found: Import, report: Report): Promise<StoredRows | null> {
  const { db, clock } = app;
  const { id: importId, settings, userId } = found;
  const read = readRows(app, found);
  if (!read.ok) {
    setImport(app, importId, { state: "failed", problem: read.problem });
    return null;
  }
  const { headers, rows } = read.head;
  const now = clock.now();
  const isErased = erasedCheck(app);
  const known = knownPeople(db);
  const listId = listNamed(db, settings.listName, now, { ownerId: userId });
  sql(db, "UPDATE imports SET list_id = @listId, state = 'importing' WHERE id = @importId").run({
    listId,
    importId,
  });
  const store = prospectStore(db, {
    origin: "import",
    originId: importId,
    ownerId: userId,
    listId,
    importId,
    now,
  });

  const storeRow = (tx: AppTx, person: ReadPerson | null) => {
    if (!person || isErased(person.email)) return;
    const { id, isNew } = store(person);
    // Whoever's person it is: what a file says of their wish is believed.
    if (person.mark === "opted_out") apply(tx.db, { kind: "opted_out" }, { at: now, prospectId: id, userId });
    else if (person.mark === "bounced" && person.email !== "")
      blockEntry(tx.db, {
        kind: "address",
        value: person.email,
        reason: "bounced",
        at: now,
        note: "said by the file that was imported",
        userId,
      });
    if (isNew) return;
    const before = known(person.email);
    if (!before) return;
    const taken = differences(before, person).filter((each) => isTaken(each, settings.known));
    // Another's people go on the list, and stay as they are.
    if (taken.length > 0 && mayNot(app, userId, "prospect.change", id)) return;
    for (const { field, before: old, after } of taken) {
      writeField(db, id, field, after);
      recordChange(db, {
        prospectId: id,
        field,
        before: old,
        after,
        source: "import",
        sourceId: importId,
        userId,
        at: now,
      });
    }
    if (taken.length > 0) reconsiderHolds(tx, { prospectId: id });
  };
  const note = sql(db, "UPDATE imports SET stored = @stored WHERE id = @importId");

  const people = read.rows[Symbol.iterator]();
  // What an earlier process stored.
  for (let index = 0; index < found.stored; index++) people.next();
  for (let from = found.stored; from < rows; from += CHUNK) {
    if (await report(from, rows)) {
      people.return?.();
      undoImport(app, null, importId);
      return null;
    }
    const to = Math.min(from + CHUNK, rows);
    transact(app, (tx) => {
      for (let index = from; index < to; index++) storeRow(tx, people.next().value ?? null);
      note.run({ importId, stored: to });
    });
  }
  people.return?.();
  return { listId, headers };
}

/** Imports a file, a chunk at a time; cancelled, it takes back what it stored. */
export async function runImport(app: App, importId: number, report: Report): Promise<void> {
  const { db, clock } = app;
  const found = importById(app, importId);
  if (!found || found.state === "undone") return;
  const stored = await storeRows(app, found, report);
  if (!stored) return;
  const { settings, userId } = found;
  const duplicates = await findAndMerge(app, { importId });
  db.transaction(() => {
    const remember = sql(
      db,
      "INSERT INTO column_uses (header, use) VALUES (@header, @use) ON CONFLICT (header) DO UPDATE SET use = @use",
    );
    stored.headers.forEach((header, column) => {
      const use = settings.uses[column];
      if (header !== "" && use !== undefined) remember.run({ header: headerKey(header), use });
    });
    const { added } = sql(
      db,
      "SELECT count(*) AS added FROM prospects WHERE origin = 'import' AND origin_id = @importId AND merged_into IS NULL",
    ).get<{ added: number }>({ importId }) as { added: number };
    const outcome: Partial<ImportReport> = { ...found.report, added, ...duplicates };
    sql(db, "UPDATE imports SET added = @added, known = @known, refused = @refused WHERE id = @importId").run(
      { importId, added, known: outcome.known ?? 0, refused: outcome.refused ?? 0 },
    );
    setImport(app, importId, { state: "done", report: outcome });
    // New addresses are looked at by themselves.
    askJob(db, { kind: "verify", input: { listId: stored.listId }, userId, now: clock.now() });
  }).immediate();
}
