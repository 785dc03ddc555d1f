/** Results as CSV files (RFC 4180): the same looks as the pages, in plain figures for a spreadsheet. */
import Papa from "papaparse";
import { compareRates } from "../../core/results/beta.ts";
import type { Green } from "../../core/results/credit.ts";
import { FIGURE_NAMES } from "../../core/results/figures.ts";
import { type Share, shareOf } from "../../core/results/share.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { loadLines } from "./loads.ts";
import { lookQuery } from "./look.ts";
import { type SequenceResults, sequenceResults } from "./one-sequence.ts";
import { cohorts, overview } from "./overview.ts";
import { senders, sendersBy } from "./senders.ts";

type Row = Record<string, string | number | null>;

// Cells that a spreadsheet would take for formulas are marked as text.
const csv = (rows: Row[]) => Papa.unparse(rows, { escapeFormulae: true });

/** The interval's ends as shares from 0 to 1. */
const ends = ({ low, high }: Pick<Share, "low" | "high">) => ({
  "likely from": low.toFixed(4),
  "likely to": high.toFixed(4),
});

/** By the part that the page shows: `show` of its address. */
export function overviewTable(app: App, by: By, query: Record<string, string>, zone: string): string {
  if (query.show === "weeks") return csv(cohorts(app, by, null, zone).map((week) => ({ ...week })));
  if (query.show === "senders")
    return csv(
      senders(app, zone, sendersBy(query.by)).map(({ name, made, bounced, answered, drift }) => ({
        ...{ sender: name, sent: made, bounced, answered },
        drifts: drift ? `${drift.of} since ${drift.since}` : "",
      })),
    );
  const look = lookQuery.parse(query);
  return csv(
    overview(app, by, look, zone).lines.map(({ name, ownerName, figures }) => ({
      ...{ sequence: name, owner: ownerName },
      ...Object.fromEntries(FIGURE_NAMES.map((figure) => [figure, figures[figure]])),
      ...ends(shareOf(figures[look.green], figures.reached)),
    })),
  );
}

/** Null where there is no such sequence for them. */
export function sequenceTable(
  app: App,
  by: By,
  id: number,
  query: Record<string, string>,
  zone: string,
): string | null {
  const look = lookQuery.parse(query);
  const results = sequenceResults(app, by, id, look, zone);
  if (!results) return null;
  if (query.show === "weeks") return csv(cohorts(app, by, id, zone).map((week) => ({ ...week })));
  if (query.show === "opens")
    return csv(loadLines(app, by, id).map((line) => ({ ...line, because: line.because.join("; ") })));
  return csv((TABLES.get(query.show ?? "") ?? stepRows)(results, look.green));
}

const stepRows = ({ steps }: SequenceResults, green: Green): Row[] =>
  steps.map(({ name, channel, made, reached, bounced, brought, daysToAnswer, gone }) => ({
    ...{ step: name, channel, made, reached, bounced, ...brought },
    ...ends(shareOf(Math.round(brought[green]), reached)),
    ...{ "days to answer": daysToAnswer, left: gone },
  }));

/** By the part of the page; a map, since what is asked comes from an address. */
const TABLES = new Map<string, (results: SequenceResults, green: Green) => Row[]>(
  Object.entries({
    wordings: ({ worded }: SequenceResults) =>
      worded.flatMap(({ name, wordings }) => {
        const compared = compareRates(wordings);
        return wordings.map(({ id, part, whole }, nth) => ({
          ...{ step: name, wording: id, reached: whole, brought: part },
          ...ends(shareOf(part, whole)),
          ...{
            "is best": compared[nth]?.isBest.toFixed(4) ?? "",
            "expected loss": compared[nth]?.loss.toFixed(6) ?? "",
          },
        }));
      }),
    hours: ({ hours }: SequenceResults) =>
      hours.map(({ weekday, hour, part, whole, expected }) => ({
        ...{ weekday, hour, sent: whole, brought: part },
        expected: expected.toFixed(4),
      })),
    who: ({ groups }: SequenceResults) =>
      groups.map(({ attribute, value, own, rest, falseShare, differs }) => ({
        ...{ attribute, value, reached: own.whole, brought: own.part },
        ...ends(own),
        ...{ "rest reached": rest.whole, "rest brought": rest.part, "false share": falseShare.toFixed(4) },
        differs: differs ? "yes" : "no",
      })),
    long: ({ howLong }: SequenceResults) =>
      howLong.touches.map(({ nth, made, brought }) => ({
        ...{ touch: nth, made, brought },
        silent: howLong.silent.findLast(({ at }) => at <= nth)?.silent.toFixed(4) ?? "1",
      })),
  }),
);
