/**
 * Two looks beside each other: another sequence, version, list, sender, or the time before, on the same filters otherwise; or a
 * look that was kept, with filters of its own.
 */
import { z } from "zod";
import { dayNumberFrom, dayNumberOf, textOfDay } from "../../core/calendar.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { listSequences } from "../sequences/list-sequences.ts";
import { type LookChoices, lookChoices } from "./choices.ts";
import { lookKept } from "./kept-looks.ts";
import type { Look } from "./look.ts";
import { type SequenceResults, sequenceResults } from "./one-sequence.ts";

/** What the other one differs by: "sequence 3", "version 2", "list 5", "rep 1", "look 4", or "before". */
const besideSchema = z
  .string()
  .regex(/^(?:(?:sequence|version|list|rep|look) \d{1,9}|before)$/)
  .optional()
  .catch(undefined);

export interface Beside {
  results: SequenceResults;
  /** What it is, in a word or two. */
  name: string;
}

/** Null where nothing is set beside it, or what is meant is not there. */
export function besideOf(
  app: App,
  by: By,
  id: number,
  look: Look,
  asked: unknown,
  zone: string,
): Beside | null {
  const beside = besideSchema.parse(asked);
  if (!beside) return null;
  const [what = "", number] = beside.split(" ");
  const choice = besideChoices(app, by, id, look, zone).find(([value]) => value === beside);
  if (!choice) return null;
  if (what === "look") {
    const kept = lookKept(app, by, Number(number));
    const results =
      kept &&
      sequenceResults(
        app,
        by,
        kept.sequenceId,
        { ...kept.look, credit: look.credit, green: look.green },
        zone,
      );
    return results && { results, name: choice[1] };
  }
  const other: Look =
    what === "before"
      ? { ...look, ...timeBefore(app, look, zone) }
      : what === "sequence"
        ? withoutOwn(look)
        : { ...look, [what]: Number(number) };
  const results = sequenceResults(app, by, what === "sequence" ? Number(number) : id, other, zone);
  return results && { results, name: choice[1] };
}

/** What belongs to one sequence only. */
const withoutOwn = ({ version: _version, ...look }: Look): Look => look;

/** As long as the time of the look, ended where that begins. */
function timeBefore({ clock }: App, { since, until }: Look, zone: string): { since: string; until: string } {
  const last = until ? dayNumberFrom(until) : dayNumberOf(clock.now(), zone);
  const first = since ? dayNumberFrom(since) : last;
  return { since: textOfDay(first - (last - first) - 1), until: textOfDay(first - 1) };
}

/** What can be set beside a look, with its words. */
export function besideChoices(
  app: App,
  by: By,
  id: number,
  look: Look,
  zone: string,
  choices: LookChoices = lookChoices(app, by, id, zone),
): [value: string, words: string][] {
  const of = (what: string, all: readonly { id: number; name: string }[], set: number | undefined) =>
    all.filter((each) => each.id !== set).map((each): [string, string] => [`${what} ${each.id}`, each.name]);
  return [
    ...(look.since ? [["before", "the time before"] satisfies [string, string]] : []),
    ...choices.versions
      .filter((version) => version !== look.version)
      .map((version): [string, string] => [`version ${version}`, `version ${version}`]),
    ...of(
      "sequence",
      listSequences(app, by).filter(({ figures }) => figures.started > 0),
      id,
    ),
    ...of("list", choices.lists, look.list),
    ...of("rep", choices.reps, look.rep),
    ...of(
      "look",
      choices.kept.filter(({ address }) => /^\/results\/\d/.test(address)),
      undefined,
    ),
  ];
}
