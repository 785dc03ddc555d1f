/** Paths that reps do write, which nothing may refuse, and such that make no sense, which must be. */
import { describe, expect, it } from "vitest";
import type { Condition } from "./condition.ts";
import type { Path } from "./path.ts";
import { pathProblems } from "./path-problems.ts";
import { days, email, end, fork, task } from "./test-paths.ts";
import type { Wait } from "./wait.ts";

const letter = (id: string, wait: Wait, subject = "") =>
  email(id, 0, { wait, variants: [{ id: "a", weight: 1, subject, body: "Hello" }] });
const accepted: Condition = { about: "accepted" };
const address: Condition = { about: "address" };
const profile: Condition = { about: "profile" };
const opened = (stepId: string): Condition => ({ about: "opened", stepId });
const clicked = (stepId: string): Condition => ({ about: "clicked", stepId });
const label = (is: "interested" | "question" | "not_now"): Condition => ({ about: "label", is });
const city: Condition = { about: "field", field: "city", op: "is", value: "Porto" };
const hours = (count: number): Wait => ({ hours: count });
const first = letter("first", days(0), "Loans");

const seen = { tracksOpens: true, tracksClicks: true };
const refused = (path: Path, stopsOnReply = true) =>
  pathProblems(path, { ...seen, stopsOnReply }).map(({ message }) => message);

describe("a path that makes sense is not refused", () => {
  it.each<[string, Path]>([
    ["one email", [first]],
    ["an email, and a call at once", [first, task("ring", "call", 0)]],
    [
      "a view, an invitation and an email on one day",
      [task("look", "profile_view"), task("ask", "invitation"), first],
    ],
    [
      "an email, then whoever did not open it gets another after four days",
      [first, fork("f", opened("first"), [end("e")], [letter("again", days(0))], days(4))],
    ],
    [
      "the same, asked the other way round",
      [first, fork("f", { ...opened("first"), not: true }, [letter("again", days(0))], [end("e")], days(4))],
    ],
    [
      "whoever clicks is rung up at once, others get a note after three days",
      [first, fork("f", clicked("first"), [task("ring", "call", 0)], [letter("note", days(0))], days(3))],
    ],
    [
      "whoever clicks gets the sheet at once",
      [first, fork("f", clicked("first"), [letter("sheet", days(0))], [end("e")], days(5))],
    ],
    [
      "a message at the instant they accept, else an email",
      [task("ask", "invitation"), fork("f", accepted, [task("say", "social_message", 0)], [first], days(5))],
    ],
    [
      "an email at the instant they accept",
      [
        first,
        task("ask", "invitation", 1),
        fork("f", accepted, [letter("hi", days(0))], [letter("other", days(0))], days(5)),
      ],
    ],
    [
      "an email straight after an email and an invitation of the same day, once accepted",
      [
        first,
        task("ask", "invitation", 0),
        fork("f", accepted, [letter("hi", days(0))], [], days(5)),
        letter("last", days(3)),
      ],
    ],
    [
      "nothing but a fork's patience is waited for",
      [
        task("ask", "invitation"),
        fork("f", accepted, [task("say", "social_message", 0)], [task("write", "errand", 0)], days(7)),
      ],
    ],
    [
      "patience in hours",
      [first, fork("f", opened("first"), [task("ring", "call", 0)], [letter("again", days(0))], hours(48))],
    ],
    [
      "patience until a weekday",
      [
        first,
        fork("f", opened("first"), [task("ring", "call", 0)], [letter("again", days(0))], {
          weekday: 1,
          time: "09:00",
        }),
      ],
    ],
    [
      "patience until a date",
      [
        first,
        fork("f", opened("first"), [end("e")], [letter("again", days(0))], {
          date: "2026-09-01",
          time: "09:00",
        }),
      ],
    ],
    ["with an address mail, without one the phone", [fork("f", address, [first], [task("ring", "call")])]],
    [
      "with a profile an invitation, then an email for all after two days",
      [fork("f", profile, [task("ask", "invitation")], []), letter("mail", days(2), "Loans")],
    ],
    [
      "with a profile an invitation, then at once an email for all",
      [fork("f", profile, [task("ask", "invitation")], []), first],
    ],
    [
      "by the city another email",
      [
        fork("f", city, [letter("porto", days(0), "In Porto")], [letter("else", days(0), "Loans")]),
        letter("next", days(3)),
      ],
    ],
    [
      "by the city another follow-up",
      [first, fork("f", city, [letter("porto", days(3))], [letter("else", days(4))])],
    ],
    [
      "the fork waits, then one email for both",
      [first, fork("f", opened("first"), [task("ring", "call")], [], days(3)), letter("both", days(2))],
    ],
    [
      "forks within a fork",
      [
        first,
        fork(
          "f",
          opened("first"),
          [fork("g", clicked("first"), [task("ring", "call")], [letter("sheet", days(0))], days(2))],
          [letter("again", days(0))],
          days(4),
        ),
      ],
    ],
    [
      "a second fork right after the first",
      [
        first,
        fork("f", opened("first"), [], [letter("again", days(0))], days(4)),
        fork("g", clicked("first"), [task("ring", "call")], [letter("last", days(0))], days(4)),
      ],
    ],
    ["waits of hours between emails", [first, letter("again", hours(30))]],
    ["waits to a weekday", [first, letter("again", { weekday: 2, time: "10:00" })]],
    [
      "waits to a date",
      [
        letter("invite", { date: "2026-06-12", time: "09:00" }, "The fair"),
        letter("thanks", { date: "2026-06-19", time: "09:00" }),
      ],
    ],
    [
      "a call on the same day between two emails of different days",
      [first, task("ring", "call"), letter("again", days(3))],
    ],
    [
      "a new thread after two follow-ups",
      [first, letter("two", days(3)), letter("three", days(4)), letter("new", days(10), "Another thought")],
    ],
    [
      "an invitation with a note, and what follows when it is accepted",
      [
        task("note", "social_message", 0, { asNote: true }),
        fork("f", accepted, [task("say", "social_message", 1)], [end("e")], days(6)),
      ],
    ],
    [
      "an end on the way of yes, steps after it for no",
      [
        first,
        fork("f", opened("first"), [task("ring", "call"), end("e")], [], days(3)),
        letter("again", days(1)),
      ],
    ],
    ["errands only", [task("parcel", "errand"), task("ring", "call", 3)]],
    [
      "an email whose follow-up is only made if it was not opened",
      [first, { ...letter("again", days(3)), onlyIf: { ...opened("first"), not: true } }],
    ],
    [
      "three ways by two fields",
      [
        fork(
          "f",
          city,
          [letter("porto", days(0), "Porto")],
          [fork("g", profile, [task("ask", "invitation")], [letter("else", days(0), "Loans")])],
        ),
      ],
    ],
    [
      "a fork on the address behind social touches",
      [
        task("look", "profile_view"),
        task("ask", "invitation", 1),
        fork("f", address, [letter("mail", days(2), "Loans")], [task("say", "social_message", 3)]),
      ],
    ],
    [
      "an email at the deadline of one fork within another's yes",
      [
        first,
        fork(
          "f",
          clicked("first"),
          [task("ring", "call"), fork("g", opened("first"), [], [letter("x", days(0))], days(2))],
          [letter("again", days(0))],
          days(4),
        ),
      ],
    ],
    ["a text of one sentence for everybody and one wait", [first, letter("bump", days(5))]],
  ])("%s", (_what, path) => {
    expect(refused(path)).toEqual([]);
  });

  it.each<[string, Path, boolean]>([
    [
      "whoever is interested gets the sheet, though a reply ends the sequence",
      [
        first,
        fork("f", label("interested"), [letter("sheet", days(0))], [letter("again", days(0))], days(4)),
      ],
      true,
    ],
    [
      "the same where a reply ends nothing",
      [
        first,
        fork("f", label("interested"), [letter("sheet", days(0))], [letter("again", days(0))], days(4)),
      ],
      false,
    ],
    [
      "a question is rung up, the others get the last note",
      [
        first,
        letter("two", days(3)),
        fork("f", label("question"), [task("ring", "call", 0)], [letter("last", days(0))], days(5)),
      ],
      true,
    ],
    [
      "not now is asked again in three months",
      [first, fork("f", label("not_now"), [letter("later", { days: 90, working: false })], [], days(5))],
      true,
    ],
    [
      "two labels, one after the other",
      [
        first,
        fork(
          "f",
          label("interested"),
          [task("ring", "call")],
          [
            fork(
              "g",
              label("not_now"),
              [letter("later", { days: 60, working: false })],
              [letter("last", days(0))],
              days(3),
            ),
          ],
          days(4),
        ),
      ],
      true,
    ],
  ])("%s", (_what, path, stopsOnReply) => {
    expect(refused(path, stopsOnReply)).toEqual([]);
  });
});

