/**
 * What can be said about an email before it goes: matters of judgement, each with its reason. A check that has nothing to
 * judge says so; only what was looked at is called fine.
 */
import { readText, type TextDocument } from "./document.ts";

export const CHECKS = [
  "message",
  "length",
  "ease",
  "questions",
  "links",
  "pictures",
  "shouting",
  "phrases",
  "subject",
  "personal",
] as const;
export type CheckName = (typeof CHECKS)[number];

export interface TextCheck {
  name: CheckName;
  standing: "fine" | "remark" | "unknown";
  words: string;
  why: string;
}

/** Silent reading of prose: about 238 words a minute (Brysbaert 2019). */
const WORDS_A_SECOND = 238 / 60;
/** Longer ones are skimmed on a telephone. */
const MOST_WORDS = 150;
/** A greeting and a signature are no message. */
const LEAST_WORDS = 12;
/** Fewer words say nothing about how hard a text is to read. */
const LEAST_FOR_EASE = 30;
/** Flesch reading ease (Flesch 1948); plain English begins at 60. */
const PLAIN_ENGLISH = 60;
/** Telephones cut a subject here. */
const MOST_SUBJECT = 60;

/** Phrases that filters weigh, and readers too. */
const PHRASES = [
  "act now",
  "limited time",
  "no obligation",
  "risk-free",
  "risk free",
  "100% free",
  "free trial",
  "click here",
  "guaranteed",
  "satisfaction guaranteed",
  "don't miss",
  "once in a lifetime",
  "special offer",
  "best price",
  "lowest price",
  "cash bonus",
  "winner",
  "urgent",
  "dear friend",
  "this is not spam",
  "increase sales",
  "double your",
  "earn extra",
];

/** English without these is another language. */
const COMMON = new Set(
  "the a an and or of to in on at for with is are was you your we our i it this that have has do does not be by as if".split(
    " ",
  ),
);

export interface TextToCheck {
  subject: string;
  /** It goes in the thread of the email before. */
  sameThread: boolean;
  body: string;
  /** Files that go as links below it. */
  linkedFiles?: number;
  /** The text as one prospect gets it, without signature and opt-out line, and what of it are their own values. */
  sample: { text: string; values: readonly string[] } | null;
}

export function checkText({ subject, sameThread, body, linkedFiles = 0, sample }: TextToCheck): TextCheck[] {
  const { text, links: written, pictures, fields } = lookThrough(readText(body));
  const links = written + linkedFiles;
  const words = text.split(/\s+/).filter((word) => /[\p{L}\p{N}]/u.test(word));
  const judged = words.length > 0;
  const unknown = (name: CheckName, said: string, why: string): TextCheck => ({
    name,
    standing: "unknown",
    words: said,
    why,
  });
  const check = (name: CheckName, isFine: boolean, said: string, why: string): TextCheck => ({
    name,
    standing: isFine ? "fine" : "remark",
    words: said,
    why,
  });
  if (!judged) return [unknown("message", "Nothing is written yet", "There is nothing to judge.")];
  const checks: TextCheck[] = [
    words.length < LEAST_WORDS
      ? check(
          "message",
          false,
          "A greeting, but hardly a message",
          "Who reads it learns neither who writes nor why.",
        )
      : check(
          "length",
          words.length <= MOST_WORDS,
          `${count(words.length, "word")}, about ${Math.round(words.length / WORDS_A_SECOND)} seconds to read`,
          `Beyond ${MOST_WORDS} words a first email is skimmed.`,
        ),
    easeOf(text, words),
  ];
  const questions = (text.match(/\?/g) ?? []).length;
  checks.push(
    check(
      "questions",
      questions > 0 && questions <= 3,
      questions === 0 ? "Asks nothing" : `${count(questions, "question")}`,
      "One clear question is answered; none leaves nothing to answer, many are put off.",
    ),
    check(
      "links",
      links <= 2,
      links === 0 ? "No link" : count(links, "link"),
      "With more than two links filters weigh a letter like an advertisement.",
    ),
  );
  if (pictures > 0)
    checks.push(
      check(
        "pictures",
        words.length >= 30 * pictures,
        `${count(pictures, "picture")} to ${count(words.length, "word")}`,
        "Pictures with little text beside them are what filters know from advertisements; many programs do not show them at first.",
      ),
    );
  const capitals = words.filter((word) => /^\p{Lu}{4,}[!.,]*$/u.test(word)).length;
  const exclamations = (text.match(/!/g) ?? []).length;
  if (capitals > 0 || exclamations > 1)
    checks.push(
      check(
        "shouting",
        false,
        [
          capitals > 0 && `${count(capitals, "word")} in capitals`,
          exclamations > 1 && count(exclamations, "exclamation mark"),
        ]
          .filter(Boolean)
          .join(", "),
        "It reads as shouting, and filters count it.",
      ),
    );
  const low = `${subject} ${text}`.toLowerCase();
  const found = PHRASES.filter((phrase) =>
    new RegExp(`(^|[^a-z])${phrase.replace(/[%']/g, "\\$&")}([^a-z]|$)`).test(low),
  );
  checks.push(
    check(
      "phrases",
      found.length === 0,
      found.length === 0
        ? "None of the phrases that filters weigh"
        : found.map((each) => `“${each}”`).join(", "),
      "Filters weigh these phrases, and so do people.",
    ),
  );
  if (sameThread)
    checks.push(unknown("subject", "Goes in the thread of the email before", "It takes that one's subject."));
  else if (subject.trim() !== "")
    checks.push(
      check(
        "subject",
        subject.length <= MOST_SUBJECT && !/^(re|fwd?):/i.test(subject.trim()),
        /^(re|fwd?):/i.test(subject.trim())
          ? "The subject pretends to be an answer"
          : `Subject of ${count(subject.trim().length, "character")}`,
        `Telephones cut it after about ${MOST_SUBJECT}; one that pretends to be an answer costs trust.`,
      ),
    );
  checks.push(personalOf(fields, sample));
  return checks;
}

