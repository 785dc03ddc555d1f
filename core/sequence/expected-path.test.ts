import { describe, expect, it } from "vitest";
import type { Begun, Place } from "./advance.ts";
import { expectedEmails, expectedSteps } from "./expected-path.ts";
import type { Facts } from "./holds.ts";
import type { Path } from "./path.ts";
import { days, email, end, fork, nothingKnown, task } from "./test-paths.ts";

const begun = (...ids: string[]) => new Map<string, Begun>(ids.map((id) => [id, { at: 0, endedAt: 0 }]));
const from = (nodeId: string | null): Place => ({ nodeId, since: 100 });
const ahead = (path: Path, nodeId: string | null, facts: Partial<Facts> = {}, done: string[] = []) =>
  expectedSteps({ path, begun: begun(...done) }, from(nodeId), { ...nothingKnown, ...facts }).map(
    ({ step, waits }) => `${step.id} ${waits.map((wait) => ("days" in wait ? wait.days : "?")).join("+")}`,
  );

describe("what somebody has ahead", () => {
  it("is nothing where they are through, or stand before what is gone", () => {
    expect(ahead([email("a")], null)).toEqual([]);
    expect(ahead([email("a")], "gone")).toEqual([]);
    expect(ahead([], null)).toEqual([]);
  });

  it("goes by how they are, and takes what nothing is known of for no", () => {
    const ask = (about: Parameters<typeof fork>[1]) => [fork("f", about, [email("y", 1)], [email("n", 1)])];
    expect(ahead(ask({ about: "profile" }), "f", { hasProfile: true })).toEqual(["y 1"]);
    expect(ahead(ask({ about: "profile" }), "f")).toEqual(["n 1"]);
    expect(ahead(ask({ about: "profile", not: true }), "f")).toEqual(["y 1"]);
    expect(ahead(ask({ about: "accepted" }), "f")).toEqual(["n 3+1"]);
    // "Not accepted" is the yes of that fork.
    expect(ahead(ask({ about: "accepted", not: true }), "f")).toEqual(["y 3+1"]);
  });

  it("leaves out a step that is not for them, and adds its wait to the next", () => {
    const path = (onlyIf: Parameters<typeof fork>[1]) => [
      email("a"),
      email("b", 2, { onlyIf }),
      email("c", 3),
    ];
    expect(ahead(path({ about: "profile" }), "a")).toEqual(["a ", "c 2+3"]);
    expect(ahead(path({ about: "address" }), "a")).toEqual(["a ", "b 2", "c 3"]);
    // What may still happen is expected.
    expect(ahead(path({ about: "opened", stepId: "a" }), "a")).toEqual(["a ", "b 2", "c 3"]);
  });

  it("passes what was begun, and waits for what is still open only where it lapses", () => {
    const path = (skipAfter: number | null) => [task("t", "call", 1, { skipAfter }), email("b", 2)];
    expect(ahead(path(null), "t", {}, ["t"])).toEqual(["b 2"]);
    expect(ahead(path(4), "t", {}, ["t"])).toEqual(["b 4+2"]);
    expect(ahead(path(4), "t")).toEqual(["t 1", "b 2"]);
    expect(ahead([email("a", 1), email("b", 2)], "a", {}, ["a"])).toEqual(["b 2"]);
  });

  it("ends at an end, and goes on behind a way that has none", () => {
    const path = [fork("f", { about: "profile" }, [email("y"), end("e")], []), email("z", 1)];
    expect(ahead(path, "f", { hasProfile: true })).toEqual(["y "]);
    expect(ahead(path, "f")).toEqual(["z 1"]);
  });

  it("counts an email's waits since the email before", () => {
    const path = [email("a"), task("t", "call", 1), email("b", 2), task("u", "call", 5)];
    expect(expectedEmails({ path, begun: begun() }, from("a"), nothingKnown)).toEqual([
      { id: "a", waits: [] },
      { id: "b", waits: [days(1), days(2)] },
    ]);
  });
});
