import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { DAY, HOUR, instantOn } from "../calendar.ts";
import { SETTLES } from "../replies/loads.ts";
import {
  advance,
  type Begun,
  DRAFT_LEAD,
  forkDeadline,
  type Place,
  stepDueAt,
  type Walker,
} from "./advance.ts";
import { expectedEmails } from "./expected-path.ts";
import type { Facts } from "./holds.ts";
import { type EmailStep, everyStep, type Path } from "./path.ts";
import { anyFacts, anyPath, days, email, end, fork, lisbon, nothingKnown, task } from "./test-paths.ts";

const zone = "Europe/Lisbon";
const tuesday = instantOn("2026-06-09", "10:00", zone);
const walker = (path: Path, begun: Record<string, Begun> = {}): Walker => ({
  path,
  calendar: lisbon,
  seed: 7,
  begun: new Map(Object.entries(begun)),
});
const walk = (
  path: Path,
  place: Place,
  now: number,
  facts: Partial<Facts> = {},
  begun: Record<string, Begun> = {},
) => advance(walker(path, begun), place, { ...nothingKnown, ...facts }, now);

describe("a journey", () => {
  const invite = [
    task("invite", "invitation"),
    fork(
      "accepted",
      { about: "accepted" },
      [task("message", "social_message", 1)],
      [email("mail", 2)],
      days(5),
    ),
    email("last", 4),
  ];

  it("acts on a step once it is due, and says until when it waits", () => {
    const path = [email("a"), email("b", 3)];
    expect(walk(path, { nodeId: "a", since: tuesday }, tuesday).move).toMatchObject({
      kind: "act",
      due: tuesday,
    });
    const { move } = walk(path, { nodeId: "b", since: tuesday }, tuesday + DAY);
    expect(move).toMatchObject({ kind: "wait", for: "step" });
    expect(new Date((move as { until: number }).until).toISOString().slice(0, 10)).toBe("2026-06-12");
  });

  it("waits for what only the rep can do, and goes on from when it is done", () => {
    const place = { nodeId: "invite", since: tuesday };
    const open = { invite: { at: tuesday, endedAt: null } };
    expect(walk(invite, place, tuesday + 9 * DAY, {}, open).move).toMatchObject({
      for: "touch",
      until: null,
    });
    const done = { invite: { at: tuesday, endedAt: tuesday + HOUR } };
    expect(walk(invite, place, tuesday + HOUR, {}, done).place).toEqual({
      nodeId: "accepted",
      since: tuesday + HOUR,
    });
  });

  it("leaves a touch undone after its days, or does not wait for it at all", () => {
    const place = { nodeId: "ring", since: tuesday };
    const open = { ring: { at: tuesday, endedAt: null } };
    const lapsing = [task("ring", "call", 0, { skipAfter: 2 }), email("b", 1)];
    expect(walk(lapsing, place, tuesday + DAY, {}, open).move).toMatchObject({ kind: "wait", for: "touch" });
    const later = walk(lapsing, place, tuesday + 3 * DAY, {}, open);
    expect(later.decisions).toMatchObject([{ kind: "lapse", stepId: "ring" }]);
    expect(later.place.nodeId).toBe("b");
    const goingOn = [task("ring", "call", 0, { journey: "goes_on" }), email("b", 1)];
    expect(walk(goingOn, place, tuesday + HOUR, {}, open).place).toEqual({ nodeId: "b", since: tuesday });
  });

  it("takes yes at the instant of the fact, and no at the deadline", () => {
    const place = { nodeId: "accepted", since: tuesday };
    const accepted = walk(invite, place, tuesday + 9 * DAY, { acceptedAt: tuesday + DAY });
    expect(accepted.decisions).toMatchObject([{ branch: "yes", at: tuesday + DAY }]);
    // Too late, though it is known when the fork is looked at.
    const late = walk(invite, place, tuesday + 30 * DAY, { acceptedAt: tuesday + 20 * DAY });
    expect(late.decisions).toMatchObject([{ branch: "no", at: instantOn("2026-06-16", "09:00", zone) }]);
  });

  it("goes from the end of a branch on with what follows the fork, and nowhere from an end", () => {
    const sent = { mail: { at: tuesday, endedAt: tuesday } };
    expect(walk(invite, { nodeId: "mail", since: tuesday }, tuesday, {}, sent).place.nodeId).toBe("last");
    const ending = [fork("f", { about: "profile" }, [end("e")], [email("a")]), email("b", 1)];
    expect(walk(ending, { nodeId: "f", since: tuesday }, tuesday, { hasProfile: true }).move.kind).toBe(
      "finish",
    );
  });

  it("passes a step that is only for others, from the day it would have gone", () => {
    const path = [
      email("a"),
      email("nudge", 2, { onlyIf: { about: "opened", stepId: "a", not: true } }),
      email("c", 1),
    ];
    const { decisions, place } = walk(path, { nodeId: "nudge", since: tuesday }, tuesday + 4 * DAY, {
      openedAt: new Map([["a", tuesday + HOUR]]),
    });
    expect(decisions).toMatchObject([{ kind: "skip", stepId: "nudge" }]);
    expect(place).toMatchObject({ nodeId: "c" });
    expect(new Date(place.since).toISOString().slice(0, 10)).toBe("2026-06-11");
  });

  it("shows a draft a day before it would go", () => {
    const path = [email("a"), email("b", 3, { kind: "approved_email" })];
    const at = (now: number) => walk(path, { nodeId: "b", since: tuesday }, now).move.kind;
    expect(at(tuesday + DAY)).toBe("wait");
    expect(at(tuesday + 2.5 * DAY)).toBe("act");
  });
});

