/**
 * The text of an uploaded file. Exports come as UTF-8, UTF-16 (some spreadsheets) or in an older set of letters; the byte
 * order mark, or else the bytes themselves, tell which. Of the older ones statistics can only guess, so that the guess is shown.
 */
import chardet from "chardet";
import iconv from "iconv-lite";
import { type Encoding, isEncoding } from "./encodings.ts";

export type Decoded =
  | { ok: true; text: string; encoding: Encoding; isGuess: boolean }
  | { ok: false; problem: "spreadsheet" | "binary" };

/** How many bytes are looked at to tell UTF-16 without a mark from other files. */
const SAMPLE = 4096;
/** And how many to tell the older sets of letters apart. */
const LETTERS = 256 * 1024;

/** `chosen`: what a person said that it is. */
export function decodeText(bytes: Uint8Array, chosen: Encoding | null = null): Decoded {
  // Office files are ZIP archives ("PK") or the older compound files.
  if (startsWith(bytes, [0x50, 0x4b, 0x03, 0x04]) || startsWith(bytes, [0xd0, 0xcf, 0x11, 0xe0]))
    return { ok: false, problem: "spreadsheet" };
  const told = encodingOf(bytes);
  const encoding = chosen ?? told?.encoding;
  if (!encoding) return { ok: false, problem: "binary" };
  const text =
    encoding.startsWith("utf-") && chosen === null
      ? new TextDecoder(encoding).decode(bytes)
      : // Node's own decoder takes windows-1252 for Latin-1 and loses its quotation marks and the euro sign.
        iconv.decode(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), encoding);
  return { ok: true, encoding, text, isGuess: chosen === null && told?.isGuess === true };
}

function encodingOf(bytes: Uint8Array): { encoding: Encoding; isGuess: boolean } | null {
  const sure = (encoding: Encoding | null) => (encoding === null ? null : { encoding, isGuess: false });
  if (startsWith(bytes, [0xff, 0xfe])) return sure("utf-16le");
  if (startsWith(bytes, [0xfe, 0xff])) return sure("utf-16be");
  const sample = bytes.subarray(0, SAMPLE);
  if (sample.includes(0)) return sure(utf16ByZeros(sample));
  return isUtf8(bytes) ? sure("utf-8") : { encoding: byStatistics(bytes), isGuess: true };
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
  if (odd > most && even < odd / 10) return "utf-16le" as const;
  if (even > most && odd < even / 10) return "utf-16be" as const;
  return null;
}

