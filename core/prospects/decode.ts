/**
 * The text of an uploaded file. Exports come as UTF-8, UTF-16 (some spreadsheets) or the Windows
 * form of Latin-1; the byte order mark, or else the bytes themselves, tell which.
 */
import iconv from "iconv-lite";

export type Decoded =
  | { ok: true; text: string; encoding: "utf-8" | "utf-16le" | "utf-16be" | "windows-1252" }
  | { ok: false; problem: "spreadsheet" | "binary" };

/** How many bytes are looked at to tell UTF-16 without a mark from other files. */
const SAMPLE = 4096;

export function decodeText(bytes: Uint8Array): Decoded {
  // Office files are ZIP archives ("PK") or the older compound files.
  if (startsWith(bytes, [0x50, 0x4b, 0x03, 0x04]) || startsWith(bytes, [0xd0, 0xcf, 0x11, 0xe0]))
    return { ok: false, problem: "spreadsheet" };
  const encoding = encodingOf(bytes);
  if (!encoding) return { ok: false, problem: "binary" };
  // Node's own decoder takes windows-1252 for Latin-1 and loses its quotation marks and the euro sign.
  const text =
    encoding === "windows-1252"
      ? iconv.decode(Buffer.from(bytes), encoding)
      : new TextDecoder(encoding).decode(bytes);
  return { ok: true, encoding, text };
}

function encodingOf(bytes: Uint8Array) {
  if (startsWith(bytes, [0xff, 0xfe])) return "utf-16le";
  if (startsWith(bytes, [0xfe, 0xff])) return "utf-16be";
  const sample = bytes.subarray(0, SAMPLE);
  return sample.includes(0) ? utf16ByZeros(sample) : utf8Or1252(bytes);
}

/** Latin letters in UTF-16 have a zero in every other byte; which one tells the order. */
function utf16ByZeros(sample: Uint8Array) {
  let even = 0;
  let odd = 0;
  sample.forEach((byte, index) => {
    if (byte !== 0) return;
    if (index % 2 === 0) even++;
    else odd++;
  });
  const most = sample.length * 0.3;
  if (odd > most && even < odd / 10) return "utf-16le";
  if (even > most && odd < even / 10) return "utf-16be";
  return null;
}

function utf8Or1252(bytes: Uint8Array) {
  try {
    new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return "utf-8";
  } catch {
    return "windows-1252";
  }
}

function startsWith(bytes: Uint8Array, mark: number[]): boolean {
  return mark.every((byte, index) => bytes[index] === byte);
}