describe("a path that makes none is refused", () => {
  it.each<[string, Path, RegExp]>([
    [
      "two emails at once",
      [first, letter("again", days(0))],
      /waits at least one working day|Nothing is waited for/,
    ],
    [
      "two emails at once before a third that waits",
      [first, letter("again", days(0)), letter("third", days(4))],
      /waits at least one working day/,
    ],
    [
      "an email at once behind a fork that takes no time",
      [first, fork("f", city, [letter("porto", days(0))], [letter("else", days(3))])],
      /waits at least one working day/,
    ],
    [
      "an email at once behind a fork's empty way that takes no time",
      [
        first,
        fork("f", city, [task("ring", "call", 1)], []),
        letter("both", days(0)),
        letter("last", days(3)),
      ],
      /waits at least one working day/,
    ],
    [
      "an email at once after an email on a fork's way",
      [first, fork("f", opened("first"), [letter("two", days(0))], [], days(3)), letter("both", days(0))],
      /waits at least one working day/,
    ],
    [
      "a fork on what is to come",
      [fork("f", opened("first"), [task("ring", "call")], [], days(3)), first],
      /does not come before/,
    ],
    [
      "a fork on an acceptance nobody asked for",
      [first, fork("f", accepted, [task("say", "social_message")], [], days(3))],
      /no invitation/,
    ],
    [
      "a fork that waits for nothing",
      [first, fork("f", opened("first"), [task("ring", "call")], [letter("again", days(1))], days(0))],
      /how long it waits/,
    ],
    [
      "a label that is asked before anything was sent",
      [fork("f", label("interested"), [task("ring", "call")], [], days(3)), first],
      /before/,
    ],
    [
      "a step only for a label that ends the sequence first",
      [first, { ...letter("again", days(3)), onlyIf: label("interested") }],
      /a reply ends/,
    ],
    ["a follow-up without a thread", [task("ring", "call"), letter("again", days(2))], /needs a subject/],
    ["steps behind an end", [first, end("e"), letter("again", days(2))], /after an end/],
    [
      "two ways that are the same",
      [
        first,
        fork(
          "f",
          opened("first"),
          [letter("x", days(2))],
          [letter("y", days(2))].map((each) => ({ ...each, name: "x" })),
          days(2),
        ),
      ],
      /the same/,
    ],
    [
      "everything at once",
      [
        task("look", "profile_view"),
        task("ask", "invitation"),
        task("ring", "call"),
        task("say", "social_message"),
      ],
      /Nothing is waited for/,
    ],
  ])("%s", (_what, path, words) => {
    expect(refused(path).join("\n")).toMatch(words);
  });
});
