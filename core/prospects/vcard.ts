/** vCard files (RFC 6350, and the older 3.0 of RFC 2426) as a table, and people as vCards. */
import ICAL from "ical.js";
import { decodeText } from "./decode.ts";
import type { Encoding } from "./encodings.ts";
import type { ReadTable } from "./table.ts";

const HEADERS = [
  "first name",
  "last name",
  "email",
  "company",
  "job title",
  "city",
  "country",
  "phone",
  "website",
  "profile",
];

/** What a row is made of; pictures, sounds and keys, which can be megabytes on one line, are not read at all. */
const READ = new Set(
  "BEGIN END VERSION N FN EMAIL ORG TITLE ADR TEL URL X-SOCIALPROFILE SOCIALPROFILE".split(" "),
);
const LONGEST_VALUE = 2_000;

/** Null if it is no vCard file at all. Linear in the file: cards and folded lines are found line by line. */
export function readVcards(bytes: Uint8Array, encoding: Encoding | null = null): ReadTable | null {
  // Its first line is ASCII in whatever letters; other files are not decoded for nothing.
  const beginning = Buffer.from(bytes.subarray(0, 400)).toString("latin1").replaceAll("\0", "");
  if (!/BEGIN:VCARD/i.test(beginning)) return null;
  const decoded = decodeText(bytes, encoding);
  if (!decoded.ok) return null;
  const letters = { encoding: decoded.encoding, isGuess: decoded.isGuess };
  const text = decoded.text.replace(/^\ufeff/, "").trimStart();
  if (!/^BEGIN:VCARD/i.test(text)) return null;
  const rows: string[][] = [];
  const lines: number[] = [];
  let card: string[] = [];
  let begins = 0;
  const damaged: { line: number; problem: string }[] = [];
  const setAside = (line: number) =>
    damaged.push({ line, problem: "the card that begins on this line cannot be read; export it again" });
  for (const [index, line] of text.split(/\r?\n/).entries()) {
    if (/^BEGIN:VCARD\s*$/i.test(line)) {
      if (card.length > 0) setAside(begins);
      card = [];
      begins = index + 1;
    }
    if (line.trim() !== "" || card.length > 0) card.push(line);
    if (!/^END:VCARD\s*$/i.test(line)) continue;
    // One by one, so that a broken card does not take the others with it.
    try {
      rows.push(rowOf(readLines(card).join("\r\n")));
      lines.push(begins);
    } catch {
      setAside(begins);
    }
    card = [];
  }
  if (card.some((line) => line.trim() !== "")) setAside(begins);
  if (rows.length === 0)
    return {
      ok: false,
      problem: `No card of the file can be read; the first begins on line ${damaged[0]?.line ?? 1}. Export it again.`,
    };
  return { ok: true, table: { headers: HEADERS, rows, lines, damaged, notes: [], letters } };
}

/** A card's lines, unfolded (RFC 6350 3.2), as far as they are read. */
function readLines(card: readonly string[]): string[] {
  const unfolded: string[] = [];
  let isRead = true;
  for (const line of card) {
    if (/^[ \t]/.test(line)) {
      const last = unfolded.length - 1;
      if (isRead && last >= 0 && (unfolded[last] as string).length < LONGEST_VALUE)
        unfolded[last] += line.slice(1);
      continue;
    }
    const name = (line.slice(0, 200).split(/[:;]/)[0] ?? "").split(".").at(-1)?.trim().toUpperCase() ?? "";
    isRead = READ.has(name);
    if (isRead && line.trim() !== "") unfolded.push(line);
  }
  return unfolded.map((line) => line.slice(0, LONGEST_VALUE));
}

function rowOf(card: string): string[] {
  const vcard = new ICAL.Component(ICAL.parse(card) as unknown[]);
  const values = (name: string): string[] => {
    const value: unknown = vcard.getFirstPropertyValue(name);
    return (Array.isArray(value) ? value : [value]).map((part) =>
      Array.isArray(part) ? part.join(" ") : part == null ? "" : String(part),
    );
  };
  const text = (name: string) => (values(name)[0] ?? "").trim();
  const [last = "", first = ""] = values("n");
  const address = values("adr");
  const hasName = first !== "" || last !== "";
  return [
    hasName ? first : text("fn"),
    last,
    text("email").replace(/^mailto:/i, ""),
    text("org"),
    text("title"),
    address[3] ?? "",
    address[6] ?? "",
    text("tel").replace(/^tel:/i, ""),
    text("url"),
    text("x-socialprofile") || text("socialprofile"),
  ];
}

export interface CardPerson {
  email: string;
  firstName: string;
  lastName: string;
  company: string;
  title: string;
  city: string;
  country: string;
  phone: string;
  profile: string;
}

/** People as vCard 4.0. */
export function writeVcards(people: readonly CardPerson[]): string {
  return people
    .map((person) => {
      const vcard = new ICAL.Component("vcard");
      const add = (name: string, value: string | string[]) => {
        const property = new ICAL.Property(name, vcard);
        property.setValue(value);
        vcard.addProperty(property);
      };
      add("version", "4.0");
      add("fn", `${person.firstName} ${person.lastName}`.trim() || person.email);
      add("n", [person.lastName, person.firstName, "", "", ""]);
      if (person.email) add("email", person.email);
      if (person.company) add("org", [person.company]);
      if (person.title) add("title", person.title);
      if (person.phone) add("tel", person.phone);
      if (person.city || person.country) add("adr", ["", "", "", person.city, "", "", person.country]);
      if (person.profile) add("url", person.profile);
      return vcard.toString();
    })
    .join("\r\n");
}
