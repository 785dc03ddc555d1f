/**
 * Reads letters and lists that were written before the code that reads them was looked at (scripts/strangers), through the
 * app's own doors: `npm run measure:strangers` writes the figures into docs/sorting.md and docs/reading.md. With "show" it
 * prints what was read wrongly: a set is then used up, and the next one has to be written first.
 */
import { readFileSync, writeFileSync } from "node:fs";
import { cleanPerson, type PersonFields } from "../core/prospects/cleaning/person.ts";
import { readEmployees } from "../core/prospects/employees.ts";
import { judgeFit, profileSchema } from "../core/prospects/profile.ts";
import { LABELS } from "../core/replies/labels.ts";
import { readLetter } from "../core/replies/letter.ts";
import { unpackModel } from "../core/replies/model-file.ts";
import type { OurEmail } from "../core/replies/our-words.ts";
import { returnDay } from "../core/replies/return-date.ts";
import { sortReply } from "../core/replies/sort.ts";
import { parseMessage } from "../server/mail/parse.ts";

const root = new URL("../", import.meta.url);
const read = (path: string) => readFileSync(new URL(path, root), "utf8");
const linesOf = (name: string) =>
  read(`scripts/strangers/${name}`)
    .split("\n")
    .filter((line) => line !== "" && !line.startsWith("#"));
const isShowing = process.argv.includes("show");
const show = (...words: unknown[]) => isShowing && console.log(...words);
const model = unpackModel(JSON.parse(read("core/replies/model.json")));

const US = { fromName: "Tessa Brandvold", fromAddress: "tessa@lomenta.example" };
const THEM = "ada.penhallow@penhallow.example";

interface Letter {
  subject: string;
  text: string;
  headers: string[];
  ours: OurEmail[];
}

function source({ subject, text, headers }: Letter): Buffer {
  const head = [
    `From: Ada Penhallow <${THEM}>`,
    `To: ${US.fromAddress}`,
    `Subject: =?utf-8?B?${Buffer.from(subject).toString("base64")}?=`,
    "Message-ID: <x@y.example>",
    ...headers,
    "MIME-Version: 1.0",
    "Content-Type: text/plain; charset=utf-8",
    "Content-Transfer-Encoding: base64",
  ];
  return Buffer.from(`${head.join("\r\n")}\r\n\r\n${Buffer.from(text).toString("base64")}\r\n`);
}

/** What becomes of a letter: its label or the kind of machine's letter that it is, and whether an opt-out acts by itself. */
async function sorted(letter: Letter) {
  const at = Date.parse("2026-10-12T10:00:00Z");
  const message = await parseMessage(source(letter), at);
  const { text, mixed, kind } = readLetter(message.body, message.facts, letter.ours);
  if (kind.kind !== "person") {
    const label = { automatic: "away", left: "wrong_person" }[kind.kind as string] ?? kind.kind;
    return { text, label, sure: true, confidence: 0.99, acts: false };
  }
  const ourSubjects = letter.ours.map(({ subject }) => subject);
  const own = [THEM, US.fromAddress];
  const place = { zone: "Europe/London", country: "GB" };
  const reading = sortReply({ text, subject: letter.subject, ourSubjects, mixed, at, own, ...place }, model);
  const { label, sure, confidence, by } = reading;
  return { text, label, sure, confidence, acts: sure && label === "opt_out" && by === "plain words" };
}

const share = (some: number, all: number) => (all === 0 ? "–" : `${((100 * some) / all).toFixed(1)} %`);

async function letters(): Promise<string> {
  const confusion = new Map<string, Map<string, number>>();
  const bins = Array.from({ length: 5 }, () => ({ count: 0, said: 0, right: 0 }));
  const counts = { all: 0, right: 0, sure: 0, sureRight: 0, missed: 0, falsely: 0, acted: 0 };
  for (const block of read("scripts/strangers/letters.txt").split(/^=== /m).slice(1)) {
    const [head = "", ...body] = block.split("\n");
    const [labels = "", subject = "", headers = ""] = head.split(" | ");
    const wanted = labels.trim().split(",");
    const [first = ""] = wanted;
    const text = body.join("\n").trim();
    const { label, sure, confidence, acts } = await sorted({
      subject,
      text,
      headers: headers.split("; ").filter(Boolean),
      ours: [],
    });
    const isRight =
      wanted.includes(label) || (first === "hold" && !sure) || (first === "other" && label === "notice");
    if (!isRight) show(first, "read as", label, confidence.toFixed(2), text.slice(0, 140));
    counts.all++;
    counts.right += Number(isRight);
    counts.sure += Number(sure);
    counts.sureRight += Number(sure && isRight);
    counts.missed += Number(first === "opt_out" && label !== "opt_out");
    counts.falsely += Number(label === "opt_out" && !wanted.includes("opt_out"));
    counts.acted += Number(acts && !wanted.includes("opt_out"));
    const row = confusion.get(first) ?? new Map<string, number>();
    confusion.set(first, row.set(label, (row.get(label) ?? 0) + 1));
    const bin = bins[Math.min(4, Math.floor(confidence * 5))] as (typeof bins)[number];
    bin.count++;
    bin.said += confidence;
    bin.right += Number(isRight);
  }
  const columns = [...LABELS, "notice"];
  const table = [...confusion].map(
    ([is, row]) => `| ${is} | ${columns.map((as) => row.get(as) ?? 0).join(" | ")} |`,
  );
  const reliability = bins
    .filter(({ count }) => count > 0)
    .map(({ count, said, right }) => `| ${count} | ${share(said, count)} | ${share(right, count)} |`);
  return `**${counts.all} letters of strangers** (\`scripts/strangers/letters.txt\`): ${share(counts.right, counts.all)} right; of the ${counts.sure} called sure ${share(counts.sureRight, counts.sure)}. Opt-outs missed: ${counts.missed}; called falsely: ${counts.falsely}; acted on falsely: ${counts.acted}.

| is \\ read as | ${columns.join(" | ")} |
|---|${columns.map(() => "--:|").join("")}
${table.join("\n")}

| letters | said | right |
|--:|--:|--:|
${reliability.join("\n")}`;
}