describe("an open or a click just before it is decided", () => {
  const seen = (at: number) => ({ openedAt: new Map([["a", at]]) });

  it("leads on its way at a fork, though it is known only a little later", () => {
    const asks = fork("f", { about: "opened", stepId: "a" }, [email("y", 1)], [email("n", 1)], days(2));
    const deadline = forkDeadline(walker([asks]), asks, tuesday);
    const at = (now: number, facts: Partial<Facts> = {}) =>
      walk([asks], { nodeId: "f", since: tuesday }, now, facts);
    expect(at(deadline).move).toMatchObject({ kind: "wait", for: "fork", until: deadline + SETTLES });
    expect(at(deadline + SETTLES).decisions).toMatchObject([{ branch: "no", at: deadline }]);
    expect(at(deadline + SETTLES, seen(deadline - 1)).decisions).toMatchObject([
      { branch: "yes", at: deadline - 1 },
    ]);
    expect(at(deadline + DAY, seen(deadline + 1)).decisions).toMatchObject([{ branch: "no", at: deadline }]);
  });

  it("leaves out a step that is only for others", () => {
    const nudge = email("nudge", 2, { onlyIf: { about: "opened", stepId: "a", not: true } });
    const path = [nudge, email("c", 1)];
    const due = stepDueAt(walker(path), nudge, tuesday);
    const at = (now: number, facts: Partial<Facts> = {}) =>
      walk(path, { nodeId: "nudge", since: tuesday }, now, facts);
    expect(at(due).move).toMatchObject({ kind: "wait", for: "step", until: due + SETTLES });
    expect(at(due + SETTLES).move).toMatchObject({ kind: "act", due });
    expect(at(due + SETTLES, seen(due)).decisions).toMatchObject([{ kind: "skip", stepId: "nudge" }]);
    expect(at(due + DAY, seen(due + 1)).move).toMatchObject({ kind: "act", due });
  });
});

