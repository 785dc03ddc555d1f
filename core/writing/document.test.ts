import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  asWords,
  type Block,
  type Inline,
  type Mark,
  readText,
  type TextDocument,
  writeText,
} from "./document.ts";
import { formatEmail } from "./format.ts";

describe("for a glance a text", () => {
  it.each([
    [
      '**Dear** {{ first_name | default: "you" }},\nsee [my *calendar*](https://q.example)',
      "Dear ‹first name›,\nsee my calendar",
    ],
    [
      "Three things:\n\n- the case\n- the *loan*\n\n> as you said",
      "Three things:\n\n– the case\n– the loan\n\nas you said",
    ],
    ["{% if city %}In {{ city }}{% endif %} it costs 3 \\* 4.", "In ‹city› it costs 3 * 4."],
    ["### Heat\n\n1. First\n2. Then", "Heat\n\n1. First\n2. Then"],
    ["", ""],
  ])("%j says %j", (text, words) => expect(asWords(text)).toBe(words));
});

describe("a stored text", () => {
  it("opens with its fields as chips, its links and its breaks", () => {
    expect(
      readText('Dear {{ first_name | default: "there" }},\nsee [my calendar]({{ booking_link }})'),
    ).toEqual({
      type: "doc",
      content: [
        {
          type: "paragraph",
          content: [
            { type: "text", text: "Dear " },
            { type: "field", attrs: { name: "first_name", fallback: "there" } },
            { type: "text", text: "," },
            { type: "hardBreak" },
            { type: "text", text: "see " },
            {
              type: "text",
              text: "my calendar",
              marks: [{ type: "link", attrs: { href: "{{ booking_link }}" } }],
            },
          ],
        },
      ],
    });
  });

  it.each([
    ["plain words", "Hello\nthere\n\nSecond paragraph"],
    ["bold and a list", "**eleven days** above\n\n- one\n- two\n\n1. first\n2. second"],
    ["a condition", "{% if city %}in {{ city }}{% else %}where you are{% endif %}"],
    ["a picture", "See ![the sheet](file:12)"],
    ["a quotation", "> as you said\n> last week\n\nYes."],
    ["what only looks like Markdown", "5 \\* 3 \\* 2, snake\\_case, \\[x\\]\n\\# no heading\n1\\. no list"],
    ["an address with signs in it", "see https://quillwater.example/a_b_c?d=e_f"],
  ])("with %s is written as it was read", (_, text) => expect(writeText(readText(text))).toBe(text));

  it("that is huge and full of signs opens as plain text, and soon", () => {
    const hostile = "**[".repeat(6_000);
    expect(JSON.stringify(readText(hostile))).toContain("paragraph");
  });
});

const words = fc
  .array(
    fc.constantFrom("Loan", "5*3", "snake_case", "a [b]", "1. x", "# y", "- z", "\\", "<b>", "é", "~", ">"),
    {
      minLength: 1,
      maxLength: 4,
    },
  )
  .map((parts) => parts.join(" "));
const marks = fc.constantFrom<Mark[]>(
  [],
  [{ type: "bold" }],
  [{ type: "italic" }],
  [{ type: "link", attrs: { href: "https://quillwater.example/a" } }],
);
const inline: fc.Arbitrary<Inline> = fc.oneof(
  fc
    .tuple(words, marks)
    .map(([text, own]): Inline => ({ type: "text", text, ...(own.length > 0 ? { marks: own } : {}) })),
  fc.constant<Inline>({ type: "field", attrs: { name: "city", fallback: null } }),
  fc.constant<Inline>({ type: "picture", attrs: { fileId: 3, alt: "sheet" } }),
);
/** Texts with the same marks side by side are one text: so an editor has them. */
const tidy = (content: Inline[]): Inline[] =>
  content.flatMap((each, index) =>
    index > 0 ? [{ type: "field" as const, attrs: { name: "title", fallback: "x" } }, each] : [each],
  );
const paragraph = fc
  .array(inline, { minLength: 1, maxLength: 4 })
  .map((content): Block => ({ type: "paragraph", content: tidy(content) }));
const block: fc.Arbitrary<Block> = fc.oneof(
  { weight: 4, arbitrary: paragraph },
  {
    weight: 1,
    arbitrary: fc.array(paragraph, { minLength: 1, maxLength: 3 }).map(
      (items): Block => ({
        type: "bulletList",
        content: items.map((item) => ({ type: "listItem", content: [item] })),
      }),
    ),
  },
);
/** Two lists side by side are one list in Markdown. */
const anyDocument: fc.Arbitrary<TextDocument> = fc
  .array(block, { minLength: 1, maxLength: 4 })
  .map((content) => ({
    type: "doc",
    content: content.filter(
      (each, index) => each.type === "paragraph" || content[index - 1]?.type === "paragraph",
    ),
  }))
  .filter(({ content }) => content.length > 0) as fc.Arbitrary<TextDocument>;

/** Every word, field and picture, without what they look like. */
const wordsOf = (document: TextDocument): string =>
  JSON.stringify(document, (key, value) => (key === "marks" ? undefined : value)).replace(
    /"\},\{"type":"text","text":"/g,
    "",
  );

describe("a text that was written in the editor", () => {
  it("comes back with every mark, where words are marked", () => {
    const bold: Inline = { type: "text", text: "eleven days", marks: [{ type: "bold" }] };
    const linked: Inline = {
      type: "text",
      text: "the sheet",
      marks: [{ type: "link", attrs: { href: "{{ booking_link }}" } }, { type: "bold" }],
    };
    const document: TextDocument = {
      type: "doc",
      content: [
        { type: "paragraph", content: [bold, { type: "text", text: " above, " }, linked] },
        {
          type: "bulletList",
          content: [{ type: "listItem", content: [{ type: "paragraph", content: [linked] }] }],
        },
      ],
    };
    expect(readText(writeText(document))).toEqual(document);
  });

  it("comes back with every word, whatever signs are in it", () => {
    fc.assert(
      fc.property(anyDocument, (document) => {
        const read = readText(writeText(document));
        expect(wordsOf(read)).toBe(wordsOf(document));
      }),
      { numRuns: 400 },
    );
  });

  it("reads the same in the plain part as in the formatted one, without signs", () => {
    const text = writeText({
      type: "doc",
      content: [{ type: "paragraph", content: [{ type: "text", text: "5 * 3 [net], snake_case" }] }],
    });
    expect(formatEmail(text, null)).toEqual({ text: "5 * 3 [net], snake_case", html: null });
  });
});
