import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Block, type Inline, type Mark, readText, type TextDocument, writeText } from "./document.ts";
import { formatEmail } from "./format.ts";

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
/** Pieces with the same marks side by side are one piece: so an editor has them. */
const tidy = (content: Inline[]): Inline[] =>
  content.flatMap((each, index) => (index > 0 ? [{ type: "text" as const, text: " and " }, each] : [each]));
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

const plain = (document: unknown): string =>
  JSON.stringify(document, (key, value) =>
    key === "marks" && Array.isArray(value) && value.length === 0 ? undefined : value,
  );

/** Neighbouring texts with the same marks joined. */
function joined(document: TextDocument): TextDocument {
  const join = (content: Inline[]): Inline[] =>
    content.reduce<Inline[]>((all, each) => {
      const last = all.at(-1);
      if (
        last?.type === "text" &&
        each.type === "text" &&
        plain(last.marks ?? []) === plain(each.marks ?? [])
      )
        return [...all.slice(0, -1), { ...last, text: last.text + each.text }];
      return [...all, each];
    }, []);
  const walk = (blocks: Block[]): Block[] =>
    blocks.map((each): Block => {
      if (each.type === "paragraph" || each.type === "heading")
        return each.content ? { ...each, content: join(each.content) } : each;
      if (each.type === "blockquote") return { ...each, content: walk(each.content) };
      return { ...each, content: each.content.map((item) => ({ ...item, content: walk(item.content) })) };
    });
  return { ...document, content: walk(document.content) };
}

describe("a text that was written in the editor", () => {
  it("comes back as it was, whatever signs are in it", () => {
    fc.assert(
      fc.property(anyDocument, (document) => {
        expect(joined(readText(writeText(document)))).toEqual(joined(document));
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
