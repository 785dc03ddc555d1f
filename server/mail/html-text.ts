/** The words of an HTML message of any size, in one pass: no tree is built, so neither length nor depth costs more than its reading. */
import { Parser } from "htmlparser2";

/** Written to the parser at a time, between which it is looked whether there is enough. */
const PIECE = 65_536;
/** A letter has some dozen levels; the parser's own work grows with the square of them. */
const DEEPEST = 2_000;
/** Marks of a quotation in a quotation that are still of use. */
const MOST_MARKS = 5;

const UNSEEN = new Set(["head", "script", "style", "template", "title"]);
const BLOCKS = new Set(
  "address article blockquote br dd div dl dt footer h1 h2 h3 h4 h5 h6 header hr li ol p pre section table tr ul".split(
    " ",
  ),
);

/** Lines of text, quotations marked with ">" as in plain messages (RFC 3676 4.5); at most `most` characters. */
export function textOfHtml(html: string, most: number): string {
  const lines: string[] = [];
  let line = "";
  let length = 0;
  let unseen = 0;
  let quotes = 0;
  let depth = 0;
  const endLine = () => {
    const words = line.replace(/\s+/g, " ").trim();
    if (words !== "") {
      lines.push(">".repeat(quotes) + (quotes > 0 ? " " : "") + words);
      length += words.length + 1;
    }
    line = "";
  };
  const parser = new Parser({
    onopentag(name) {
      depth++;
      if (BLOCKS.has(name)) endLine();
      if (UNSEEN.has(name)) unseen++;
      if (name === "blockquote" && quotes < MOST_MARKS) quotes++;
    },
    ontext(text) {
      if (unseen === 0) line += text;
    },
    onclosetag(name) {
      depth--;
      if (BLOCKS.has(name)) endLine();
      if (UNSEEN.has(name)) unseen--;
      if (name === "blockquote" && quotes > 0) quotes--;
      if (name === "td" || name === "th") line += " ";
    },
  });
  for (let at = 0; at < html.length && length + line.length < most && depth < DEEPEST; at += PIECE)
    parser.write(html.slice(at, at + PIECE));
  endLine();
  return lines.join("\n").slice(0, most);
}
