/** What recipients write back. Each letter is put together from parts of a language, so that hardly two are alike. */
import type { ReplyKind } from "./personas.ts";
import { LANGUAGES, languageOf, type Parts } from "./wording-parts.ts";

export interface Writer {
  /** The whole name of who wrote to them. */
  sender: string;
  name: string;
  zone: string;
  /** Somebody of their house who answers for them, or would be the right one. */
  colleague: { name: string; address: string };
}

type Draw = (what: string) => number;

const partsFor = (zone: string, draw: Draw): Parts =>
  LANGUAGES[languageOf(zone, draw("language"))] ?? (LANGUAGES.en as Parts);

const one = (from: readonly string[], draw: Draw, what: string) =>
  from[Math.floor(draw(what) * from.length)] as string;

function fill(text: string, writer: Writer, more: Record<string, string> = {}): string {
  const words: Record<string, string> = {
    sender: writer.sender.split(" ")[0] ?? "",
    last: writer.sender.split(" ").at(-1) ?? "",
    name: writer.name,
    first: writer.name.split(" ")[0] ?? "",
    lastOwn: writer.name.split(" ").at(-1) ?? "",
    colleague: writer.colleague.name,
    address: writer.colleague.address,
    ...more,
  };
  return text.replace(/\{(\w+)\}/g, (_, key: string) => words[key] ?? "");
}

export function replyText(kind: ReplyKind, writer: Writer, draw: Draw): string {
  const parts = partsFor(writer.zone, draw);
  const [openings, follows] = parts.says[kind];
  const body = `${one(openings, draw, "opening")} ${one(follows, draw, "follow")}`.trim();
  const letter = `${one(parts.greetings, draw, "greeting")}\n\n${body}\n\n${one(parts.closings, draw, "closing")}`;
  return fill(letter.trim(), writer);
}

/** An automatic answer, and the subject that it comes under. */
export function awayLetter(
  back: Date,
  subject: string,
  writer: Writer,
  draw: Draw,
): { subject: string; text: string } {
  const parts = partsFor(writer.zone, draw);
  const until = back.toLocaleDateString(parts.months, { day: "numeric", month: "long", timeZone: "UTC" });
  return {
    subject: fill(one(parts.subject, draw, "away-subject"), writer, { subject, until }),
    text: fill(one(parts.away, draw, "away-form"), writer, { until }),
  };
}
