/** The state of composing: the form, what can be undone, what is selected, and everything that can be done to a path. */
import { useCallback, useMemo, useRef, useState } from "react";
import type { Condition } from "../../core/sequence/condition";
import * as edit from "../../core/sequence/edit-path";
import {
  type EmailStep,
  everyNode,
  type Path,
  type PathNode,
  type StepKind,
  spotsOf,
} from "../../core/sequence/path";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { KIND_WORDS } from "./step-words";

const CLIPBOARD = "saudade-steps";
/** Typing within this time is one thing to undo. */
const ONE_CHANGE = 900;

export const newId = (): string => crypto.randomUUID().slice(0, 8);

export function blankNode(kind: StepKind | "fork" | "end", path: Path, gap: edit.Gap): PathNode {
  const id = newId();
  if (kind === "end") return { id, kind };
  if (kind === "fork") {
    const invitation = everyNode(path).find((node) => node.kind === "invitation");
    const ask: Condition = invitation ? { about: "accepted" } : { about: "profile" };
    return edit.newFork(id, ask);
  }
  const wait = edit.fittingWait(gap);
  if (kind === "email" || kind === "approved_email") {
    const number = everyNode(path).filter(
      (node) => node.kind === "email" || node.kind === "approved_email",
    ).length;
    return {
      id,
      kind,
      name: number === 0 ? "Opening" : `Follow-up ${number}`,
      note: "",
      wait,
      variants: [{ id: "a", weight: 1, subject: "", body: "" }],
      format: "formatted",
      quotes: false,
      attachments: [],
    };
  }
  return {
    id,
    kind,
    name: KIND_WORDS[kind],
    note: "",
    wait,
    text: "",
    journey: "waits",
    skipAfter: kind === "profile_view" ? 3 : 5,
    asNote: false,
  };
}

interface History {
  past: SequenceForm[];
  future: SequenceForm[];
}

/** `proposed`: a path to begin with in place of the stored one, as a change that can be undone; `at`: the node that is open first. */
export function useComposer(
  opened: SequenceForm,
  { proposed = null, at = null }: { proposed?: Path | null; at?: string | null } = {},
) {
  const [form, setForm] = useState(proposed ? { ...opened, path: proposed } : opened);
  const [history, setHistory] = useState<History>({ past: proposed ? [opened] : [], future: [] });
  const [selected, setSelected] = useState<string | null>(at ?? opened.path[0]?.id ?? null);
  const last = useRef({ what: "", at: 0 });

  /** `what` names the change: the same one again soon after is part of it. */
  const change = useCallback((what: string, next: SequenceForm) => {
    const now = Date.now();
    const continues = last.current.what === what && now - last.current.at < ONE_CHANGE;
    last.current = { what, at: now };
    setForm((before) => {
      if (!continues) setHistory(({ past }) => ({ past: [...past.slice(-199), before], future: [] }));
      return next;
    });
  }, []);
  const setPath = (what: string, path: Path) => {
    if (path !== form.path) change(what, { ...form, path });
  };
  const undo = () => {
    const before = history.past.at(-1);
    if (!before) return;
    last.current = { what: "", at: 0 };
    setHistory({ past: history.past.slice(0, -1), future: [form, ...history.future] });
    setForm(before);
  };
  const redo = () => {
    const [next, ...future] = history.future;
    if (!next) return;
    last.current = { what: "", at: 0 };
    setHistory({ past: [...history.past, form], future });
    setForm(next);
  };

  const { path } = form;
  const node = useMemo(
    () => (selected === null ? undefined : spotsOf(path).get(selected)?.node),
    [path, selected],
  );
  const lastId = everyNode(path).at(-1)?.id;
  /** Behind what is selected, else at the end. */
  const hereGap = (): edit.Gap =>
    (selected !== null ? edit.gapAfter(path, selected) : null) ?? { within: null, index: path.length };

  function add(kind: StepKind | "fork" | "end", gap = hereGap()): void {
    const added = blankNode(kind, path, gap);
    setPath(`add ${added.id}`, edit.putIn(path, gap, added));
    setSelected(added.id);
  }
  function removeNode(id: string, keep?: "yes" | "no"): void {
    const all = everyNode(path);
    const index = all.findIndex((each) => each.id === id);
    const next = keep ? edit.keepWay(path, id, keep) : edit.remove(path, id);
    setPath(`remove ${id}`, next);
    const left = spotsOf(next);
    setSelected(
      [...all.slice(0, index).reverse(), ...all.slice(index + 1)].find((each) => left.has(each.id))?.id ??
        null,
    );
  }
  function duplicate(id: string): void {
    const before = new Set(everyNode(path).map((each) => each.id));
    const next = edit.duplicate(path, id, newId);
    setPath(`duplicate ${id}`, next);
    setSelected(everyNode(next).find((each) => !before.has(each.id))?.id ?? id);
  }
  function copy(id: string): void {
    const found = edit.nodeOf(path, id);
    if (found) localStorage.setItem(CLIPBOARD, JSON.stringify([found]));
  }
  function paste(nodes: Path | null = readClipboard()): void {
    if (!nodes) return;
    const pasted = edit.copies(nodes, newId);
    setPath(`paste ${pasted[0]?.id}`, edit.putIn(path, hereGap(), ...pasted));
    setSelected(pasted[0]?.id ?? selected);
  }
  return {
    form,
    node,
    selected: node ? selected : (lastId ?? null),
    select: setSelected,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    undo,
    redo,
    change,
    /** Takes what is stored for the form, with nothing to undo. */
    take: (stored: SequenceForm) => {
      setForm(stored);
      setHistory({ past: [], future: [] });
    },
    set: (changes: Partial<SequenceForm>) => change(Object.keys(changes).join(), { ...form, ...changes }),
    setNode: (changed: PathNode, what = "text") =>
      setPath(
        `${what} ${changed.id}`,
        edit.replace(path, changed.id, () => changed),
      ),
    setEmail: (step: EmailStep) =>
      setPath(
        `text ${step.id}`,
        edit.replace(path, step.id, () => step),
      ),
    shift: (id: string, byDays: number, alone: boolean) =>
      setPath(`shift ${id}`, edit.shift(path, id, byDays, alone)),
    moveTo: (id: string, gap: edit.Gap) => setPath(`move ${id}`, edit.move(path, id, gap)),
    add,
    remove: removeNode,
    duplicate,
    copy,
    paste,
  };
}
export type Composer = ReturnType<typeof useComposer>;

/** Steps that were copied here or in another sequence; null if there are none. */
export function readClipboard(): Path | null {
  try {
    const nodes = JSON.parse(localStorage.getItem(CLIPBOARD) ?? "null") as Path | null;
    return Array.isArray(nodes) && nodes.length > 0 ? nodes : null;
  } catch {
    return null;
  }
}