function personalOf(fields: number, sample: TextToCheck["sample"]): TextCheck {
  const why = "What is about them is read; what could go to anybody is not.";
  if (fields === 0)
    return { name: "personal", standing: "remark", words: "Nothing in it is about them", why };
  if (!sample || sample.text === "")
    return {
      name: "personal",
      standing: "unknown",
      words: "Choose a list to see how much is about them",
      why,
    };
  const own = sample.values.filter((value) => value.length > 1 && sample.text.includes(value));
  const share =
    own.reduce((sum, value) => sum + value.length * (sample.text.split(value).length - 1), 0) /
    sample.text.length;
  return {
    name: "personal",
    standing: own.length > 0 ? "fine" : "remark",
    words: `${Math.max(share > 0 ? 1 : 0, Math.round(share * 100))} % of the text is about them`,
    why,
  };
}

/** Flesch reading ease: 206.835 − 1.015 words a sentence − 84.6 syllables a word. For English only. */
function easeOf(text: string, words: readonly string[]): TextCheck {
  const why =
    "Short sentences and common words are read to the end (Flesch reading ease; 60 and more is plain English).";
  const unknown = (said: string): TextCheck => ({ name: "ease", standing: "unknown", words: said, why });
  if (words.length < LEAST_FOR_EASE) return unknown("Too short to tell how easy it reads");
  const common = words.filter((word) => COMMON.has(word.toLowerCase().replace(/[^a-z]/g, ""))).length;
  if (common / words.length < 0.2) return unknown("How easy it reads can only be told of English");
  const sentences = Math.max(
    1,
    text.split(/[.!?]+(?:\s|$)|\n{2,}/).filter((each) => /\p{L}/u.test(each)).length,
  );
  const syllables = words.reduce((sum, word) => sum + syllablesIn(word), 0);
  const ease = Math.round(206.835 - 1.015 * (words.length / sentences) - 84.6 * (syllables / words.length));
  const bounded = Math.max(0, Math.min(100, ease));
  return {
    name: "ease",
    standing: bounded >= PLAIN_ENGLISH ? "fine" : "remark",
    words:
      bounded >= PLAIN_ENGLISH
        ? `Reads easily (${bounded} of 100)`
        : `Takes effort to read (${bounded} of 100)`,
    why,
  };
}

/** Groups of vowels, a silent e left out. */
function syllablesIn(word: string): number {
  const letters = word.toLowerCase().replace(/[^a-z]/g, "");
  const groups = letters.replace(/e$/, "").match(/[aeiouy]+/g)?.length ?? 0;
  return Math.max(1, groups);
}

function lookThrough(document: TextDocument): {
  text: string;
  links: number;
  pictures: number;
  fields: number;
} {
  const found = { text: "", links: 0, pictures: 0, fields: 0 };
  const hrefs = new Set<string>();
  const walk = (node: unknown): void => {
    const { type, text, attrs, marks, content } = node as Record<string, unknown> & { content?: unknown[] };
    if (type === "text") found.text += String(text);
    if (type === "hardBreak") found.text += "\n";
    if (type === "field") {
      const { name } = attrs as { name: string };
      if (/link$/.test(name)) hrefs.add(name);
      else found.fields++;
      found.text += /link$/.test(name) ? "" : "word";
    }
    if (type === "liquid" && /\{\{/.test(String((attrs as { code: string }).code))) found.fields++;
    if (type === "picture") found.pictures++;
    for (const mark of (marks as { type: string; attrs?: { href: string } }[] | undefined) ?? [])
      if (mark.type === "link") hrefs.add(mark.attrs?.href ?? "");
    for (const each of content ?? []) walk(each);
    if (type === "paragraph" || type === "heading") found.text += "\n\n";
  };
  walk(document);
  for (const bare of found.text.match(/https?:\/\/\S+/g) ?? []) hrefs.add(bare);
  found.links = hrefs.size;
  return found;
}

const count = (number: number, noun: string): string => `${number} ${noun}${number === 1 ? "" : "s"}`;
