import { describe, expect, it } from "vitest";
import type { EmailStep, Path } from "./path.ts";
import { letterOf, pathProblems, pushyRemarks } from "./path-problems.ts";
import { days, email, end, fork, task } from "./test-paths.ts";

const settings = { tracksOpens: true, tracksClicks: true, stopsOnReply: true };
const problems = (path: Path, change: Partial<typeof settings> = {}) =>
  pathProblems(path, { ...settings, ...change });
const wording = (id: string, change: Partial<EmailStep["variants"][number]> = {}) => ({
  id,
  weight: 1,
  subject: "Loans",
  body: "Hello",
  ...change,
});
const opened = (stepId: string) => ({ about: "opened", stepId }) as const;
const clicked = (stepId: string) => ({ about: "clicked", stepId }) as const;

describe("a problem", () => {
  it.each<[string, Path, ReturnType<typeof pathProblems>]>([
    [
      "of an empty path is the path's",
      [end("e")],
      [{ nodeId: "", field: "path", message: "Add a first step." }],
    ],
    [
      "of a rep's own step names what is missing",
      [email("a"), task("t", "social_message", 1, { text: "  " }), task("u", "errand", 1, { text: "" })],
      ["t", "u"].map((id) => ({
        nodeId: id,
        field: "text" as const,
        message: `“${id}” has no text yet. Write it, or remove the step.`,
      })),
    ],
    [
      "is none where no words are needed",
      [
        task("v", "profile_view", 0, { text: "" }),
        task("i", "invitation", 1, { text: "" }),
        task("c", "call", 1, { text: "" }),
      ],
      [],
    ],
    [
      "of one wording says which",
      [email("a", 0, { variants: [wording("x"), wording("y", { subject: " ", body: "" })] })],
      [
        {
          nodeId: "a",
          field: "subject",
          variantId: "y",
          message:
            "The first email needs a subject (wording B): there is no thread yet that it could go on with.",
        },
        {
          nodeId: "a",
          field: "body",
          variantId: "y",
          message: "“a” (wording B) has no text yet. Write it, or remove the step.",
        },
      ],
    ],
    [
      "of the only wording names none",
      [email("a", 0, { variants: [wording("x", { body: " " })] })],
      [{ nodeId: "a", field: "body", message: "“a” has no text yet. Write it, or remove the step." }],
    ],
    [
      "is it that nobody gets any wording",
      [email("a", 0, { variants: [wording("x", { weight: 0 }), wording("y", { weight: 0 })] })],
      [{ nodeId: "a", field: "body", message: "All wordings of “a” have the weight 0: give one a weight." }],
    ],
    [
      "is it not that one of them has none",
      [email("a", 0, { variants: [wording("x", { weight: 0 }), wording("y")] })],
      [],
    ],
    [
      "of a follow-up at once lies in its wait",
      [email("a"), email("b", 0, { variants: [wording("x")] }), email("c", 2)],
      [{ nodeId: "b", field: "wait", message: "A follow-up waits at least one working day." }],
    ],
    [
      "is a follow-up at once also as the first of a way",
      [
        email("a"),
        fork(
          "f",
          { about: "profile" },
          [task("t", "call", 2)],
          [email("b", 0, { variants: [wording("x")] })],
        ),
      ],
      [{ nodeId: "b", field: "wait", message: "A follow-up waits at least one working day." }],
    ],
    [
      "is none behind a fork, where something else lies before",
      [
        email("a"),
        fork("f", { about: "profile" }, [task("t", "call", 2)], [end("e")]),
        email("b", 0, { variants: [wording("x")] }),
      ],
      [],
    ],
    [
      "is none behind a touch on another channel",
      [email("a"), task("t", "call", 1), email("b", 0, { variants: [wording("x")] })],
      [],
    ],
  ])("%s", (_, path, found) => expect(problems(path)).toEqual(found));

  it("of a condition says at which step, and why it can never be", () => {
    const only = (onlyIf: EmailStep["onlyIf"], before: Path = [email("a")]): string[] =>
      problems([...before, email("b", 2, { ...(onlyIf && { onlyIf }) })]).map(
        ({ nodeId, field, message }) => `${nodeId} ${field} ${message}`,
      );
    expect(only(opened("a"))).toEqual([]);
    expect(only(opened("gone"))).toEqual([
      "b onlyIf “b”: the email it asks about is no longer in the sequence. Choose another.",
    ]);
    expect(only(opened("t"), [email("a"), task("t", "call", 1)])[0]).toContain("no longer in the sequence");
    expect(only(clicked("b"))[0]).toContain("“b” does not come before it.");
    expect(only(opened("a"), [email("a", 0, { format: "plain" })])[0]).toContain(
      "“a” is plain text, in which nothing can be seen opened or clicked.",
    );
    expect(only({ about: "address" })).toEqual([]);
    expect(only({ about: "field", field: "city", op: "filled", value: "" })).toEqual([]);
  });

  it.each([
    ["opens", opened("a"), { tracksOpens: false }],
    ["clicks", clicked("a"), { tracksClicks: false }],
  ] as const)("is it to ask for %s that are not seen, and only then", (what, ask, off) => {
    const path = [email("a"), fork("f", ask, [email("b", 1)], [])];
    expect(problems(path, off).map(({ message }) => message)).toEqual([
      `A fork: ${what} are not seen in this sequence. Switch that on in its settings, or ask something else.`,
    ]);
    expect(problems(path)).toEqual([]);
    const other = "tracksOpens" in off ? { tracksClicks: false } : { tracksOpens: false };
    expect(problems(path, other)).toEqual([]);
  });

  it("is it to ask at a step for an answer where a reply stops, and only then; at a fork it is waited for", () => {
    const asked = { about: "label", is: "interested" } as const;
    const path = [email("a"), email("b", 1, { onlyIf: asked })];
    expect(problems(path)).toHaveLength(1);
    expect(problems(path, { stopsOnReply: false })).toEqual([]);
    expect(problems([email("a"), fork("f", asked, [email("b", 1)], [])])).toEqual([]);
  });

  it.each<[string, Path, boolean]>([
    ["an invitation", [task("i", "invitation")], true],
    ["a message as an invitation's note", [task("i", "social_message", 0, { asNote: true })], true],
    ["a message to contacts", [task("i", "social_message")], false],
    [
      "an invitation on one way before",
      [fork("g", { about: "profile" }, [task("i", "invitation")], [])],
      true,
    ],
    [
      "an invitation on the other way before",
      [fork("g", { about: "profile" }, [], [task("i", "invitation")])],
      true,
    ],
    ["a call as a note", [task("i", "call", 0, { asNote: true })], false],
  ])("with %s before it, an acceptance can be: %s", (_, before, can) => {
    const path = [...before, fork("f", { about: "accepted" }, [email("b", 1)], [])];
    expect(problems(path).some(({ message }) => message.includes("none can be accepted"))).toBe(!can);
  });

  it("is it to ask for what lies only on the other way, or behind", () => {
    const asks = fork("g", { about: "accepted" }, [email("b", 1)], []);
    const never = (path: Path) =>
      problems(path).some(({ message }) => message.includes("none can be accepted"));
    expect(never([fork("f", { about: "profile" }, [task("i", "invitation")], [asks])])).toBe(true);
    expect(never([fork("f", { about: "profile" }, [asks], [task("i", "invitation")])])).toBe(true);
    expect(never([fork("f", { about: "profile" }, [task("i", "invitation"), asks], [])])).toBe(false);
    expect(never([asks, task("i", "invitation")])).toBe(true);
  });

  it("of a fork lies in what it asks or how long it waits, by its name", () => {
    const named = (change: object) => [
      email("a"),
      { ...fork("f", opened("a"), [email("b", 1)], []), name: "Seen?", ...change },
    ];
    expect(problems(named({ patience: days(0) }))).toEqual([
      {
        nodeId: "f",
        field: "patience",
        message: "The fork “Seen?” asks for something that takes time: say how long it waits for it.",
      },
    ]);
    expect(problems(named({ yes: [] }))).toEqual([
      {
        nodeId: "f",
        field: "ask",
        message:
          "The fork “Seen?” has two ways that are the same: write one of them differently, or take it out.",
      },
    ]);
    expect(problems([email("a"), fork("f", { about: "profile" }, [email("b", 1)], [], days(0))])).toEqual([]);
  });

  it.each<[string, Path, string | null]>([
    [
      "a step",
      [email("a"), end("e"), email("b", 1)],
      "b “b” comes after an end, where nobody gets to. Move or remove it.",
    ],
    [
      "a second end",
      [email("a"), end("e"), end("g")],
      "g An end comes after an end, where nobody gets to. Move or remove it.",
    ],
    [
      "a fork without a name",
      [email("a"), end("e"), fork("f", { about: "profile" }, [email("b", 1)], [])],
      "f “A fork” comes after an end, where nobody gets to. Move or remove it.",
    ],
    [
      "what follows one way that ends",
      [fork("f", { about: "profile" }, [email("a"), end("e")], []), email("b", 1)],
      null,
    ],
    [
      "what stands behind an end within a way",
      [email("a"), fork("f", { about: "profile" }, [end("e"), email("b", 1)], [])],
      "b “b” comes after an end, where nobody gets to. Move or remove it.",
    ],
  ])("is it that nobody gets to %s", (_, path, said) => {
    const found = problems(path).filter(({ field }) => field === "path");
    expect(found.map(({ nodeId, message }) => `${nodeId} ${message}`)).toEqual(said === null ? [] : [said]);
  });

  it("is it that everything would come at once, on the longest way", () => {
    const atOnce =
      "Nothing is waited for anywhere: everything would come at once. Give the later steps a wait.";
    const four = [task("v", "profile_view"), email("a"), task("t", "call"), task("u", "errand")];
    expect(problems(four)).toEqual([{ nodeId: "v", field: "wait", message: atOnce }]);
    expect(problems(four.slice(1))).toEqual([]);
    const ways = (yes: Path, no: Path) => [fork("f", { about: "profile" }, yes, no)];
    expect(problems(ways([email("a")], four.slice(2)))).toEqual([]);
    expect(problems(ways([], four)).map(({ message }) => message)).toEqual([atOnce]);
    expect(problems([...four.slice(1), task("w", "call", 1)])).toEqual([]);
  });
});