describe("an instant that is just reached", () => {
  it("is enough for a step, a fork and a touch left undone, and a millisecond before is not", () => {
    const path = [email("b", 3)];
    const place = { nodeId: "b", since: tuesday };
    const due = stepDueAt(walker(path), path[0] as EmailStep, tuesday);
    expect(walk(path, place, due - 1).move).toEqual({ kind: "wait", for: "step", step: path[0], until: due });
    expect(walk(path, place, due).move).toEqual({ kind: "act", step: path[0], due });

    const asks = fork("f", { about: "accepted" }, [], [email("c", 1)], days(2));
    const deadline = forkDeadline(walker([asks]), asks, tuesday);
    expect(walk([asks], { nodeId: "f", since: tuesday }, deadline - 1).move).toEqual({
      kind: "wait",
      for: "fork",
      fork: asks,
      until: deadline,
    });
    expect(walk([asks], { nodeId: "f", since: tuesday }, deadline).decisions).toEqual([
      { kind: "fork", forkId: "f", branch: "no", at: deadline, ask: { about: "accepted" } },
    ]);

    const lapsing = [task("t", "call", 0, { skipAfter: 1 })];
    const open = { t: { at: tuesday, endedAt: null } };
    const lapses = instantOn("2026-06-10", "09:00", zone);
    expect(walk(lapsing, { nodeId: "t", since: tuesday }, lapses - 1, {}, open).move).toMatchObject({
      until: lapses,
    });
    expect(walk(lapsing, { nodeId: "t", since: tuesday }, lapses, {}, open).decisions).toEqual([
      { kind: "lapse", stepId: "t", at: lapses },
    ]);
  });

  it("shows a draft a day before, and one that is not for them not at all", () => {
    const draft = (onlyIf?: EmailStep["onlyIf"]) => [
      email("b", 3, { kind: "approved_email", ...(onlyIf && { onlyIf }) }),
    ];
    const place = { nodeId: "b", since: tuesday };
    const due = stepDueAt(walker(draft()), draft()[0] as EmailStep, tuesday);
    expect(walk(draft(), place, due - DRAFT_LEAD - 1).move).toMatchObject({
      kind: "wait",
      until: due - DRAFT_LEAD,
    });
    expect(walk(draft(), place, due - DRAFT_LEAD).move).toMatchObject({ kind: "act", due });
    // For others it waits until it would go, and is passed then.
    const forOthers = draft({ about: "profile" });
    expect(walk(forOthers, place, due - DRAFT_LEAD).move).toMatchObject({ kind: "wait", until: due });
    expect(walk(forOthers, place, due).decisions).toMatchObject([{ kind: "skip", stepId: "b", at: due }]);
    expect(walk(draft({ about: "address" }), place, due - DRAFT_LEAD).move.kind).toBe("act");
    // Never before its own wait began.
    const soon = [email("b", 0, { kind: "approved_email" })];
    expect(walk(soon, place, tuesday - 1).move).toMatchObject({ kind: "wait", until: tuesday });
  });
});

describe("when a step falls due", () => {
  const due = (step: Path[number], change: Partial<Walker> = {}) =>
    stepDueAt({ ...walker([step]), ...change }, step as EmailStep, tuesday);
  const opens = instantOn("2026-06-10", "09:00", zone);

  it("is spread over the morning for an email, by the journey and the step, and the opening for a rep's touch", () => {
    expect(due(task("t", "call", 1))).toBe(opens);
    const moments = ["a", "b", "c"].map((id) => due(email(id, 1)));
    expect(new Set([...moments, due(email("a", 1), { seed: 8 })]).size).toBe(4);
    for (const moment of moments) expect(moment).toBeGreaterThan(opens);
  });

  it("is the hour that was named, where it was, whatever the hours of the sequence", () => {
    const named = { ...email("a", 0, { anyHour: true }), wait: { hours: 12 } };
    expect(due(named)).toBe(tuesday + 12 * HOUR);
    const nextDay = due(email("a", 1, { anyHour: true }));
    expect(nextDay).toBe(due(email("b", 1, { anyHour: true })));
  });

  it("is their best hour only where the step wishes for it and one is known", () => {
    const best = instantOn("2026-06-10", "14:00", zone);
    const wishes = email("a", 1, { bestHour: true });
    expect(due(wishes, { bestMinute: 14 * 60 })).toBe(best);
    expect(due(email("a", 1), { bestMinute: 14 * 60 })).not.toBe(best);
    expect(due(wishes)).toBe(due(email("a", 1)));
  });
});

