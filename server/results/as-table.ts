/** Results as CSV files (RFC 4180): the same looks as the pages, in plain figures for a spreadsheet. */
import Papa from "papaparse";
import { dayOf } from "../../core/calendar.ts";
import { compareRates } from "../../core/results/beta.ts";
import type { Green } from "../../core/results/credit.ts";
import { FIGURE_NAMES, type Figures } from "../../core/results/figures.ts";
import { HAPPENED, HAPPENED_NAMES, type Happened } from "../../core/results/happened.ts";
import { type Share, shareOf } from "../../core/results/share.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Beside, besideOf } from "./beside.ts";
import { fileDetail, fileLines } from "./files.ts";
import { loadLines } from "./loads.ts";
import { lookQuery } from "./look.ts";
import { type SequenceResults, sequenceResults } from "./one-sequence.ts";
import { cohorts, overview } from "./overview.ts";
import { behindQuery, EVERYBODY, peopleBehind } from "./people-behind.ts";
import { report, reportQuery } from "./report.ts";
import { senders, sendersBy } from "./senders.ts";
import { weekAhead, weekTargets } from "./targets.ts";

type Row = Record<string, string | number | null>;

// Cells that a spreadsheet would take for formulas are marked as text.
const csv = (rows: Row[]) => Papa.unparse(rows, { escapeFormulae: true });

/** The interval's ends as shares from 0 to 1. */
const ends = ({ low, high }: Pick<Share, "low" | "high">) => ({
  "likely from": low.toFixed(4),
  "likely to": high.toFixed(4),
});

/** By the part that the page shows: `show` of its address. */
export async function overviewTable(
  app: App,
  by: By,
  query: Record<string, string>,
  zone: string,
): Promise<string> {
  if (query.show === "report") return csv(reportRows(app, by, query, zone));
  if (query.show === "targets") return csv(await targetRows(app, by, zone));
  if (query.show === "weeks")
    return csv(cohorts(app, by, null, lookQuery.parse(query), zone).map((week) => ({ ...week })));
  if (query.show === "senders")
    return csv(
      senders(app, zone, sendersBy(query.by), lookQuery.parse(query)).map(
        ({ name, made, bounced, answered, drift }) => ({
          ...{ sender: name, sent: made, bounced, answered },
          drifts: drift ? `${drift.of} since ${drift.since}` : "",
        }),
      ),
    );
  if (query.show === "files") return csv(fileRows(app, by, query, zone));
  const look = lookQuery.parse(query);
  return csv(
    overview(app, by, look, zone).lines.map(({ name, ownerName, figures }) => ({
      ...{ sequence: name, owner: ownerName },
      ...Object.fromEntries(FIGURE_NAMES.map((figure) => [figure, figures[figure]])),
      ...ends(shareOf(figures[look.green], figures.reached)),
    })),
  );
}

/** Every file, or of one everybody who looked at it. */
function fileRows(app: App, by: By, query: Record<string, string>, zone: string): Row[] {
  const look = lookQuery.parse(query);
  const file = query.file ? fileDetail(app, by, Number(query.file), look, zone, EVERYBODY) : null;
  const day = (at: number | null) => (at === null ? "" : dayOf(at, zone));
  if (file)
    return file.readers.map(({ name, company, openedAt, savedAt, reading }) => ({
      ...{ name, company, opened: day(openedAt), "pages looked at": reading.seen, pages: reading.pages },
      ...{ seconds: reading.seconds, "longest on page": reading.longest, saved: day(savedAt) },
    }));
  return fileLines(app, by, look, zone).map(({ name, given, opened, toTheEnd, saved, pages, seconds }) => ({
    ...{ file: name, given, opened, "to the end": toTheEnd, saved, pages, "seconds in the middle": seconds },
  }));
}

async function targetRows(app: App, by: By, zone: string): Promise<Row[]> {
  const { lines } = weekTargets(app, by, zone);
  const ahead = await weekAhead(app, lines, zone);
  return lines.map(({ userId, name, booked, callsAWeek }) => {
    const to = ahead[String(userId)];
    return {
      ...{ who: name, booked, target: callsAWeek },
      ...{ "likely from": to ? booked + to.low : null, "likely to": to ? booked + to.high : null },
    };
  });
}

