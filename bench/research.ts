/** A formula worked out for everybody of a long list, against rows of the same size written down barely; and the page that shows it. */
import { createUser } from "../server/accounts/create-user.ts";
import { listNamed } from "../server/db/lists.ts";
import { sql } from "../server/db/open.ts";
import { unwatched } from "../server/jobs/report.ts";
import { prospectStore } from "../server/prospects/people/store-prospect.ts";
import { createColumn } from "../server/research/columns.ts";
import { researchOfList } from "../server/research/research-of-list.ts";
import { askRun, runColumn } from "../server/research/run-column.ts";
import { type Figure, median } from "./figure.ts";
import { freshApp } from "./fresh-app.ts";
import { inventRows } from "./people.ts";

const PEOPLE = Number(process.env.BENCH_RESEARCH_PEOPLE ?? 20_000);

export async function benchResearch(): Promise<Figure> {
  const { app, close } = freshApp();
  try {
    await createUser(app, {
      name: "Marta",
      email: "marta@quillwater.example",
      password: "salt-and-paper",
      zone: "UTC",
    });
    const listId = listNamed(app.db, "All", 1, { ownerId: 1 });
    const store = prospectStore(app.db, {
      origin: "typed",
      originId: null,
      ownerId: 1,
      listId,
      importId: null,
      now: 1,
    });
    app.db.transaction(() => {
      for (const [nth, { first, last, title, city }] of inventRows(PEOPLE).entries())
        store({
          email: `p${nth}@house-${nth % 5_000}.example`,
          fields: {
            ...{
              firstName: first,
              lastName: last,
              title,
              city,
              country: "",
              timeZone: "",
              phone: "",
              profile: "",
              language: "",
            },
            ...{ company: `House ${nth % 5_000}`, companyDomain: `house-${nth % 5_000}.example` },
          },
          custom: {},
          changes: [],
        });
    })();
    const value = (nth: number) => `Line ${nth} of House ${nth % 5_000}`;
    app.db.exec("CREATE TABLE bare (id INTEGER PRIMARY KEY, value TEXT) STRICT");
    const insert = sql(app.db, "INSERT INTO bare (value) VALUES (@value)");
    let began = performance.now();
    // Each by itself, as a run keeps them: what was found survives a kill.
    for (let nth = 0; nth < PEOPLE; nth++)
      app.db.transaction(() => insert.run({ value: value(nth) })).immediate();
    const baseline = performance.now() - began;
    const settings = { kind: "formula", formula: "{{ first_name }} at {{ company }}" };
    const made = createColumn(app, 1, listId, { name: "Line", settings });
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    const asked = askRun(app, 1, { listId, columnId: made.value, wants: "missing" });
    if (!asked.ok) throw new Error(JSON.stringify(asked.errors));
    began = performance.now();
    await runColumn(app, 1, unwatched);
    const ms = performance.now() - began;
    const pageMs = median(
      Array.from({ length: 5 }, (_, page) => {
        const from = performance.now();
        researchOfList(app, 1, listId, { show: "found", page });
        return performance.now() - from;
      }),
    );
    return {
      ...{ bench: "research", ratio: ms / baseline, limit: 5, kind: "most" },
      ...{ people: PEOPLE, baselineMs: Math.round(baseline), ms: Math.round(ms), pageMs: Math.round(pageMs) },
    };
  } finally {
    close();
  }
}
