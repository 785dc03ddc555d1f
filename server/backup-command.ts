/** `npm run backup -- FILE`, `npm run restore -- FILE` and `npm run read-archive -- FILE`. */
import { resolve } from "node:path";
import { openApp } from "./app.ts";
import { readArchive } from "./archive/read-archive.ts";
import { readConfig } from "./config.ts";
import { backUp, restore } from "./db/backup.ts";
import { migrate, openDb, sql } from "./db/open.ts";
import { afterRestore, afterRestoreWords } from "./engine/after-restore.ts";
import { AppError } from "./errors.ts";

const [command, name] = process.argv.slice(2);
try {
  if (!name) throw new AppError("backup_failed", `Name the file: npm run ${command} -- FILE`);
  // The file is meant from where the command was typed.
  const file = resolve(process.env.INIT_CWD ?? process.cwd(), name);
  const config = readConfig();
  if (command === "backup") {
    const app = openApp(config);
    const { bytes } = await backUp(config.database, app.key, file);
    app.db.close();
    process.stdout.write(
      `${file} holds the database, its films and its key (${Math.ceil(bytes / 1e6)} MB), checked. Keep it as safe as both.\n`,
    );
  } else if (command === "read-archive") {
    const rows = await readArchive(config, file);
    const app = openApp(config);
    const after = afterRestoreWords(afterRestore(app));
    app.db.close();
    process.stdout.write(
      `${rows.toLocaleString("en-GB")} rows are read into ${config.database}.\n${after}\nStart with: npm start\n`,
    );
  } else {
    requireStopped(config.database);
    const aside = restore(file, config.database, config.key, Date.now());
    const app = openApp(config);
    migrate(app.db);
    const after = afterRestoreWords(afterRestore(app));
    app.db.close();
    process.stdout.write(
      `${config.database} is restored.${aside ? ` What was there before is ${aside}.` : ""}\n${after}\nStart with: npm start\n`,
    );
  }
} catch (error) {
  process.stderr.write(`${error instanceof AppError ? error.message : String(error)}\n`);
  process.exitCode = 1;
}

/** An engine that renews its lease would go on writing into the old file. */
function requireStopped(database: string): void {
  let until: number | null = null;
  try {
    const db = openDb(database);
    until =
      sql(db, "SELECT expires_wall AS until FROM engine_lease").get<{ until: number }>([])?.until ?? null;
    db.close();
  } catch {
    return; // a damaged or empty file is what a restore is for
  }
  if (until !== null && until > Date.now())
    throw new AppError("restore_refused", "Saudade is running on this database. Stop it first.");
}
