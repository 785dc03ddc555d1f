/** What is said in a film, typed as a line with its time each, as captions of WebVTT (W3C) and as words to read. */

export interface Caption {
  /** In ms from the film's beginning. */
  from: number;
  to: number;
  text: string;
}

const SECOND = 1_000;
/** A line stays until the next, and no longer than anybody reads it. */
const LONGEST = 7 * SECOND;
const SHORTEST = SECOND;

const TIME = /^(?:(\d{1,2}):)?(\d{1,3}):(\d{2})(?:[.,](\d{1,3}))?$/;
const CUE = /^(\S+)\s+-->\s+(\S+)/;

/** In ms; null for what is no time. "1:05", "0:07.5", "00:01:05.250". */
function timeIn(text: string): number | null {
  const found = TIME.exec(text);
  if (!found) return null;
  const [, hours = "0", minutes = "0", seconds = "0", part = "0"] = found;
  if (Number(seconds) > 59) return null;
  return (
    ((Number(hours) * 60 + Number(minutes)) * 60 + Number(seconds)) * SECOND + Number(part.padEnd(3, "0"))
  );
}

/**
 * Reads what was typed: "0:04 What the sheet looks like" a line each, or a whole WebVTT file. The message names the first line
 * that cannot be read.
 */
export function readCaptions(typed: string): { captions: Caption[] } | { problem: string } {
  const lines = typed
    .replace(/\r\n?/g, "\n")
    .replace(/^\uFEFF/, "")
    .split("\n");
  if (/^WEBVTT(\s|$)/.test(lines[0] ?? "")) return cuesOf(lines);
  const captions: Caption[] = [];
  for (const [nth, line] of lines.entries()) {
    if (line.trim() === "") continue;
    const [time = "", ...words] = line.trim().split(/\s+/);
    const from = timeIn(time);
    const text = words.join(" ");
    if (from === null || text === "")
      return {
        problem: `Line ${nth + 1} needs its time and its words, as “0:04 What the sheet looks like”.`,
      };
    const before = captions.at(-1);
    if (before && from <= before.from)
      return { problem: `Line ${nth + 1} comes before the one above it. Put the lines in their order.` };
    if (before) before.to = Math.min(before.from + LONGEST, from);
    captions.push({ from, to: from + LONGEST, text });
  }
  return { captions };
}

function cuesOf(lines: readonly string[]): { captions: Caption[] } | { problem: string } {
  const captions: Caption[] = [];
  for (let at = 1; at < lines.length; at++) {
    const cue = CUE.exec(lines[at] ?? "");
    if (!cue) continue;
    const [from, to] = [timeIn(cue[1] ?? ""), timeIn(cue[2] ?? "")];
    if (from === null || to === null || to <= from)
      return { problem: `Line ${at + 1} says no time span that can be read, as “00:04.000 --> 00:07.000”.` };
    const words: string[] = [];
    while (lines[at + 1]?.trim()) words.push((lines[++at] as string).replace(/<[^>]*>/g, ""));
    captions.push({ from, to, text: words.join("\n") });
  }
  return captions.length > 0 ? { captions } : { problem: "No line with a time span was found in it." };
}

const padded = (part: number) => String(part).padStart(2, "0");
const clock = (ms: number): string => {
  const seconds = Math.floor(ms / SECOND);
  const parts = [Math.floor(seconds / 3_600), Math.floor(seconds / 60) % 60, seconds % 60];
  return `${parts.map(padded).join(":")}.${String(ms % SECOND).padStart(3, "0")}`;
};

/** What could be a mark of the format is written as text. */
const plain = (text: string) =>
  text
    .replaceAll("&", "&amp;")
    .replaceAll("<", "&lt;")
    .replaceAll("-->", "→")
    .replace(/\n{2,}/g, "\n");

/** As a WebVTT file. */
export function toWebVtt(captions: readonly Caption[]): string {
  const cues = captions.map(
    ({ from, to, text }) => `${clock(from)} --> ${clock(Math.max(to, from + SHORTEST))}\n${plain(text)}`,
  );
  return `${["WEBVTT", ...cues].join("\n\n")}\n`;
}
