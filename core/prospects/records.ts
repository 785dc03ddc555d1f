/** The records of a CSV text with a quotation mark astray: each line that can be read, and those that cannot. */

export interface Records {
  /** One or more lines of the text, with the number of the first, counted from 1. */
  records: { line: number; text: string }[];
  damaged: { line: number; problem: string }[];
}

/** A cell of more lines than this is no cell, but a quotation mark that was never closed. */
const MOST_LINES = 60;

/**
 * Parts a text into records (RFC 4180). A quoted cell may span lines if it is closed within a few, and
 * quotation marks inside it are doubled; otherwise the line that opened it stands alone and is damaged.
 * Linear in the text: no line is looked at more than MOST_LINES times.
 */
export function recordsOf(text: string, delimiter: string): Records {
  const lines = text.split(/\r\n|\n|\r/);
  const records: Records["records"] = [];
  const damaged: Records["damaged"] = [];
  for (let at = 0; at < lines.length; ) {
    const first = lines[at] as string;
    let { isOpen, hasLoose } = scan(first, delimiter, false);
    let end = at;
    while (isOpen && !hasLoose && end + 1 < lines.length && end - at < MOST_LINES) {
      end++;
      ({ isOpen, hasLoose } = scan(lines[end] as string, delimiter, true));
    }
    if (isOpen && at === 0) {
      // Without column names the rest is worth nothing: they are taken as they stand.
      records.push({ line: 1, text: first.replaceAll('"', "") });
      at++;
    } else if (isOpen || (hasLoose && end > at)) {
      damaged.push({
        line: at + 1,
        problem:
          "a quotation mark is opened on this line and never closed; the mark is missing, or does not belong there",
      });
      at++;
    } else {
      records.push({ line: at + 1, text: lines.slice(at, end + 1).join("\n") });
      at = end + 1;
    }
  }
  return { records, damaged };
}

/** Whether a cell is still open at the line's end, and whether a mark inside a cell that began above is not doubled. */
function scan(line: string, delimiter: string, wasOpen: boolean): { isOpen: boolean; hasLoose: boolean } {
  let isOpen = wasOpen;
  let isFirstCell = true;
  let isStart = true;
  let hasLoose = false;
  for (let at = 0; at < line.length; at++) {
    const sign = line[at] as string;
    if (!isOpen) {
      if (sign === '"' && isStart) isOpen = true;
      isStart = sign === delimiter || (isStart && sign === " ");
      if (sign === delimiter) isFirstCell = false;
    } else if (sign === '"') {
      if (line[at + 1] === '"') at++;
      else {
        const behind = line.slice(at + 1, at + 1 + 40);
        // In a cell that began above, a mark and a space are more likely another cell's beginning.
        const rest = wasOpen && isFirstCell ? behind : behind.trimStart();
        // Only a mark before a delimiter or the line's end closes a cell; "Kai "Nord" GmbH" is one cell.
        if (rest === "" || rest.startsWith(delimiter)) isOpen = false;
        else if (wasOpen && isFirstCell) hasLoose = true;
        isStart = false;
      }
    }
  }
  return { isOpen, hasLoose };
}
