/**
 * Email addresses as people type and export them. What is accepted is the mailbox of RFC 5321
 * without quoted local parts and address literals, which no company uses for a person.
 */
import { fold } from "../fold.ts";
import { latinAddress, repairText } from "./cleaning/text.ts";
import { isFreeMail } from "./free-mail.ts";
import { isRole } from "./roles.ts";

const LONGEST_ADDRESS = 254; // RFC 5321 4.5.3.1.3, less the angle brackets
const LONGEST_LOCAL = 64; // RFC 5321 4.5.3.1.1

const LOCAL = /^[\p{L}\p{N}!#$%&'*+/=?^_`{|}~-]+(\.[\p{L}\p{N}!#$%&'*+/=?^_`{|}~-]+)*$/u;
const DOMAIN = /^([\p{L}\p{N}]([\p{L}\p{N}-]{0,61}[\p{L}\p{N}])?\.)+[\p{L}][\p{L}\p{N}-]{0,61}[\p{L}\p{N}]$/u;

export type CheckedAddress = { ok: true; address: string } | { ok: false; reason: string };

const refuse = (reason: string): CheckedAddress => ({ ok: false, reason });

/** The address in lower case, taken out of "Name <a@b>" or "mailto:", or the reason why there is none. */
export function checkAddress(typed: string): CheckedAddress {
  const bare = (typed.match(/<([^<>]*)>/)?.[1] ?? typed).trim().replace(/^mailto:/i, "");
  const address = bare.toLowerCase();
  if (address === "") return refuse("no address");
  if (/[,;]/.test(address)) return refuse(`“${bare}” holds more than one address`);
  if (/\s/.test(address)) return refuse(`“${bare}” has a space in it`);
  const at = address.lastIndexOf("@");
  if (at < 0) return refuse(`“${bare}” has no @`);
  const [local, domain] = [address.slice(0, at), address.slice(at + 1)];
  if (local.includes("@")) return refuse(`“${bare}” has two @`);
  if (address.length > LONGEST_ADDRESS || local.length > LONGEST_LOCAL)
    return refuse("the address is too long");
  if (!LOCAL.test(local)) return refuse(`the part before the @ of “${bare}” is broken`);
  if (!DOMAIN.test(domain)) return refuse(`the domain of “${bare}” is broken`);
  return { ok: true, address };
}

export function domainOf(address: string): string {
  return address.slice(address.lastIndexOf("@") + 1);
}

export type ReadAddress =
  | {
      ok: true;
      address: string;
      /** What was done to the cell, if more than spaces; null for a plain one. */
      note: string | null;
      /** The other addresses of the cell, in its order. */
      others: string[];
    }
  | { ok: false; isEmpty: boolean; reason: string };

/** Whose address is looked for, as far as the row says; "" is unknown. */
export interface Whose {
  firstName: string;
  lastName: string;
  domain: string;
}
const NOBODY: Whose = { firstName: "", lastName: "", domain: "" };

/** Some addresses with names; what is longer went astray. */
const LONGEST_CELL = 1_000;

/** Blanks as exports write them. */
const BLANK =
  /^(n\s*[/.\\]?\s*a\.?|#n\/a|none|null|nil|unknown|unbekannt|undefined|nan|tbd|tba|no email|no e-mail|not available|not provided|kein(e|e angabe)?|k\.?\s?a\.?|sin correo|aucun|blank|leer|empty|missing|x+|-+|–|—|\?+|\.+|_+|\(blank\)|\(none\)|\[none\]|[\s"'“”]*)$/i;

/** An address from a cell: of several the likeliest, with the others beside it and a note of what was done and why. */
export function readAddress(cell: string, whose: Whose = NOBODY): ReadAddress {
  const typed = cell.trim();
  const plain = plainAddress(typed);
  if (plain) return { ok: true, address: plain, note: null, others: [] };
  if (typed.length > LONGEST_CELL)
    return { ok: false, isEmpty: false, reason: "the cell is too long to hold addresses" };
  const text = unwrapped(typed);
  const latin = latinAddress(text);
  if (latin !== text) {
    const read = readAddress(latin, whose);
    if (!read.ok) return read;
    const said = `“${typed}” holds letters of another alphabet that look Latin; it was read as ${read.address}`;
    return { ...read, note: read.others.length > 0 ? read.note : said };
  }
  if (BLANK.test(text)) return { ok: false, isEmpty: true, reason: "no address" };
  const found = addressesIn(text);
  if (found.length > 0) return choose(found, text, typed, whose);
  const mended = addressesIn(written(text));
  if (mended.length > 0) {
    const read = choose(mended, written(text), typed, whose);
    return read.ok ? { ...read, note: read.note ?? `“${typed}” was read as ${read.address}` } : read;
  }
  const checked = checkAddress(text);
  return { ok: false, isEmpty: false, reason: checked.ok ? "no address" : checked.reason };
}

/** Most cells hold an address and nothing else. */
function plainAddress(typed: string): string | null {
  if (!/^[a-z0-9._+-]+@[a-z0-9.-]+$/i.test(typed) || typed.length > LONGEST_ADDRESS) return null;
  const checked = checkAddress(typed);
  return checked.ok ? checked.address : null;
}

/** Without what programs add: signs of no width, full-width letters, entities, percent signs, "mailto:" and its questions. */
function unwrapped(typed: string): string {
  const text = repairText(typed)
    .replace(/\p{Default_Ignorable_Code_Point}/gu, "")
    .replace(/[﹫]/g, "@")
    .replace(/[。｡．]/g, ".")
    .replace(/\s+/gu, " ");
  return text
    .replace(/mailto:\s*/gi, " ")
    .replace(/\?(?:subject|body|cc|bcc|utm_\w+)=[^\s>)]*/gi, " ")
    .trim();
}

const WORDS_FOR_AT = "at|ät|bei|arroba|chiocciola|kukac|małpa|æt|snabel-?a|apenstaartje";
const WORDS_FOR_DOT = "dot|punkt|punto|ponto|point|punt|piste|kropka";
/** "anna (at) kai (dot) example", "anna at kai dot example", "anna @ kai . example", "anna@kai,example" as an address is written. */
function written(text: string): string {
  return text
    .replace(new RegExp(`\\s*[[({<]\\s*(?:${WORDS_FOR_AT}|@)\\s*[\\])}>]\\s*`, "gi"), "@")
    .replace(new RegExp(`\\s*[[({<]\\s*(?:${WORDS_FOR_DOT}|\\.)\\s*[\\])}>]\\s*`, "gi"), ".")
    .replace(new RegExp(`(?<=[\\p{L}\\p{N}]) (?:${WORDS_FOR_AT}) (?=[\\p{L}\\p{N}])`, "giu"), "@")
    .replace(new RegExp(`(?<=[\\p{L}\\p{N}]) (?:${WORDS_FOR_DOT}) (?=[\\p{L}\\p{N}])`, "giu"), ".")
    .replace(new RegExp(`[-_](?:${WORDS_FOR_AT})[-_]`, "gi"), "@")
    .replace(/ ?@+ ?/g, "@")
    .replace(/(?<=[\p{L}\p{N}]) ?\.+ ?(?=[\p{L}\p{N}])/gu, ".")
    .replace(/(?<=@\.?)\.+|\.+(?=@)/g, "")
    .replace(/(?<=@[\p{L}\p{N}.-]{1,60}),(?=[a-z]{2,12}(?:$|[\s;>)]))/giu, ".");
}

