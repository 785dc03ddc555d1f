/** What came of a list's people, whatever they were started on, as far as somebody may see it. */
import { type Figures, figuresTogether } from "../../core/results/figures.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { keptCount, listTruth } from "../db/kept-counts.ts";
import { figuresOfList, outcomesTruth } from "../db/outcomes.ts";

export function resultsOfList(app: App, by: By, listId: number): Figures {
  const { db } = app;
  const hidden = hiddenFrom(app, by, "sequence.see");
  const truth = `${listTruth(db, listId)} ${outcomesTruth(db)}`;
  const bySequence = keptCount(db, `results of list ${listId}`, truth, () => figuresOfList(db, listId));
  return figuresTogether([...bySequence].flatMap(([id, figures]) => (hidden.has(id) ? [] : [figures])));
}
