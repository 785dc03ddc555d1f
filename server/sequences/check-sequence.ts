import { everyStep, isEmail, type Path } from "../../core/sequence/path.ts";
import {
  letterOf,
  type PathProblem,
  type PushyRemark,
  pathProblems,
  pushyRemarks,
} from "../../core/sequence/path-problems.ts";
import { blanksIn } from "../../core/sequence/shelf.ts";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../core/writing/fields.ts";
import { fieldsIn, mergeProblems, renderMerge } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import { type Config, isLoopback } from "../config.ts";
import type { Db } from "../db/open.ts";
import { allCustomFields, customFields, prospectsOfList, prospectValues } from "../db/prospects.ts";
import type { Sequence } from "../db/sequences.ts";
import { type StartCheck, standingCounts } from "./start-check.ts";

export interface SequenceCheck {
  problems: PathProblem[];
  /** Matters of judgement, which keep nobody from starting. */
  remarks: PushyRemark[];
  /** Merge fields that some prospects of the list lack, and how many. */
  missing: { field: string; count: number }[];
  /** How those of the list stand before a start. */
  start: StartCheck["counts"];
  /** Every field that the texts may use. */
  fields: string[];
  /** Of the list's own fields, how many of it have one. */
  has: Record<string, number>;
}

/** Every email has a link to stop writing: what keeps prospects from reaching it, or null. The demo's people live here. */
export function addressProblem({ url, demo }: Config): string | null {
  const { hostname } = new URL(url);
  return demo || !isLoopback(hostname)
    ? null
    : `The links in these emails would lead to ${hostname}, which is this machine: prospects could neither opt out nor book. Start Saudade with SAUDADE_URL=https://… set to the address at which they reach it.`;
}

/** Lists longer than this are checked on their first prospects; the engine holds whom it missed. */
const MOST_CHECKED = 2_000;

type Checked = Pick<Sequence, "id" | "listId" | "path" | "settings" | "writesTo">;

/** Every field that a sequence's texts may use. */
function fieldsOf(
  { db }: App,
  { listId }: Pick<Sequence, "listId">,
): { fields: string[]; has: SequenceCheck["has"] } {
  const own = listId === null ? [] : customFields(db, listId);
  return {
    fields: [
      ...PROSPECT_FIELDS,
      ...SENDER_FIELDS,
      ...(listId === null ? allCustomFields(db) : own.map(({ name }) => name)),
    ],
    has: Object.fromEntries(own.map(({ name, count }) => [name, count])),
  };
}

/** What keeps a sequence from starting for anybody, whoever is on its list. Expects a path as it would be saved. */
export function problemsOf(
  app: App,
  sequence: Checked,
  fields: readonly string[] = fieldsOf(app, sequence).fields,
): PathProblem[] {
  const { tracksOpens, tracksClicks, stops } = sequence.settings;
  const problems = pathProblems(sequence.path, { tracksOpens, tracksClicks, stopsOnReply: stops.reply });
  problems.push(...textProblems(sequence.path, fields));
  if (sequence.settings.pageId === null)
    for (const { text, ...where } of templatesOf(sequence.path))
      if (fieldsIn(text).some((field) => field === "page_link" || field === "page_picture"))
        problems.push({
          ...where,
          message: "It writes with a page: choose which one in the settings, under “Its page”.",
        });
  const unreachable = addressProblem(app.config);
  if (unreachable && everyStep(sequence.path).some(isEmail))
    problems.push({ nodeId: sequence.path[0]?.id ?? "", field: "body", message: unreachable });
  return problems;
}

/** Everything that can be said about a sequence before it starts. Expects a path as it would be saved. */
export function checkSequence(app: App, sequence: Checked): SequenceCheck {
  const { db } = app;
  const { fields, has } = fieldsOf(app, sequence);
  const problems = problemsOf(app, sequence, fields);
  return {
    problems,
    remarks: pushyRemarks(sequence.path),
    missing:
      sequence.listId === null || problems.length > 0
        ? []
        : missingFields(db, sequence.listId, sequence.path),
    start: standingCounts(app, sequence),
    ...{ fields, has },
  };
}

/** Every template of a path, with the step, field and wording it belongs to. */
type Template = Pick<PathProblem, "nodeId" | "field" | "variantId"> & { text: string };
function templatesOf(path: Path): Template[] {
  return everyStep(path).flatMap((step): Template[] =>
    isEmail(step)
      ? step.variants.flatMap((variant) =>
          (["subject", "body"] as const).map((field) => ({
            nodeId: step.id,
            field,
            ...(step.variants.length > 1 ? { variantId: variant.id } : {}),
            text: variant[field],
          })),
        )
      : [{ nodeId: step.id, field: "text" as const, text: step.text }],
  );
}

function textProblems(path: Path, fields: readonly string[]): PathProblem[] {
  const steps = new Map(everyStep(path).map((step) => [step.id, step]));
  const blankWords = (text: string) => {
    const [blank] = blanksIn(text);
    return blank === undefined ? [] : [`There is a blank to fill in: “[${blank}]”.`];
  };
  return templatesOf(path).flatMap(({ text, ...where }) =>
    [...mergeProblems(text, fields), ...blankWords(text)].map((message) => {
      const step = steps.get(where.nodeId);
      const which =
        where.variantId && step && isEmail(step) ? ` (wording ${letterOf(step, where.variantId)})` : "";
      return { ...where, message: message + which };
    }),
  );
}

function missingFields(db: Db, listId: number, path: Path) {
  const templates = templatesOf(path)
    .map(({ text }) => text)
    .filter((text) => fieldsIn(text).length > 0);
  const counts = new Map<string, number>();
  const sender = Object.fromEntries(SENDER_FIELDS.map((field) => [field, "x"]));
  const used = [...new Set(templates.flatMap(fieldsIn))];
  // Without conditions in them, texts tell people apart only by what these lack.
  const isPlain = !templates.some((template) => template.includes("{%"));
  const seen = new Map<string, Set<string>>();
  for (const prospect of prospectsOfList(db, listId, MOST_CHECKED)) {
    const values: Record<string, string> = { ...prospectValues(prospect), ...sender };
    const key = isPlain ? used.filter((field) => !values[field]?.trim()).join() : String(prospect.id);
    let lacking = seen.get(key);
    if (!lacking) {
      lacking = new Set(
        templates.flatMap((template) => {
          const rendered = renderMerge(template, values);
          return !rendered.ok && rendered.emptyField ? [rendered.emptyField] : [];
        }),
      );
      seen.set(key, lacking);
    }
    for (const field of lacking) counts.set(field, (counts.get(field) ?? 0) + 1);
  }
  return [...counts].map(([field, count]) => ({ field, count })).sort((a, b) => b.count - a.count);
}
