import { describe, expect, it } from "vitest";
import { type CheckName, checkText, type TextToCheck } from "./checks.ts";

const good: TextToCheck = {
  subject: "Climate records for the autumn loans",
  sameThread: false,
  body: `Dear {{ first_name }},

When {{ company }} lends a piece, who puts together the humidity record that the lender asks for? We make small loggers that sit in the case and write that record. Would it help if I showed you one such sheet?`,
  sample: { text: "Dear Ilse, When Kaimuseum Nord lends a piece", values: ["Ilse", "Kaimuseum Nord"] },
};
const check = (name: CheckName, change: Partial<TextToCheck>) =>
  checkText({ ...good, ...change }).find((each) => each.name === name);

describe("an email is looked through", () => {
  it("and what is fine is called so, with its figure", () => {
    const checks = checkText(good);
    expect(checks.filter(({ standing }) => standing !== "fine")).toEqual([]);
    expect(checks.map(({ words }) => words).join()).toContain("2 questions");
  });

  it("but an empty one is judged in nothing", () => {
    expect(checkText({ ...good, body: "  " })).toMatchObject([{ standing: "unknown" }]);
  });

  it.each<[string, CheckName, Partial<TextToCheck>, string]>([
    ["a greeting without a message", "message", { body: "Hello {{ first_name }}" }, "hardly a message"],
    ["too many words", "length", { body: "one word more and ".repeat(60) }, "240 words"],
    ["no question", "questions", { body: good.body.replaceAll("?", ".") }, "Asks nothing"],
    [
      "many links",
      "links",
      { body: `${good.body} https://a.example https://b.example [c](https://c.example)` },
      "3 links",
    ],
    [
      "files that go as links, with those of the text",
      "links",
      { body: `${good.body} https://a.example`, linkedFiles: 2 },
      "3 links",
    ],
    [
      "a picture with little beside it",
      "pictures",
      { body: "![x](file:1) Look at this one now please, it is worth a look for sure" },
      "1 picture",
    ],
    [
      "shouting",
      "shouting",
      { body: `${good.body} GREAT!! Really!` },
      "1 word in capitals, 3 exclamation marks",
    ],
    ["a phrase that filters weigh", "phrases", { subject: "Act now" }, "“act now”"],
    ["a long subject", "subject", { subject: "x".repeat(70) }, "70 characters"],
    ["a subject that pretends to be an answer", "subject", { subject: "Re: our talk" }, "pretends"],
    [
      "a text that is about nobody",
      "personal",
      { body: "We make loggers that sit in the case and write a record of it all for you." },
      "about them",
    ],
  ])("%s is remarked", (_, name, change, words) => {
    expect(check(name, change)).toMatchObject({ standing: "remark", words: expect.stringContaining(words) });
  });

  it.each<[string, CheckName, Partial<TextToCheck>]>([
    [
      "how easy a short text reads",
      "ease",
      { body: "Hello there, one short question about your loans this year?" },
    ],
    [
      "how easy another language reads",
      "ease",
      {
        body: "Wir bauen kleine Messgeräte, die in der Vitrine liegen und das Klima selbst aufzeichnen. ".repeat(
          4,
        ),
      },
    ],
    ["the share that is about them, without a list", "personal", { sample: null }],
    ["the subject of an email in a thread", "subject", { sameThread: true }],
  ])("%s is not judged, and it says so", (_, name, change) => {
    expect(check(name, change)?.standing).toBe("unknown");
  });

  it("a hostile text takes no time", () => {
    expect(checkText({ ...good, body: "a.!?[(".repeat(3_000) }).length).toBeGreaterThan(3);
  });
});
