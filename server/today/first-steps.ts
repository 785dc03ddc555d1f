/** The way to the first email, step by step, each with what is still missing; gone once one has been sent. */
import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { allSequences, type Sequence } from "../db/sequences.ts";
import { listState } from "../prospects/lists/list-state.ts";
import { allLists } from "../prospects/lists/lists.ts";
import { checkSequence } from "../sequences/check-sequence.ts";

export interface FirstStep {
  name: "mailbox" | "list" | "sequence" | "start";
  isDone: boolean;
  /** What there is: the mailbox's address, the list's name, the sequence's. "" while there is nothing. */
  what: string;
  count: number;
  /** What is missing before it is done, or could be better though it is. */
  lacks: Lack[];
  to: string;
}

export type Lack =
  | { kind: "not_connected" }
  | { kind: "no_address" | "unchecked" | "duplicates"; count: number; to: string }
  | { kind: "texts"; count: number; first: string; to: string }
  | { kind: "no_list"; to: string }
  | { kind: "waits"; at: number | null };

/** Null once an email of a sequence has gone out. */
export function firstSteps(app: App): FirstStep[] | null {
  const { db } = app;
  const sent = "SELECT 1 FROM touches WHERE sent_at IS NOT NULL AND kind != 'test' LIMIT 1";
  if (sql(db, sent).get([]) !== undefined) return null;
  const sequences = allSequences(db).filter(
    ({ kind, archivedAt }) => kind === "shared" && archivedAt === null,
  );
  const running = sequences.find(({ state }) => state === "running");
  const draft = running ?? sequences.at(-1);
  return [mailboxStep(app), listStep(app), sequenceStep(app, draft), startStep(app, draft, running)];
}

function mailboxStep({ db }: App): FirstStep {
  const mailboxes = allMailboxes(db);
  const connected = mailboxes.find(({ connectedWall }) => connectedWall !== null);
  const shown = connected ?? mailboxes[0];
  return {
    name: "mailbox",
    isDone: connected !== undefined,
    what: shown?.address ?? "",
    count: mailboxes.length,
    lacks: shown && !connected ? [{ kind: "not_connected" }] : [],
    to: shown ? `/sending/mailboxes/${shown.id}` : "/sending/mailboxes/new",
  };
}

function listStep(app: App): FirstStep {
  const list = allLists(app, null).toSorted((a, b) => b.count - a.count)[0];
  if (!list || list.count === 0)
    return { name: "list", isDone: false, what: "", count: 0, lacks: [], to: "/prospects/import" };
  const { verdicts, duplicates } = listState(app, list.id);
  const addresses = `/lists/${list.id}/addresses`;
  const lacks: Lack[] = [
    { kind: "duplicates", count: duplicates, to: `/lists/${list.id}/duplicates` },
    { kind: "no_address", count: verdicts.missing, to: `${addresses}?show=missing` },
    { kind: "unchecked", count: verdicts.unchecked, to: addresses },
  ];
  return {
    name: "list",
    isDone: true,
    what: list.name,
    count: list.count,
    lacks: lacks.filter((lack) => "count" in lack && lack.count > 0),
    to: `/prospects?list=${list.id}`,
  };
}

function sequenceStep(app: App, draft: Sequence | undefined): FirstStep {
  const list = allLists(app, null).toSorted((a, b) => b.count - a.count)[0];
  if (!draft)
    return {
      name: "sequence",
      isDone: false,
      what: "",
      count: 0,
      lacks: [],
      to: list ? `/sequences/new?list=${list.id}` : "/sequences/new",
    };
  const to = `/sequences/${draft.id}`;
  const { problems } = checkSequence(app, draft);
  const lacks: Lack[] = [];
  if (problems[0]) lacks.push({ kind: "texts", count: problems.length, first: problems[0].message, to });
  if (draft.listId === null) lacks.push({ kind: "no_list", to: `${to}?show=settings` });
  return { name: "sequence", isDone: lacks.length === 0, what: draft.name, count: 1, lacks, to };
}

function startStep({ db }: App, draft: Sequence | undefined, running: Sequence | undefined): FirstStep {
  const next = sql(db, "SELECT min(next_at) AS at FROM journeys WHERE state = 'active'").get<{
    at: number | null;
  }>([]);
  return {
    name: "start",
    isDone: false,
    what: running?.name ?? "",
    count: running ? 1 : 0,
    lacks: running ? [{ kind: "waits", at: next?.at ?? null }] : [],
    to: running ? `/sequences/${running.id}/people` : draft ? `/sequences/${draft.id}/start` : "/sequences",
  };
}
