/** What is worked out for the list that Marta writes to next: by the real runs, from the stand-ins' web and assistant. */
import { READY_COLUMNS } from "../core/research/column.ts";
import type { App } from "../server/app.ts";
import { listIdOf } from "../server/db/lists.ts";
import { sql } from "../server/db/open.ts";
import { unwatched } from "../server/jobs/report.ts";
import { createColumn } from "../server/research/columns.ts";
import { stopReadingPages } from "../server/research/read-site.ts";
import { askRun, runColumn } from "../server/research/run-column.ts";
import { PROFILE } from "./scenario.ts";
import { value } from "./value.ts";

/** Each host is asked once a second however many there are: what takes a worker minutes is made in some seconds. */
const AT_ONCE = 60;
/** Worked out when the demo opens; the logo is there to be tried on five. */
const WORKED_OUT = ["line", "news", "opening"];

export async function workOutColumns(app: App, marta: number): Promise<void> {
  const listId = listIdOf(app.db, PROFILE.name) ?? 0;
  for (const { id, name, settings } of READY_COLUMNS) {
    if (!WORKED_OUT.includes(id) && id !== "logo") continue;
    const columnId = value(createColumn(app, marta, listId, { name, settings }));
    if (!WORKED_OUT.includes(id)) continue;
    value(askRun(app, marta, { listId, columnId, wants: "missing" }));
    const runId = sql(app.db, "SELECT max(id) AS id FROM column_runs").get<{ id: number }>([])?.id ?? 0;
    await runColumn(app, runId, unwatched, AT_ONCE);
  }
  await stopReadingPages();
}