interface Found {
  address: string;
  /** Where it begins in the text, and the words right before and behind it. */
  at: number;
  beside: string;
}

/** Every address in a text, once each. Marks and full stops around one are none of it. */
function addressesIn(text: string): Found[] {
  const found: Found[] = [];
  for (const match of text.matchAll(/[^\s,;|<>()[\]{}"“”„«»@:]+@[^\s,;|<>()[\]{}"“”„«»@:/\\]+/gu)) {
    const checked = checkAddress(match[0].replace(/^[.'‘’`´*=/\\_-]+|[.'‘’`´*!?_-]+$/gu, ""));
    if (!checked.ok || found.some(({ address }) => address === checked.address)) continue;
    const begins = match.index;
    const ends = begins + match[0].length;
    found.push({
      address: checked.address,
      at: begins,
      beside: `${text
        .slice(Math.max(0, begins - 16), begins)
        .split(/[,;|/]/)
        .at(-1)} ${text.slice(ends, ends + 16).split(/[,;|/]|\S+@/)[0]}`,
    });
  }
  return found;
}

/** Words beside an address that speak against it. */
const NOT_THIS =
  /\b(old|former|alt|ehem|früher|ancien|antiguo|bounced?|invalid|wrong|inactive|left|personal|private?|privat|perso|home|casa|backup|secondary|assistant|cc|invoice|rechnung)\b/i;
const THIS =
  /\b(work|primary|main|business|office|direct|new|neu|current|dienstlich|geschäftlich|pro|prof|trabajo|preferred)\b/i;

/** The likeliest of several, and why: their own name, the company's domain, no function, no private one, else the first. */
function choose(found: Found[], text: string, typed: string, whose: Whose): ReadAddress {
  const names = [whose.firstName, whose.lastName].map((name) => fold(name).replace(/[^a-z]/g, ""));
  const worth = ({ address, beside }: Found) => {
    const local = address.slice(0, address.lastIndexOf("@")).replace(/[^a-z]/g, "");
    const domain = domainOf(address);
    const hasName = names.some((name) => name.length > 2 && local.includes(name));
    const reasons: [boolean, number, string][] = [
      [NOT_THIS.test(beside), -8, ""],
      [hasName, 4, "it has their name"],
      [whose.domain !== "" && domain === whose.domain, 3, "it is of their company"],
      [THIS.test(beside), 3, "it is marked as the one to use"],
      [isRole(address), -4, ""],
      [isFreeMail(domain), -3, ""],
    ];
    const [, , why = ""] = reasons.find(([holds, value]) => holds && value > 0) ?? [];
    return { sum: reasons.reduce((sum, [holds, value]) => sum + (holds ? value : 0), 0), why };
  };
  const [first] = found;
  const judged = found.map((each) => ({ ...each, ...worth(each) }));
  const best = judged.reduce((a, b) => (b.sum > a.sum ? b : a));
  const others = judged.filter((each) => each !== best);
  if (others.length > 0) {
    const worse = others[0];
    const why =
      best.why ||
      (worse && worse.sum < 0
        ? `${worse.address} is one of a function, a private or an old one`
        : "it stands first");
    const kept = others.map(({ address }) => address);
    return {
      ok: true,
      address: best.address,
      note: `“${typed}” holds ${found.length} addresses; ${best.address} was taken since ${why}. Kept beside it: ${kept.join(", ")}`,
      others: kept,
    };
  }
  const isPlain =
    checkAddress(typed).ok ||
    text.replace(/[\s.,;:'"“”„«»<>()[\]{}]/g, "").toLowerCase() === first?.address.replace(/\./g, "");
  const isNamed = /<[^<>]*>\s*[,;]?$/.test(text);
  return {
    ok: true,
    address: best.address,
    note: isPlain || isNamed ? null : `“${typed}” was read as ${best.address}`,
    others: [],
  };
}
