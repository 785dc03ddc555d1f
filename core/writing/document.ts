/**
 * An email's text as an editor holds it, and as it is stored: Markdown with Liquid in it. Both ways are pure, and a text that
 * was stored before opens as what it says. Formatting is kept small on purpose: what a mail program shows everywhere.
 */
import { Marked, type Token, type Tokens } from "marked";

export type Mark = { type: "bold" | "italic" } | { type: "link"; attrs: { href: string } };
export type Inline =
  | { type: "text"; text: string; marks?: Mark[] }
  | { type: "hardBreak" }
  /** A merge field, with what stands in for it where it is empty. */
  | { type: "field"; attrs: { name: string; fallback: string | null }; marks?: Mark[] }
  /** Any other Liquid, such as a condition, as it is written. */
  | { type: "liquid"; attrs: { code: string }; marks?: Mark[] }
  /** A picture that the app keeps, by its number. */
  | { type: "picture"; attrs: { fileId: number; alt: string } };
export type Block =
  | { type: "paragraph"; content?: Inline[] }
  | { type: "heading"; attrs: { level: 3 }; content?: Inline[] }
  | { type: "bulletList" | "orderedList"; content: { type: "listItem"; content: Block[] }[] }
  | { type: "blockquote"; content: Block[] };
export interface TextDocument {
  type: "doc";
  content: Block[];
}

const marked = new Marked({ gfm: true, breaks: true });

