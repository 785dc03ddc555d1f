/**
 * Strangers' text costs no more than its length: every function that reads it ends soon on 100 kB of whatever makes
 * patterns look back. A quadratic one would take minutes, so the limit is generous.
 */
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readAddress } from "./prospects/address.ts";
import { cleanPerson, type PersonFields } from "./prospects/cleaning/person.ts";
import { guessContent } from "./prospects/column-content.ts";
import { matchColumns } from "./prospects/columns.ts";
import { readTable } from "./prospects/table.ts";
import { readVcards } from "./prospects/vcard.ts";
import { readDeliveryStatus } from "./replies/delivery-report.ts";
import { sortIncoming } from "./replies/incoming.ts";
import { bareSubject } from "./replies/match.ts";
import { unpackModel } from "./replies/model-file.ts";
import { stopWords } from "./replies/opt-out.ts";
import { partQuoted, withoutSignature } from "./replies/quoted.ts";
import { returnDay } from "./replies/return-date.ts";
import { sortReply } from "./replies/sort.ts";
import { faultOf, judge } from "./sending/refusal.ts";
import { formatEmail } from "./writing/format.ts";
import { renderMarkup, renderMerge } from "./writing/merge.ts";

const LETTER = { at: Date.UTC(2026, 5, 9), zone: "Europe/Lisbon", country: "" };
const MODEL = unpackModel(JSON.parse(readFileSync("core/replies/model.json", "utf8")));

const OURS = {
  subject: "Crates",
  text: "Would a quarter of an hour be of use?",
  fromName: "Tessa Brand",
  fromAddress: "tessa@lom.example",
  recipient: "ana@kai.example",
};

const LENGTH = 100_000;
const ENDS_WITHIN = 6_000;

/** Pieces whose repetition makes patterns try every way to part them. */
const PIECES = [
  " ",
  "\t ",
  "\n",
  " \n",
  "a@",
  "<a@",
  "> ",
  "(",
  "a.",
  "a-",
  '"',
  "a, ",
  "a",
  "A ",
  "1",
  "a@b.c ",
  "a:",
]
  .concat([
    "Re: ",
    "&amp;",
    "http://",
    "é\u0301",
    ";",
    "<",
    "{{",
    "*",
    "_a",
    "[",
    "`",
    "back on ",
    "bin bis ",
    "Montag 12 ",
    "remove Mr ",
    "(550 5.1.1 ",
  ])
  .concat([
    "Final-Recipient: rfc822;",
    "Action: failed\n\n",
    "On a wrote:\n",
    "no longer ",
    "| ",
    "\u200b",
    "=?utf-8?q?",
    "-----",
  ]);
const repeated = (piece: string, length = LENGTH) =>
  piece.repeat(Math.ceil(length / piece.length)).slice(0, length);

const message = (text: string, change: object = {}) =>
  sortIncoming({
    headers: new Map(),
    fromAddress: "a@b.example",
    subject: text,
    text,
    deliveryStatus: null,
    ...change,
  });
const person = (value: string): PersonFields => ({
  firstName: value,
  lastName: value,
  company: value,
  companyDomain: value,
  title: value,
  city: value,
  country: value,
  timeZone: value,
  phone: value,
  profile: value,
  language: "",
});
const READERS: Record<string, (text: string) => unknown> = {
  "a person's fields": (text) => cleanPerson(person(text)),
  "an address cell": readAddress,
  "a table": (text) => readTable(Buffer.from(`Email,Name\n${text}`)),
  "a table's head": (text) => readTable(Buffer.from(text)),
  "column content": (text) => guessContent([text, text], [text, "a@b.example"]),
  "column names": (text) => matchColumns([text], [[text]], new Map(), guessContent),
  "a vCard": (text) => readVcards(Buffer.from(`BEGIN:VCARD\nFN:${text}\nPHOTO:${text}\nEND:VCARD\n`)),
  "a message": message,
  "a report for people": (text) =>
    message(text, {
      fromAddress: "mailer-daemon@b.example",
      headers: new Map([["x-failed-recipients", text]]),
    }),
  "a delivery status": (text) => message(text, { deliveryStatus: text }),
  "delivery fields": (text) => readDeliveryStatus(`Action: failed\nDiagnostic-Code: ${text}`),
  "a complaint": (text) => message(text, { feedback: text }),
  "a subject": bareSubject,
  "a day that a letter names": (text) => returnDay(text, LETTER),
  "what a letter means": (text) => sortReply({ ...LETTER, text, own: ["ana@kai.example"] }, MODEL),
  "a quotation": (text) => withoutSignature(partQuoted(text, [OURS]).written),
  "an email of ours in it": (text) => partQuoted(`Yes.\n${text}`, [{ ...OURS, text }]),
  "an opt-out": stopWords,
  "a refusal": (text) => [
    faultOf({ code: 550, words: text, command: "RCPT", hasSent: true }),
    judge(null, text, "report"),
  ],
  "a merge field's value": (text) => renderMarkup("{{ a }}", { a: text.slice(0, 20_000) }, []),
  "a template": (text) => renderMerge(text.slice(0, 20_000), {}),
  "an email's text": (text) => formatEmail(text.slice(0, 20_000), null),
};

/** Milliseconds of this process's own time, which a busy machine does not stretch. An error is an answer too. */
function took(read: (text: string) => unknown, text: string): number {
  const began = process.cpuUsage();
  try {
    read(text);
  } catch {
    // Told to whoever brought it.
  }
  const { user, system } = process.cpuUsage(began);
  return (user + system) / 1_000;
}

describe.each(Object.keys(READERS))("%s", (name) => {
  const read = READERS[name] as (text: string) => unknown;

  it("is read in a time that grows with its length and no faster, whatever is repeated in it", () => {
    for (const piece of PIECES) {
      const text = repeated(piece);
      for (const shape of [text, `a${text}b`, `<${text}`])
        expect([piece, took(read, shape) < ENDS_WITHIN]).toEqual([piece, true]);
    }
  });

  it("is so for pieces mixed at random too", () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...PIECES), { minLength: 2, maxLength: 4 }), (pieces) => {
        expect(took(read, repeated(pieces.join(""), LENGTH / 2))).toBeLessThan(ENDS_WITHIN);
      }),
      { numRuns: 8 },
    );
  });
});