/** What happened to everybody, what did in the time before, and then by sequence. */
function reportRows(app: App, by: By, query: Record<string, string>, zone: string): Row[] {
  const { day, span } = reportQuery.parse(query);
  const found = report(app, by, day ?? dayOf(app.clock.now(), zone), span, zone);
  const row = (name: string, counted: Happened): Row => ({
    what: name,
    ...Object.fromEntries(HAPPENED_NAMES.map((each) => [HAPPENED[each][1], counted[each]])),
  });
  return [
    row(`All from ${found.from} to ${found.to}`, found.now),
    row("All in the time before", found.before),
    ...found.sequences.map(({ name, now }) => row(name, now)),
  ];
}

/** Null where there is no such sequence for them. */
export function sequenceTable(
  app: App,
  by: By,
  id: number,
  query: Record<string, string>,
  zone: string,
): string | null {
  if (query.show === "people") return peopleTable(app, by, id, query, zone);
  const look = lookQuery.parse(query);
  const results = sequenceResults(app, by, id, look, zone);
  if (!results) return null;
  if (query.show === "weeks") return csv(cohorts(app, by, id, look, zone).map((week) => ({ ...week })));
  if (query.show === "beside")
    return csv(besideRows(results, besideOf(app, by, id, look, query.beside, zone)));
  if (query.show === "opens")
    return csv(
      loadLines(app, by, id, look, zone).map((line) => ({ ...line, because: line.because.join("; ") })),
    );
  return csv((TABLES.get(query.show ?? "") ?? stepRows)(results, look.green));
}

/** All of them, however many pages they are. */
function peopleTable(
  app: App,
  by: By,
  id: number,
  query: Record<string, string>,
  zone: string,
): string | null {
  const found = peopleBehind(app, by, id, { ...behindQuery.parse(query), page: 0 }, zone, EVERYBODY);
  const day = (at: number | null) => (at === null ? "" : dayOf(at, zone));
  return (
    found &&
    csv(
      found.people.map(({ name, title, company, startedAt, answeredAt }) => ({
        ...{ name, title, company, started: day(startedAt), answered: day(answeredAt) },
      })),
    )
  );
}

function besideRows({ name, figures }: SequenceResults, other: Beside | null): Row[] {
  const row = (name: string, counted: Figures): Row => ({
    look: name,
    ...Object.fromEntries(FIGURE_NAMES.map((figure) => [figure, counted[figure]])),
  });
  return [row(name, figures), ...(other ? [row(other.name, other.results.figures)] : [])];
}

const stepRows = ({ steps }: SequenceResults, green: Green): Row[] =>
  steps.map(({ name, channel, made, reached, bounced, brought, daysToAnswer, gone }) => ({
    ...{ step: name, channel, made, reached, bounced, ...brought },
    ...ends(shareOf(Math.round(brought[green]), reached)),
    ...{ "days to answer": daysToAnswer, left: gone },
  }));

const against = (rest: Share, falseShare: number, differs: boolean): Row => ({
  "rest in all": rest.whole,
  "rest brought": rest.part,
  "false share": falseShare.toFixed(4),
  differs: differs ? "yes" : "no",
});

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
    times: ({ stretches }: SequenceResults) =>
      stretches.map(({ by, from, hours, own, rest, falseShare, differs }) => ({
        ...{ by, from, hours, sent: own.whole, brought: own.part },
        ...ends(own),
        ...against(rest, falseShare, differs),
      })),
    who: ({ groups }: SequenceResults) =>
      groups.map(({ attribute, value, own, rest, falseShare, differs }) => ({
        ...{ attribute, value, reached: own.whole, brought: own.part },
        ...ends(own),
        ...against(rest, falseShare, differs),
      })),
    long: ({ howLong }: SequenceResults) =>
      howLong.touches.map(({ nth, made, brought }) => ({
        ...{ touch: nth, made, brought },
        silent: howLong.silent.findLast(({ at }) => at <= nth)?.silent.toFixed(4) ?? "1",
      })),
  }),
);
