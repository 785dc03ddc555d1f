/** Our own emails in what comes back, whatever a program put around them, and what else is quoted. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { OurEmail } from "./our-words.ts";
import { isAttribution, partQuoted } from "./quoted.ts";

const OURS: OurEmail = {
  subject: "A shelf for the prints",
  text: 'Dear Ilse,\n\nYour print room moves in May. Would a shelf that rolls be of use?\nIf not, answer "stop" and I will not write again.\n\nMarta Quintela\nQuillwater',
  fromName: "Marta Quintela",
  fromAddress: "marta@quillwater.example",
  recipient: "ilse@kai.example",
};
const marked = (mark: string) => OURS.text.replace(/^/gm, mark);
const FLAT = OURS.text.replace(/\s+/g, " ");

const WAYS: Record<string, (answer: string) => string> = {
  "marked, under a heading": (answer) => `${answer}\n\nOn 3 May 2026, Marta Quintela wrote:\n${marked("> ")}`,
  "unmarked, under a heading of no language that is known": (answer) =>
    `${answer}\n\nMarta Quintela <marta@quillwater.example> zapsat 3.5.2026:\n\n${OURS.text}`,
  "unmarked, without any heading": (answer) => `${answer}\n\n${OURS.text}`,
  "above the answer": (answer) => `Marta Quintela wrote:\n\n${OURS.text}\n\n${answer}`,
  "in bold labels": (answer) =>
    `${answer}\n\n*From:* Marta Quintela\n*Sent:* Monday\n*To:* Ilse\n*Subject:* A shelf for the prints\n\n${OURS.text}`,
  "in Chinese labels": (answer) =>
    `${answer}\n\n发件人: Marta Quintela\n发送时间: 2026年5月3日\n收件人: Ilse\n主题: A shelf for the prints\n\n${OURS.text}`,
  "with somebody's initials": (answer) => `${answer}\n\n${marked("MQ> ")}`,
  "behind pipes": (answer) => `${answer}\n\n${marked("| ")}`,
  "in one line with the answer": (answer) =>
    `${answer} From: Marta Quintela Subject: A shelf for the prints ${FLAT}`,
  "between borders": (answer) => `${answer}\n--------------------\n${OURS.text}\n--------------------`,
  "in other quotation marks": (answer) => `${answer}\n\n${OURS.text.replaceAll('"', "”")}`,
  "in lines of thirty letters": (answer) => `${answer}\n\n${FLAT.replace(/(.{20,30})\s/g, "$1\n")}`,
};

describe("our own email", () => {
  it.each(Object.entries(WAYS))("%s is taken out, and the answer stays", (_, quote) => {
    for (const answer of ["Yes, on Thursday.", "How much is it?", "Nein danke."])
      expect(partQuoted(quote(answer), [OURS]).written).toBe(answer);
  });

  it("between whose lines somebody answers leaves what they wrote", () => {
    const lines = OURS.text.split("\n").map((line) => `> ${line}`);
    const text = [...lines.slice(0, 3), "In June, not in May.", ...lines.slice(3), "Write again then."].join(
      "\n",
    );
    expect(partQuoted(text, [OURS]).written).toBe("In June, not in May.\nWrite again then.");
  });

  it("is told from a few words of it that somebody uses in a sentence of theirs", () => {
    const text = "A shelf that rolls be of use? Yes indeed, and would a second one fit?";
    expect(partQuoted(text, [OURS]).written).toBe(text);
  });

  it("never takes away a word of what somebody wrote above it", () =>
    fc.assert(
      fc.property(fc.stringMatching(/^[A-Z][a-z]{2,9}( [a-z]{2,9}){0,12}\.$/), (answer) => {
        for (const quote of Object.values(WAYS))
          expect(partQuoted(quote(answer), [OURS]).written).toBe(answer);
      }),
      { numRuns: 40 },
    ));
});

describe("what else is quoted", () => {
  it.each([
    "Am 3. Mai 2026 um 10:00 schrieb Jo Lind <jo@kai.example>:",
    "Le 3 mai 2026 à 10:00, Jo Lind a écrit :",
    "пн, 3 мая 2026 г. в 10:00, Jo Lind <jo@kai.example>:",
    "2026年5月3日(日) 10:00 Jo Lind <jo@kai.example>:",
    "Jo Lind, 3 May 2026 Paz, 10:00 tarihinde şunu yazdı:",
    "Jo Lind wrote:",
  ])("begins behind “%s”", (heading) => {
    expect(isAttribution(heading)).toBe(true);
    expect(partQuoted(`Thank you.\n\n${heading}\n\nShall we meet?`, []).written).toBe("Thank you.");
  });

  it.each([
    "Here is what I need:",
    "Two things: price and weight",
    "Write to jo@kai.example",
    "Tel: 01632 960411",
  ])("does not begin behind “%s”", (line) =>
    expect(partQuoted(`Hello,\n${line}\nmore to say`, []).written).toContain("more to say"),
  );

  it("is kept whole, and unsure, where a heading stands at the top and nothing tells where the answer begins", () => {
    const text = "Jo Lind wrote:\n\nShall we meet?\n\nYes.";
    expect(partQuoted(text, [])).toEqual({ written: text, mixed: true });
  });
});