/** Each way of quoting, with each of our emails, under each answer. */
async function quotes(): Promise<string> {
  const ours: string[] = JSON.parse(read("scripts/strangers/our-emails.json"));
  const answers = linesOf("answers.txt").map((line) => line.split("|") as [string, string]);
  let all = 0;
  let right = 0;
  let clean = 0;
  const blocks = read("scripts/strangers/quotes.txt").split(/^%% /m).slice(1);
  for (const block of blocks) {
    const template = block.slice(block.indexOf("\n") + 1);
    for (const text of ours)
      for (const [label, answer] of answers) {
        const email = { ...US, subject: "Crates", text, recipient: THEM };
        const found = await sorted({
          subject: "Re: Crates",
          text: quoting(template, text).replaceAll("{A}", () => answer),
          headers: [],
          ours: [email],
        });
        all++;
        right += Number(found.label === label);
        clean += Number(found.text.trim() === answer);
        if (found.text.trim() !== answer) show("not cut off", block.split("\n")[0], found.text.slice(0, 120));
      }
  }
  return `**${blocks.length} ways of quoting**, each with ${ours.length} of our emails (one asks to answer “stop”) and ${answers.length} answers: ${share(clean, all)} are cut off to the letter, ${share(right, all)} read rightly.`;
}

/** Puts our email into a template in the way that its mark says. */
function quoting(template: string, text: string): string {
  const lines = text.split("\n");
  const half = Math.ceil(lines.length / 2);
  const marked = (mark: string, of = lines) => of.map((line) => mark + line).join("\n");
  const narrow = text
    .replace(/\n(?!\n)/g, " ")
    .split("\n")
    .map((line) => line.replace(/(.{20,34})\s/g, "$1\n"))
    .join("\n");
  const ways: Record<string, string> = {
    "{O>}": marked("> "),
    "{O>>}": marked(">> "),
    "{O|}": marked("| "),
    "{O:}": marked(": "),
    "{OTB}": marked("TB> "),
    "{O    }": marked("    "),
    "{O~}": text.replaceAll('"', "”").replaceAll("'", "’").replaceAll(" ", "  "),
    "{OFIRST>}": marked("> ", lines.slice(0, half)),
    "{OREST>}": marked("> ", lines.slice(half)),
    "{O1}": text.replace(/\n+/g, " "),
    "{Onarrow}": narrow,
    "{O}": text,
  };
  return Object.entries(ways).reduce((whole, [mark, way]) => whole.replaceAll(mark, () => way), template);
}

interface Report {
  name: string;
  kind: string;
  recipient: string | null;
  raw: string;
}

async function reports(): Promise<string> {
  const list: Report[] = JSON.parse(read("scripts/strangers/reports.json"));
  let right = 0;
  for (const { name, kind: wanted, raw } of list) {
    const { kind, returnedId } = await parseMessage(Buffer.from(raw.replace(/\n/g, "\r\n")), Date.now());
    const usual: Record<string, string> = { automatic: "away", left: "away", person: "human", delay: "soft" };
    const found =
      kind.kind === "bounce" ? (kind.failures[0].hard ? "hard" : "soft") : (usual[kind.kind] ?? kind.kind);
    const isRight =
      wanted === "not_ours" ? returnedId !== "<lom-20261012.1@lomenta.example>" : found === wanted;
    right += Number(isRight);
    if (!isRight) show(name, wanted, "read as", found);
  }
  return `**${list.length} reports and letters that look like some**: ${share(right, list.length)} of the right kind.`;
}