it("a touch that the journey does not wait for goes on from when it came up, also once it is done", () => {
  const path = (journey: "waits" | "goes_on") => [task("t", "call", 0, { journey }), email("b", 1)];
  const done = { t: { at: tuesday, endedAt: tuesday + DAY } };
  const since = (journey: "waits" | "goes_on") =>
    walk(path(journey), { nodeId: "t", since: tuesday }, tuesday + DAY, {}, done).place.since;
  expect(since("goes_on")).toBe(tuesday);
  expect(since("waits")).toBe(tuesday + DAY);
  const sent = { a: { at: tuesday, endedAt: null } };
  expect(walk([email("a")], { nodeId: "a", since: tuesday }, tuesday + DAY, {}, sent).move).toEqual({
    kind: "wait",
    for: "touch",
    step: email("a"),
    until: null,
  });
});

it("somebody who stands nowhere, or before what is gone, is through", () => {
  expect(walk([email("a")], { nodeId: null, since: tuesday }, tuesday).move).toEqual({ kind: "finish" });
  expect(walk([email("a")], { nodeId: "gone", since: tuesday }, tuesday)).toEqual({
    place: { nodeId: null, since: tuesday },
    move: { kind: "finish" },
    decisions: [],
  });
});

/** Walks to the end as an engine would that looks every `every` milliseconds; emails go when due, tasks an hour later. */
function play(path: Path, facts: Facts, every: number) {
  const begun = new Map<string, Begun>();
  const decided: string[] = [];
  const acted: string[] = [];
  let place: Place = { nodeId: path[0]?.id ?? null, since: tuesday };
  for (let now = tuesday; now < tuesday + 900 * DAY; now += every) {
    // What became due since the last look is caught up with, as an engine does that slept.
    for (let turn = 0; turn < 100; turn++) {
      const result = advance({ ...walker(path), begun }, place, facts, now);
      place = result.place;
      decided.push(...result.decisions.map((each) => JSON.stringify(each)));
      if (result.move.kind === "finish") return { decided, acted, ended: true };
      if (result.move.kind !== "act") break;
      const { step, due } = result.move;
      acted.push(`${step.id} ${due}`);
      begun.set(step.id, { at: due, endedAt: due });
    }
  }
  return { decided, acted, ended: false };
}

describe("every walk", () => {
  it("ends, makes no step twice, and decides the same however late the tick", () => {
    fc.assert(
      fc.property(anyPath, anyFacts, (path, facts) => {
        const punctual = play(path, facts, 8 * HOUR);
        expect(punctual.ended).toBe(true);
        const steps = punctual.acted.map((each) => each.split(" ")[0]);
        expect(new Set(steps).size).toBe(steps.length);
        expect(play(path, facts, 31 * DAY)).toEqual(punctual);
      }),
      { numRuns: 150 },
    );
  });

  it("is expected to send no email that is not on the path, and none twice", () => {
    fc.assert(
      fc.property(anyPath, anyFacts, (path, facts) => {
        const start = { nodeId: path[0]?.id ?? null, since: tuesday };
        const ids = expectedEmails(walker(path), start, facts).map(({ id }) => id);
        expect(new Set(ids).size).toBe(ids.length);
        const emails = everyStep(path).filter(({ kind }) => kind === "email");
        for (const id of ids) expect(emails.map((step) => step.id)).toContain(id);
      }),
    );
  });
});

describe("what is expected", () => {
  it("adds up the waits of what comes between two emails, and takes no at an open fork", () => {
    const path = [
      email("a"),
      task("view", "profile_view", 1),
      fork("f", { about: "clicked", stepId: "a" }, [email("y", 1)], [email("n", 1)], days(4)),
      email("b", 2),
    ];
    const start = { nodeId: "a", since: tuesday };
    const ahead = expectedEmails(walker(path), start, nothingKnown);
    expect(ahead).toEqual([
      { id: "a", waits: [] },
      { id: "n", waits: [days(1), days(4), days(1)] },
      { id: "b", waits: [days(2)] },
    ]);
  });
});
