// @vitest-environment jsdom
import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { everyNode } from "../../core/sequence/path";
import { email, fork, task } from "../../core/sequence/test-paths";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { readClipboard, useComposer } from "./use-composer";

const path = [
  email("a"),
  fork("f", { about: "profile" }, [email("b", 1)], [task("t", "call", 1)]),
  email("c", 3),
];
const composed = (form: object = {}) =>
  renderHook(() => useComposer({ name: "Loans", path, ...form } as SequenceForm)).result;
const ids = (at: ReturnType<typeof composed>) =>
  everyNode(at.current.form.path)
    .map(({ id }) => (id.length > 2 ? "new" : id))
    .join(" ");

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
});
afterEach(() => vi.useRealTimers());
/** So that what follows is another change. */
const later = () => vi.advanceTimersByTime(2_000);

describe("composing", () => {
  it("puts what is new behind what is selected, and selects it", () => {
    const at = composed();
    expect(at.current.selected).toBe("a");
    act(() => at.current.add("call"));
    expect(ids(at)).toBe("a new f b t c");
    expect(at.current.node).toMatchObject({ kind: "call", wait: { days: 3 }, skipAfter: 5 });
    act(() => at.current.select("b"));
    act(() => at.current.add("end"));
    expect(ids(at)).toBe("a new f b new t c");
    act(() => at.current.add("email", { within: null, index: 0 }));
    expect(at.current.node).toMatchObject({ kind: "email", name: "Follow-up 3", wait: { days: 0 } });
    act(() => at.current.add("profile_view"));
    expect(at.current.node).toMatchObject({ skipAfter: 3 });
  });

  it("names the first email, and asks at a fork what can be asked there", () => {
    const empty = composed({ path: [] });
    expect(empty.current).toMatchObject({ selected: null, node: undefined });
    act(() => empty.current.add("email"));
    expect(empty.current.node).toMatchObject({ name: "Opening", wait: { days: 0 } });
    act(() => empty.current.add("fork"));
    expect(empty.current.node).toMatchObject({ kind: "fork", ask: { about: "profile" } });
    act(() => empty.current.add("invitation"));
    act(() => empty.current.add("fork"));
    expect(empty.current.node).toMatchObject({ ask: { about: "accepted" } });
  });

  it("selects what stood before what was taken out, or else what follows", () => {
    const at = composed();
    act(() => at.current.remove("c"));
    expect([ids(at), at.current.selected]).toEqual(["a f b t", "t"]);
    act(() => at.current.remove("a"));
    expect([ids(at), at.current.selected]).toEqual(["f b t", "f"]);
    act(() => at.current.remove("f", "no"));
    expect([ids(at), at.current.selected]).toEqual(["t", "t"]);
    act(() => at.current.remove("t"));
    expect([ids(at), at.current.selected]).toEqual(["", null]);
  });

  it("takes back and does again, one press at a time", () => {
    const at = composed();
    expect([at.current.canUndo, at.current.canRedo]).toEqual([false, false]);
    act(() => at.current.remove("c"));
    later();
    act(() => at.current.shift("b", 2, false));
    act(() => at.current.undo());
    act(() => at.current.undo());
    expect(at.current.form.path).toBe(path);
    expect([at.current.canUndo, at.current.canRedo]).toEqual([false, true]);
    act(() => at.current.undo());
    act(() => at.current.redo());
    expect(ids(at)).toBe("a f b t");
    // Whoever goes on from there has nothing to do again.
    later();
    act(() => at.current.remove("t"));
    expect(at.current.canRedo).toBe(false);
    act(() => at.current.redo());
    expect(ids(at)).toBe("a f b");
  });

  it("takes typing within a breath back as one, and after a breath as two", () => {
    const at = composed();
    for (const name of ["L", "Lo", "Loa"]) act(() => at.current.set({ name }));
    later();
    act(() => at.current.set({ name: "Loan" }));
    act(() => at.current.set({ isPersonal: true }));
    expect(at.current.form).toMatchObject({ name: "Loan", isPersonal: true });
    act(() => at.current.undo());
    expect(at.current.form).toMatchObject({ name: "Loan" });
    act(() => at.current.undo());
    expect(at.current.form).toMatchObject({ name: "Loa" });
    act(() => at.current.undo());
    expect(at.current.form).toMatchObject({ name: "Loans" });
    expect(at.current.canUndo).toBe(false);
  });

  it("forgets what could be taken back once something else is taken for it", () => {
    const at = composed();
    act(() => at.current.remove("c"));
    act(() => at.current.take({ ...at.current.form, name: "Stored" }));
    expect(at.current).toMatchObject({ canUndo: false, canRedo: false, form: { name: "Stored" } });
  });

  it("changes nothing where nothing is done", () => {
    const at = composed();
    act(() => at.current.shift("b", 0, false));
    act(() => at.current.moveTo("a", { within: null, index: 0 }));
    act(() => at.current.undo());
    expect(at.current).toMatchObject({ canUndo: false, form: { path } });
  });

  it("copies steps from one sequence to another, with ids of their own", () => {
    const from = composed();
    expect(readClipboard()).toBeNull();
    act(() => from.current.copy("f"));
    const to = composed({ path: [email("x")] });
    act(() => to.current.paste());
    expect(ids(to)).toBe("x new new new");
    expect(to.current.node).toMatchObject({ kind: "fork" });
    const made = everyNode(to.current.form.path).map(({ id }) => id);
    expect(new Set(made).size).toBe(4);
    act(() => to.current.duplicate("x"));
    expect(ids(to)).toBe("x new new new new");
    expect(to.current.selected).toBe(to.current.form.path[1]?.id);
  });

  it.each(["nothing", "{", "[]", '"text"'])("pastes nothing where the clipboard holds %s", (kept) => {
    if (kept !== "nothing") localStorage.setItem("saudade-steps", kept);
    const at = composed();
    act(() => at.current.paste());
    expect(at.current.form.path).toBe(path);
  });
});
