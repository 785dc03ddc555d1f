import { describe, expect, it } from "vitest";
import { PROSPECT_FIELDS } from "./fields.ts";
import { formatEmail, isFormatted } from "./format.ts";
import { fieldsIn, mergeProblems, renderMarkup, renderMerge } from "./merge.ts";
import { quoteBelow } from "./quote.ts";

describe("merge fields", () => {
  it("are filled in from the prospect", () => {
    expect(renderMerge("Dear {{ first_name }}", { first_name: "Ilse" })).toEqual({
      ok: true,
      text: "Dear Ilse",
    });
  });

  it("fall back when empty, also when the value is only blanks", () => {
    expect(renderMerge('Hello {{ first_name | default: "there" }}', { first_name: "  " })).toEqual({
      ok: true,
      text: "Hello there",
    });
  });

  it("name the empty one when there is no fallback", () => {
    expect(renderMerge("Dear {{ first_name }} at {{ company }}", { first_name: "Ilse" })).toEqual({
      ok: false,
      emptyField: "company",
    });
  });

  it("may be asked for in a condition without being filled", () => {
    expect(renderMerge("{% if city %}in {{ city }}{% else %}where you are{% endif %}", {})).toEqual({
      ok: true,
      text: "where you are",
    });
  });

  it("with a typo are answered with the field that was meant", () => {
    expect(mergeProblems("Dear {{ frist_name }}", PROSPECT_FIELDS)).toEqual([
      "There is no field “frist_name”. Did you mean “first_name”?",
    ]);
    expect(mergeProblems("{{ shoe_size }}", PROSPECT_FIELDS)).toEqual([
      "There is no field “shoe_size” in this list.",
    ]);
  });

  it.each([
    ["Dear {{ first_name", "never closed"],
    ["{{ first_name | shout }}", "There is no filter “shout”"],
    ["{% include 'x' %}", "“include” cannot be used"],
  ])("written wrongly (%s) say so", (template, words) => {
    expect(mergeProblems(template, PROSPECT_FIELDS).join()).toContain(words);
  });

  it("cannot be made to run for ever", () => {
    const endless = "{% for a in (1..99999999) %}{% for b in (1..99999999) %}x{% endfor %}{% endfor %}";
    expect(renderMerge(endless, {}).ok).toBe(false);
  });

  it.each([
    ["https://x.example/?c={{ company }}", "https://x.example/?c=Kai%20%26%20Sons%20%22GmbH%22"],
    ["https://x.example/{{ company }}/visit", "https://x.example/Kai%20%26%20Sons%20%22GmbH%22/visit"],
    [
      "[the sheet](https://x.example/?c={{company}}&d=1)",
      "[the sheet](https://x.example/?c=Kai%20%26%20Sons%20%22GmbH%22&d=1)",
    ],
    [
      "https://x.example/?c={{ company | default: 'a b' }}",
      "https://x.example/?c=Kai%20%26%20Sons%20%22GmbH%22",
    ],
    ["{{ company }} at https://x.example/", 'Kai & Sons "GmbH" at https://x.example/'],
    ["{{ booking_link }}?x=1", "https://book.example/a?p=1&q=2?x=1"],
  ])("inside an address are written as addresses are: %s", (template, text) => {
    const values = { company: 'Kai & Sons "GmbH"', booking_link: "https://book.example/a?p=1&q=2" };
    expect(renderMerge(template, values)).toEqual({ ok: true, text });
  });

  it("inside an address come through as one link, in HTML and in plain text", () => {
    const rendered = renderMarkup(
      "See https://x.example/?c={{ company }} soon",
      { company: "Kai & Sons_a_ (b)" },
      [],
    );
    const { html, text } = formatEmail(
      rendered.ok ? rendered.text : "",
      { linkFor: null, pixel: null },
      rendered.ok ? rendered.text : "",
    );
    expect(html).toContain('href="https://x.example/?c=Kai%20%26%20Sons%5Fa%5F%20%28b%29"');
    expect(text).toContain("https://x.example/?c=Kai%20%26%20Sons");
  });

  it("that took their work are filled in again: a limit counts steps, not the clock, and is another's in the next text", () => {
    const long = "{% for a in (1..90) %}{% for b in (1..90) %}x{% endfor %}{% endfor %}";
    for (let nth = 0; nth < 5; nth++) expect(renderMerge(long, {}).ok).toBe(renderMerge(long, {}).ok);
    expect(renderMerge("Dear {{ first_name }}", { first_name: "Ilse" })).toMatchObject({ ok: true });
  });

  it("are listed once each, in the order of their use", () => {
    expect(fieldsIn('{{ company }} {{ first_name | default: "you" }} {{ company }}')).toEqual([
      "company",
      "first_name",
    ]);
  });
});

describe("formatting", () => {
  it("leaves a plain text plain, bare addresses included", () => {
    expect(isFormatted("Hello\nsee https://quillwater.example/a")).toBe(false);
    expect(formatEmail("Hello", null)).toEqual({ text: "Hello", html: null });
  });

  it("makes HTML of bold and links, and readable text beside it", () => {
    const email = formatEmail("A **dry** case, [the sheet](https://quillwater.example/s)", null);
    expect(email.html).toContain("<strong>dry</strong>");
    expect(email.text).toContain("the sheet [https://quillwater.example/s]");
  });

  it("drops scripts", () => {
    expect(formatEmail("**x** <script>alert(1)</script>", null).html).not.toContain("script");
  });

  it("follows links and opens in the HTML, and leaves the text's own links alone", () => {
    const email = formatEmail("see https://quillwater.example/a", {
      linkFor: (url) => `https://t.example/?to=${encodeURIComponent(url)}`,
      pixel: "https://t.example/p.gif",
    });
    expect(email.html).toContain("https://t.example/?to=https%3A%2F%2Fquillwater.example%2Fa");
    expect(email.html).toContain("p.gif");
    expect(email.text).toBe("see https://quillwater.example/a");
  });
});

describe("the thread below", () => {
  it("is quoted line by line, with who wrote it when, and is no formatting of ours", () => {
    const { text, markup } = quoteBelow(
      {
        body: "Dear Ilse,\n\n# 5 * 3 is **not** bold",
        sentAt: Date.parse("2026-06-09T22:30:00Z"),
        senderName: "Marta",
      },
      "Europe/Lisbon",
    );
    expect(text).toBe("\n\nOn Tue, 9 June 2026, Marta wrote:\n> Dear Ilse,\n>\n> # 5 * 3 is **not** bold");
    const { html } = formatEmail(text, null, `Hello${markup}`);
    expect(html).toContain("<blockquote>");
    expect(html).not.toMatch(/<strong>|<h3>/);
    expect(html).toContain("# 5 * 3 is **not** bold");
  });
});