function isUtf8(bytes: Uint8Array): boolean {
  try {
    new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}

/** What the detector calls them, and the Windows set that has the same letters and more. */
const CALLED: Record<string, Encoding> = {
  "iso-8859-1": "windows-1252",
  "iso-8859-2": "windows-1250",
  "iso-8859-5": "windows-1251",
  "iso-8859-6": "windows-1256",
  "iso-8859-7": "windows-1253",
  "iso-8859-8": "windows-1255",
  "iso-8859-9": "windows-1254",
  gb18030: "gb18030",
  "euc-tw": "big5",
};

/**
 * By the lines that have other letters than English: the detector's guesses, the surest first, that spell no line with signs
 * that stand in no name.
 */
function byStatistics(bytes: Uint8Array): Encoding {
  const told = foreignBytes(bytes);
  const guesses = chardet
    .analyse(told)
    .map(({ name }) => CALLED[name.toLowerCase()] ?? name.toLowerCase())
    .filter(isEncoding)
    .filter((name) => !name.startsWith("utf-"));
  const candidates = [...new Set<Encoding>([...guesses, ...(Object.keys(USUAL) as Encoding[])])];
  const sample = Buffer.from(told);
  const scored = candidates.map((encoding, rank) => ({
    encoding,
    // The detector decides between what reads alike.
    score: oddity(iconv.decode(sample, encoding), encoding) + Math.min(rank, 10) * 0.004,
  }));
  return scored.sort((a, b) => a.score - b.score)[0]?.encoding ?? "windows-1252";
}

/** The letters, beyond those of English, that names of people and places are usually written with in each set. */
const USUAL: Partial<Record<Encoding, RegExp>> = {
  "windows-1252": /[äöüßÄÖÜéèêëàâçñÑáíóúïîôåøæÅØÆÉÈÀÇÁÍÓÚœãÃ’‘“”–—€]|õ(?=e)/u,
  "windows-1250": /[áéíóúýěščřžůďťňÁÉÍÓÚÝĚŠČŘŽŮĎŤŇłŁśŚćĆżŻźŹąĄęĘńŃőŐűŰöüÖÜäÄăĂâÂîÎşŞţŢđĐ’„”–]/u,
  "windows-1251": /[А-Яа-яЁёІіЇїЄєҐґ«»–№]/u,
  "koi8-r": /[А-Яа-яЁё]/u,
  "windows-1253": /[Α-Ωα-ωάέήίόύώΆΈΉΊΌΎΏϊϋΐΰς]/u,
  "windows-1254": /[şŞğĞıİçÇöÖüÜâÂîÎ]/u,
  "windows-1255": /[א-ת״׳־]/u,
  "windows-1256": /[\u0621-\u064a]/u,
  "windows-1257": /[ąĄčČęĘėĖįĮšŠųŲūŪžŽāĀēĒģĢīĪķĶļĻņŅ]/u,
  shift_jis: /[ぁ-んァ-ヶー々一-龠]/u,
  "euc-jp": /[ぁ-んァ-ヶー々一-龠]/u,
  "euc-kr": /[가-힣]/u,
  gb18030: /[一-龠]/u,
  big5: /[一-龠]/u,
};
/** Characters of which some stand in nearly every list of the language, where sets of thousands read each other's bytes. */
const COMMON: Partial<Record<Encoding, RegExp>> = {
  shift_jis:
    /[ぁ-んァ-ヶ田中山本佐藤木村林井上松川口高橋小大野石鈴渡辺加吉清水東京阪横浜名古屋株式会社部長課購買営業子太郎美一]/gu,
  "euc-jp":
    /[ぁ-んァ-ヶ田中山本佐藤木村林井上松川口高橋小大野石鈴渡辺加吉清水東京阪横浜名古屋株式会社部長課購買営業子太郎美一]/gu,
  "euc-kr":
    /[김이박최정강조윤장임한오서신권황안송류홍전고문양손배백허남심노하곽성차주우구민진지나엄원천방공현함변염여추도소석선설마길연표명기반왕금옥육인맹제모서울부산대구인천광주팀장부장과장사원주식회사시영철수희민지은준현]/gu,
  gb18030:
    /[王李张刘陈杨黄赵吴周徐孙马朱胡郭何高林罗北京上海广州深圳市经理总监公司有限采购销售场华明小建国文伟芳丽部长]/gu,
  big5: /[王李張劉陳楊黃趙吳周徐孫馬朱胡郭何高林羅臺台北中雄經理總監公司有限採購銷售市場華明小建國文偉芳麗部長]/gu,
};

/** The lines with bytes beyond ASCII: what is English says nothing. */
function foreignBytes(bytes: Uint8Array): Uint8Array {
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const parts: Buffer[] = [];
  let length = 0;
  for (let from = 0; from < buffer.length && length < LETTERS; ) {
    const end = buffer.indexOf(0x0a, from);
    const line = buffer.subarray(from, end < 0 ? buffer.length : end + 1);
    if (line.some((byte) => byte > 0x7f)) {
      parts.push(line);
      length += line.length;
    }
    from += line.length;
  }
  return Buffer.concat(parts);
}

/** Of what is not ASCII, the share that no such list has: the less, the likelier the set. */
function oddity(text: string, encoding: Encoding): number {
  const usual = USUAL[encoding];
  const beyond = [...text].filter((sign) => sign > "\x7f");
  if (usual === undefined || beyond.length === 0) return 1;
  let odd = 0;
  for (const match of text.matchAll(/[\u0080-\u{10ffff}]/gu)) {
    // An õ is Portuguese before an e, and Hungarian letters read wrongly elsewhere.
    const sign = match[0] + (match[0] === "õ" ? (text[match.index + 1] ?? "") : "");
    if (!usual.test(sign)) odd++;
  }
  // A capital in the middle of a word is a letter of another set.
  odd += text.match(/\p{Ll}(?=[À-ÖØ-ÞŠŽ])/gu)?.length ?? 0;
  // The reverse case of letters tells KOI8-R from Windows-1251.
  odd += text.match(/(?<!\p{L})[а-яё][А-ЯЁ]/gu)?.length ?? 0;
  const common = COMMON[encoding];
  const strange = common ? 1 - Math.min(1, (2 * (text.match(common)?.length ?? 0)) / beyond.length) : 0;
  return odd / beyond.length + strange * 0.5;
}

function startsWith(bytes: Uint8Array, mark: number[]): boolean {
  return mark.every((byte, index) => bytes[index] === byte);
}