function away(file: string): [number, number] {
  const lines = linesOf(file);
  let right = 0;
  for (const line of lines) {
    const [day = "", country = "", wanted = "", text = ""] = line.split(" | ");
    const found = returnDay(text, { at: Date.parse(`${day}T10:00:00Z`), zone: "Europe/London", country });
    const back = found === null ? "null" : found.is === "last_away" ? workingDayAfter(found.day) : found.day;
    // Nothing goes on a weekend: a return on one is a return on the Monday.
    const isRight = wanted.split(",").some((each) => each === back || workingDay(each) === workingDay(back));
    right += Number(isRight);
    if (!isRight) show(text, "read as", back, "and not", wanted);
  }
  return [right, lines.length];
}

function workingDay(day: string): string {
  if (day === "null") return day;
  const date = new Date(`${day}T00:00Z`);
  while ([0, 6].includes(date.getUTCDay())) date.setUTCDate(date.getUTCDate() + 1);
  return date.toISOString().slice(0, 10);
}
function workingDayAfter(day: string): string {
  const date = new Date(`${day}T00:00Z`);
  date.setUTCDate(date.getUTCDate() + 1);
  return workingDay(date.toISOString().slice(0, 10));
}

const NOBODY: PersonFields = {
  firstName: "",
  lastName: "",
  company: "",
  companyDomain: "",
  title: "",
  city: "",
  country: "",
  timeZone: "",
  phone: "",
  profile: "",
  language: "",
};

/** Lines "first | last => first | last", with @ an address and ! a country; "?" may be read in several ways. */
function names(file: string): [number, number] {
  const lines = linesOf(file);
  let right = 0;
  for (const line of lines) {
    const [raw = "", marked = ""] = line.split(" => ");
    const [firstName = "", lastName = ""] = raw.split("|");
    const email = marked.match(/@(\S+@\S+)/)?.[1] ?? "";
    const country = marked.match(/!(\w\w)/)?.[1] ?? "";
    const wanted = marked.replace(/ \?| @\S+| !\w\w/g, "").trim();
    const { fields } = cleanPerson({ ...NOBODY, firstName, lastName, country }, undefined, email);
    const found = `${fields.firstName}|${fields.lastName}`;
    const isRight = found === wanted || / \?/.test(marked);
    right += Number(isRight);
    if (!isRight) show(raw, "read as", found);
  }
  return [right, lines.length];
}

function companies(file: string): [number, number] {
  const lines = linesOf(file);
  const wrong = lines.filter((line) => {
    const [raw = "", wanted = ""] = line.split(/ => ?/);
    const { company } = cleanPerson({ ...NOBODY, company: raw }).fields;
    if (company !== wanted.trim()) show(raw, "read as", company);
    return company !== wanted.trim();
  });
  return [lines.length - wrong.length, lines.length];
}

/** Lines "titles;without;seniority;country;from-to;industry || title;country;employees;industry || yes". */
function fitting(file: string): [number, number] {
  const lines = linesOf(file);
  const wrong = lines.filter((line) => {
    const [asked = "", given = "", answer = ""] = line.split(" || ");
    const [title, without, seniority, country, employees = "", industry] = asked.split(";");
    const listed = (value: string | undefined) => (value?.trim() ? [value.trim()] : []);
    const [from, to] = employees === "" ? [null, null] : employees.split("-").map(Number);
    const profile = profileSchema.parse({
      titles: listed(title),
      titlesWithout: listed(without),
      seniorities: listed(seniority === "c-level" ? "executive" : seniority),
      countries: listed(country),
      industries: listed(industry),
      employeesFrom: from,
      employeesTo: to,
    });
    const [own = "", place = "", size = "", trade = ""] = given.split(";");
    const { fields } = cleanPerson({ ...NOBODY, title: own, country: place });
    const { fits } = judgeFit(profile, {
      email: "",
      firstName: "",
      profile: "",
      title: fields.title,
      industry: trade,
      employees: readEmployees(size),
      country: fields.country,
      region: "",
      city: "",
      keywords: "",
    });
    if (fits !== answer.startsWith("yes")) show(line);
    return fits !== answer.startsWith("yes");
  });
  return [lines.length - wrong.length, lines.length];
}

function put(path: string, figures: string): void {
  const page = read(path).replace(
    /<!-- strangers -->[\s\S]*<!-- end of strangers -->/,
    () => `<!-- strangers -->\n${figures}\n<!-- end of strangers -->`,
  );
  writeFileSync(new URL(path, root), page);
}

const row = (what: string, ...sets: [number, number][]) =>
  `| ${what} | ${sets.map(([right, all]) => `${right} of ${all} | ${share(right, all)}`).join(" | ")} |`;

put("docs/sorting.md", [await letters(), await quotes(), await reports()].join("\n\n"));
put(
  "docs/reading.md",
  `| What | first set | right | later set | right |
|---|--:|--:|--:|--:|
${row("Names", names("names.txt"), names("names-later.txt"))}
${row("Companies", companies("companies.txt"), companies("companies-later.txt"))}
${row("Fit", fitting("fit.txt"), fitting("fit-later.txt"))}
${row("Days of return", away("away.txt"), away("away-later.txt"))}`,
);
