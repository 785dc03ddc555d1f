/** What the numbers of many sequences say, in a thread of its own: whoever asks stays quick, and what did not change is kept. */
import type { Finding } from "../../core/results/findings.ts";
import type { By } from "../accounts/may-not.ts";
import { type App, openApp } from "../app.ts";
import type { Config } from "../config.ts";
import { keptCount } from "../db/kept-counts.ts";
import { outcomeRevisions } from "../db/outcomes.ts";
import { lookQuery } from "./look.ts";
import { sequenceResults } from "./one-sequence.ts";

export interface Asked {
  config: Config;
  by: By;
  sequenceIds: number[];
  zone: string;
}

let app: App | null = null;

/** In the order asked for; none of a sequence that is not theirs to see. */
export default function findingsNow({ config, by, sequenceIds, zone }: Asked): Finding[][] {
  app ??= openApp(config);
  const own = app;
  const revisions = outcomeRevisions(own.db);
  const look = lookQuery.parse({});
  return sequenceIds.map((id) =>
    keptCount(
      own.db,
      `findings ${by} ${id}`,
      `${revisions.get(id)} ${zone}`,
      () => sequenceResults(own, by, id, look, zone)?.findings ?? [],
    ),
  );
}