/** A stretch of Liquid, and the sign that stands for it while Markdown is read: private-use letters are no Markdown. */
const LIQUID = /\{\{[^{}]*\}\}|\{%[^{}%]*%\}/g;
/** What is no text in which signs could mean something: Liquid, and bare addresses. */
const KEPT = new RegExp(`${LIQUID.source}|https?://[^\\s<>*\\]]+`, "g");
const [OPEN, CLOSE] = ["\uE000", "\uE001"];
const SIGN = /\uE000(\d+)\uE001/g;
const FIELD = /^\{\{-?\s*([a-z][a-z0-9_]*)\s*(?:\|\s*default:\s*(?:"([^"]*)"|'([^']*)')\s*)?-?\}\}$/;

/** As with every reader here: a stranger's or a machine's text with thousands of marks is taken as plain. */
const MOST_MARKS = 1_500;

export function readText(text: string): TextDocument {
  const codes: string[] = [];
  const clean = text.replace(/[\uE000\uE001]/g, "").replace(/\r\n?/g, "\n");
  const signed = clean.replace(LIQUID, (code) => `${OPEN}${codes.push(code) - 1}${CLOSE}`);
  const isHuge = (signed.match(/[*_~`[\]<>]/g)?.length ?? 0) > MOST_MARKS;
  const content = isHuge ? plainBlocks(signed, codes) : blocks(marked.lexer(signed), codes);
  return { type: "doc", content: content.length > 0 ? content : [{ type: "paragraph" }] };
}

function plainBlocks(text: string, codes: string[]): Block[] {
  return text.split(/\n{2,}/).map((part) => paragraph(lines(part, codes, [])));
}

const paragraph = (content: Inline[]): Block =>
  content.length > 0 ? { type: "paragraph", content } : { type: "paragraph" };

function blocks(tokens: Token[], codes: string[]): Block[] {
  return tokens.flatMap((token): Block[] => {
    switch (token.type) {
      case "space":
      case "def":
        return [];
      case "heading":
        return [
          {
            type: "heading",
            attrs: { level: 3 },
            content: inlines((token as Tokens.Heading).tokens, codes, []),
          },
        ];
      case "list": {
        const list = token as Tokens.List;
        return [
          {
            type: list.ordered ? "orderedList" : "bulletList",
            content: list.items.map((item) => {
              const inner = blocks(item.tokens, codes);
              return {
                type: "listItem" as const,
                content: inner.length > 0 ? inner : [{ type: "paragraph" as const }],
              };
            }),
          },
        ];
      }
      case "blockquote": {
        const inner = blocks((token as Tokens.Blockquote).tokens, codes);
        return [{ type: "blockquote", content: inner.length > 0 ? inner : [{ type: "paragraph" }] }];
      }
      case "paragraph":
      case "text": {
        const { tokens: inner, text } = token as Tokens.Paragraph;
        return [paragraph(inner ? inlines(inner, codes, []) : lines(text, codes, []))];
      }
      // Code, tables, rules and HTML are no mail: their text stays.
      default:
        return token.raw.trim() === "" ? [] : [paragraph(lines(token.raw.trim(), codes, []))];
    }
  });
}

function inlines(tokens: Token[], codes: string[], marks: Mark[]): Inline[] {
  return joined(pieces(tokens, codes, marks));
}

/** Neighbouring texts with the same marks are one text, as an editor has them. */
function joined(content: Inline[]): Inline[] {
  const all: Inline[] = [];
  for (const each of content) {
    const last = all.at(-1);
    if (
      last?.type === "text" &&
      each.type === "text" &&
      JSON.stringify(last.marks) === JSON.stringify(each.marks)
    )
      all[all.length - 1] = { ...last, text: last.text + each.text };
    else all.push(each);
  }
  return all;
}

function pieces(tokens: Token[], codes: string[], marks: Mark[]): Inline[] {
  return tokens.flatMap((token): Inline[] => {
    const inner = "tokens" in token && token.tokens ? token.tokens : null;
    switch (token.type) {
      case "strong":
        return pieces(inner ?? [], codes, [...marks, { type: "bold" }]);
      case "em":
        return pieces(inner ?? [], codes, [...marks, { type: "italic" }]);
      case "br":
        return [{ type: "hardBreak" }];
      case "link": {
        const { raw, href, text } = token as Tokens.Link;
        // A bare address is text; mail programs make the link.
        if (raw === text) return lines(text, codes, marks);
        const link: Mark = { type: "link", attrs: { href: restored(href, codes) } };
        return pieces(inner ?? [], codes, [...marks.filter(({ type }) => type !== "link"), link]);
      }
      case "image": {
        const { href, text, raw } = token as Tokens.Image;
        const fileId = Number(/^file:(\d+)$/.exec(href)?.[1]);
        return Number.isSafeInteger(fileId) && fileId > 0
          ? [{ type: "picture", attrs: { fileId, alt: text } }]
          : lines(raw, codes, marks);
      }
      case "escape":
        return lines((token as Tokens.Escape).text, codes, marks);
      case "text":
        return inner ? pieces(inner, codes, marks) : lines((token as Tokens.Text).text, codes, marks);
      default:
        return lines(token.raw, codes, marks);
    }
  });
}

/** Text with its line ends as breaks, and the signs as what they stand for. */
function lines(text: string, codes: string[], marks: Mark[]): Inline[] {
  const marking = marks.length > 0 ? { marks } : {};
  return text.split("\n").flatMap((line, index): Inline[] => {
    const parts: Inline[] = index > 0 ? [{ type: "hardBreak" }] : [];
    let last = 0;
    for (const match of line.matchAll(SIGN)) {
      if (match.index > last) parts.push({ type: "text", text: line.slice(last, match.index), ...marking });
      parts.push({ ...liquidNode(codes[Number(match[1])] ?? ""), ...marking });
      last = match.index + match[0].length;
    }
    if (last < line.length) parts.push({ type: "text", text: line.slice(last), ...marking });
    return parts;
  });
}

function liquidNode(code: string): Extract<Inline, { type: "field" | "liquid" }> {
  const field = FIELD.exec(code);
  return field
    ? { type: "field", attrs: { name: field[1] as string, fallback: field[2] ?? field[3] ?? null } }
    : { type: "liquid", attrs: { code } };
}

const restored = (text: string, codes: string[]): string =>
  decodeSigns(text).replace(SIGN, (_, index) => codes[Number(index)] ?? "");
/** Links are percent-encoded by the lexer, and the signs in them. */
const decodeSigns = (text: string): string => text.replace(/%EE%80%80/g, OPEN).replace(/%EE%80%81/g, CLOSE);

/** How a merge field is written. */
export const fieldCode = ({ name, fallback }: { name: string; fallback: string | null }): string =>
  fallback === null ? `{{ ${name} }}` : `{{ ${name} | default: "${fallback.replaceAll('"', "'")}" }}`;

/** What a text says, for a glance: without the signs of Markdown, merge fields by their names. */
export function asWords(text: string): string {
  const saying = (inline: Inline): string => {
    switch (inline.type) {
      case "text":
        return inline.text;
      case "hardBreak":
        return "\n";
      case "field":
        return `‹${inline.attrs.name.replaceAll("_", " ")}›`;
      case "liquid":
        return "";
      case "picture":
        return inline.attrs.alt;
    }
  };
  const reading = (content: readonly Block[]): string =>
    content
      .map((block) => {
        if (block.type === "paragraph" || block.type === "heading")
          return (block.content ?? []).map(saying).join("");
        if (block.type === "blockquote") return reading(block.content);
        return block.content
          .map((item, nth) => `${block.type === "bulletList" ? "–" : `${nth + 1}.`} ${reading(item.content)}`)
          .join("\n");
      })
      .join("\n\n");
  return reading(readText(text).content);
}

/** The text of a document, as it is stored. */
export function writeText({ content }: TextDocument): string {
  return writeBlocks(content).trim();
}

function writeBlocks(content: readonly Block[]): string {
  return content.map(writeBlock).join("\n\n");
}

function writeBlock(block: Block): string {
  switch (block.type) {
    case "paragraph":
      return writeLine(block.content ?? []);
    case "heading":
      return `### ${writeLine(block.content ?? []).replaceAll("\n", " ")}`;
    case "blockquote":
      return prefixed(writeBlocks(block.content), "> ", "> ");
    default:
      return block.content
        .map((item, index) => {
          const sign = block.type === "bulletList" ? "- " : `${index + 1}. `;
          return prefixed(writeBlocks(item.content), sign, " ".repeat(sign.length));
        })
        .join("\n");
  }
}

/**
 * Some places take no sign of Markdown, such as the end of "(bold)" right before a letter (CommonMark 0.31 6.2). There the
 * words matter more than the weight: what would be read as other words is written without it.
 */
function writeLine(content: readonly Inline[]): string {
  const text = writeInlines(content);
  const says = (inline: readonly Inline[]) =>
    inline.map((each) => ("text" in each ? each.text : each.type)).join("");
  const [read] = readText(text).content;
  const isSame =
    content.length === 0 || (read && "content" in read && says(read.content as Inline[]) === says(content));
  return isSame || !content.some((each) => "marks" in each)
    ? text
    : writeInlines(
        content.map((each) =>
          "marks" in each && each.marks
            ? { ...each, marks: each.marks.filter(({ type }) => type === "link") }
            : each,
        ),
      );
}

const prefixed = (text: string, first: string, rest: string): string =>
  text
    .split("\n")
    .map((line, index) => (index === 0 ? first + line : line === "" ? rest.trimEnd() : rest + line))
    .join("\n");

const SIGNS: Record<"bold" | "italic", string> = { bold: "**", italic: "*" };

function writeInlines(content: readonly Inline[]): string {
  // Marks that stretch over several pieces are opened once; Markdown takes no blanks at their inner edge.
  let text = "";
  const open: Mark[] = [];
  const close = (to: number) => {
    while (open.length > to) {
      const mark = open.pop() as Mark;
      const [, kept = "", blank = ""] = /^([\s\S]*?)(\s*)$/.exec(text) ?? [];
      text = kept + (mark.type === "link" ? `](${mark.attrs.href})` : SIGNS[mark.type]) + blank;
    }
  };
  for (const inline of content) {
    const marks = "marks" in inline && inline.marks ? sorted(inline.marks) : [];
    let same = 0;
    while (same < open.length && JSON.stringify(open[same]) === JSON.stringify(marks[same])) same++;
    close(same);
    let piece = writeInline(inline, text === "" || text.endsWith("\n"));
    if (marks.length > same) {
      const [blank] = /^\s*/.exec(piece) ?? [""];
      text += blank;
      piece = piece.slice(blank.length);
      if (piece === "") continue;
      for (const mark of marks.slice(same)) {
        text += mark.type === "link" ? "[" : SIGNS[mark.type];
        open.push(mark);
      }
    }
    text += piece;
  }
  close(0);
  return text;
}

/** Links outside, so that a link within bold is one link. */
const sorted = (marks: readonly Mark[]): Mark[] => {
  const order = ["link", "bold", "italic"];
  return marks.toSorted((a, b) => order.indexOf(a.type) - order.indexOf(b.type));
};

function writeInline(inline: Inline, beginsLine: boolean): string {
  switch (inline.type) {
    case "text":
      return escaped(inline.text, beginsLine);
    case "hardBreak":
      return "\n";
    case "field":
      return fieldCode(inline.attrs);
    case "liquid":
      return inline.attrs.code;
    case "picture":
      return `![${inline.attrs.alt.replace(/[[\]\n]/g, " ")}](file:${inline.attrs.fileId})`;
  }
}

/** Text in which nothing is a sign of Markdown. */
function escaped(text: string, beginsLine: boolean): string {
  const parts: string[] = [];
  let last = 0;
  const plain = (part: string) => part.replace(/[\\*_`[\]~<]/g, "\\$&");
  for (const match of text.matchAll(KEPT)) {
    parts.push(plain(text.slice(last, match.index)), match[0]);
    last = match.index + match[0].length;
  }
  parts.push(plain(text.slice(last)));
  const whole = parts.join("");
  // Signs that only mean something at the beginning of a line.
  return beginsLine
    ? whole.replace(/^(\s*)([#>+=-])/, "$1\\$2").replace(/^(\s*\d{1,9})([.)])/, "$1\\$2")
    : whole;
}