it("a wording is called by its place", () => {
  const step = email("a", 0, { variants: [wording("x"), wording("y"), wording("z")] });
  expect(["x", "y", "z", "gone"].map((id) => letterOf(step, id))).toEqual(["A", "B", "C", "A"]);
});

describe("what reads as pushy", () => {
  const said = (path: Path) => pushyRemarks(path).map(({ nodeId, message }) => `${nodeId} ${message}`);
  const third = (id: string, count: number) =>
    `${id} “${id}” is the third email in a row within ${count} working days. Another channel in between looks less pushy.`;

  it.each<[string, Path, string[]]>([
    [
      "an email on the same day",
      [email("a", 3), email("b", 0)],
      ["b “b” follows the email before it within a day. Two or more read as patience."],
    ],
    [
      "an email on the next day",
      [email("a", 3), email("b", 1)],
      ["b “b” follows the email before it within one working day. Two or more read as patience."],
    ],
    ["an email two days later is not", [email("a", 3), email("b", 2)], []],
    ["a third within five days", [email("a", 3), email("b", 2), email("c", 3)], [third("c", 5)]],
    ["a third within six is not", [email("a", 3), email("b", 3), email("c", 3)], []],
    [
      "a third after another channel is not",
      [email("a"), task("t", "call", 2), email("b", 2), email("c", 2)],
      [],
    ],
    ["what stands behind an end is not looked at", [email("a"), end("e"), email("b", 1)], []],
  ])("%s", (_, path, remarks) => expect(said(path)).toEqual(remarks));

  it("counts the patience of a fork on the way on which it is waited for", () => {
    const onWays = (ask: Parameters<typeof fork>[1], yes: Path, no: Path) =>
      said([email("a"), fork("f", ask, yes, no, days(4))]);
    const [yes, no] = [[email("y", 1)], [email("n", 1)]];
    expect(onWays({ about: "accepted" }, yes, no)).toHaveLength(1);
    expect(onWays({ about: "accepted" }, yes, no)[0]).toMatch(/^y /);
    expect(onWays({ about: "accepted", not: true }, yes, no)[0]).toMatch(/^n /);
    // How somebody is, is known at once.
    expect(onWays({ about: "profile" }, yes, no)).toHaveLength(2);
  });

  it("goes on after a fork by the way on which less time passes", () => {
    const path = (yes: Path, no: Path) => [
      email("a"),
      fork("f", { about: "profile" }, yes, no),
      email("z", 1),
    ];
    expect(said(path([task("t", "call", 3)], []))).toEqual([
      "z “z” follows the email before it within one working day. Two or more read as patience.",
    ]);
    expect(said(path([], [task("t", "call", 3)]))).toEqual([
      "z “z” follows the email before it within one working day. Two or more read as patience.",
    ]);
    expect(said(path([task("t", "call", 3)], [task("u", "call", 3)]))).toEqual([]);
  });

  it("is a second invitation only where the first was not accepted", () => {
    const again = [task("j", "invitation", 2)];
    const path = (ask: Parameters<typeof fork>[1], yes: Path, no: Path) => [
      task("i", "invitation"),
      fork("f", ask, yes, no),
    ];
    const pushy = "j “j” invites somebody again who did not accept. Most take the silence for a no.";
    expect(said(path({ about: "accepted" }, [], again))).toEqual([pushy]);
    expect(said(path({ about: "accepted", not: true }, again, []))).toEqual([pushy]);
    expect(said(path({ about: "accepted" }, again, []))).toEqual([]);
    expect(said(path({ about: "profile" }, [], again))).toEqual([]);
    expect(
      said(
        path({ about: "accepted" }, [], [task("t", "call", 1), fork("g", { about: "profile" }, [], again)]),
      ),
    ).toEqual([pushy]);
    expect(said(path({ about: "accepted" }, [], [task("t", "call", 1)]))).toEqual([]);
  });
});
