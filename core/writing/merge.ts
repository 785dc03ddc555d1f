/**
 * Merge fields: Liquid templates with limits. A field that is empty and has no fallback is an
 * answer, not an error: the journey waits until somebody fills it in.
 */
import { ForTag, Liquid, type LiquidOptions, type Template } from "liquidjs";

const OPTIONS: LiquidOptions = {
  strictVariables: true,
  strictFilters: true,
  // `{{ x | default: "y" }}` and `{% if x %}` may ask for a field that is empty.
  lenientIf: true,
  ownPropertyOnly: true,
  templates: {},
  // An email is at most 20,000 characters; these stop a loop that a typo made endless.
  parseLimit: 50_000,
  // By the clock, so generous: a busy machine is no fault of the text. What a text may cost is counted in turns below.
  renderLimit: 10_000,
  memoryLimit: 1_000_000,
};
/** Turns of all loops of one text; a letter has some dozen. */
const MOST_TURNS = 5_000;
let turns = 0;

class CountedFor extends ForTag {
  override *render(...args: Parameters<ForTag["render"]>): ReturnType<ForTag["render"]> {
    const loop = super.render(...args);
    let step = loop.next();
    while (!step.done) {
      if (++turns > MOST_TURNS) throw new Error("work limit exceeded");
      step = loop.next((yield step.value) as never);
    }
    return step.value;
  }
}

const liquid = new Liquid(OPTIONS);
/** A text as Markdown that says just this. */
export const asText = (text: string): string =>
  text.replace(/^[ \t]+/gm, "").replace(/[!-/:-@[-`{-~]/g, "\\$&");
/** Links of ours, which stay links where values are protected; set for each rendering. */
let ownLinks: ReadonlySet<string> = new Set();
/** Markdown takes any punctuation behind a backslash for itself (CommonMark 0.31 2.4); a line's indent would make code of it. */
const protect = (value: unknown): string => {
  const text = String(value ?? "");
  return ownLinks.has(text) || encoded.has(text) ? text : asText(text);
};
const protecting = new Liquid({ ...OPTIONS, outputEscape: protect });
// No tag may read files or other templates.
const ALLOWED_TAGS = ["if", "unless", "case", "comment", "assign", "for", "break", "raw"];
for (const engine of [liquid, protecting]) engine.registerTag("for", CountedFor);
for (const { tags } of [liquid, protecting])
  for (const name of Object.keys(tags)) if (!ALLOWED_TAGS.includes(name)) delete tags[name];

export type MergeValues = Readonly<Record<string, string>>;

export type Rendered =
  | { ok: true; text: string }
  | { ok: false; emptyField: string }
  | { ok: false; emptyField: null; error: string };

const filled = new WeakMap<MergeValues, Record<string, string>>();

/** The values of one prospect fill in several texts. */
function withoutBlanks(values: MergeValues): Record<string, string> {
  let known = filled.get(values);
  if (!known) {
    known = Object.fromEntries(Object.entries(values).filter(([, value]) => value.trim() !== ""));
    filled.set(values, known);
  }
  return known;
}

/** A piece of an address that is typed out with fields in it (RFC 3986 2.1): a link with "Kai & Sons" behind "?company=" is one. */
const ADDRESS = /https?:\/\/(?:[^\s<>"'()[\]{}]|\{\{[^{}]*\}\})+/gi;
const FIELD = /\{\{([^{}]*)\}\}/g;
/** These are addresses of their own. */
const WHOLE = /^\s*(booking_link|opt_out_link|page_link)\b/;

const withEncodedFields = (template: string): string =>
  template.replace(ADDRESS, (address) =>
    address.replace(FIELD, (field, inner: string) =>
      WHOLE.test(inner) || inner.includes("address_part") ? field : `{{${inner.trimEnd()} | address_part }}`,
    ),
  );

/** Every sign but letters and digits as its bytes: neither an address nor Markdown can take one for its own. */
function addressPart(value: unknown): string {
  const part = encodeURIComponent(String(value ?? "")).replace(
    /[^A-Za-z0-9%]/g,
    (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`,
  );
  encoded.add(part);
  return part;
}
/** What was encoded in this rendering, and so needs no protection. */
const encoded = new Set<string>();
for (const engine of [liquid, protecting]) engine.registerFilter("address_part", addressPart);

const parsed = new Map<Liquid, Map<string, Template[]>>([
  [liquid, new Map()],
  [protecting, new Map()],
]);
const MOST_PARSED = 500;

function parse(template: string, engine = liquid): Template[] {
  const kept = parsed.get(engine) as Map<string, Template[]>;
  const known = kept.get(template);
  if (known) return known;
  const fresh = engine.parse(withEncodedFields(template));
  if (kept.size >= MOST_PARSED) kept.clear();
  kept.set(template, fresh);
  return fresh;
}

/** The same text without the protection of its signs, as it is read. */
export const unprotected = (markup: string): string => markup.replace(/\\([!-/:-@[-`{-~])/g, "$1");

/** The template with one prospect's values, or the first field that is empty and has no fallback. */
export function renderMerge(template: string, values: MergeValues): Rendered {
  return render(liquid, template, values);
}

/** The same as Markdown in which the values are text, whatever they look like; `links` are ours and stay links. */
export function renderMarkup(template: string, values: MergeValues, links: readonly string[]): Rendered {
  ownLinks = new Set(links);
  return render(protecting, template, values);
}

function render(engine: Liquid, template: string, values: MergeValues): Rendered {
  turns = 0;
  encoded.clear();
  try {
    return { ok: true, text: String(engine.renderSync(parse(template, engine), withoutBlanks(values))) };
  } catch (error) {
    const cause = rootOf(error);
    const emptyField = cause.message.match(/^undefined variable: ([\w.]+)/)?.[1];
    if (emptyField) return { ok: false, emptyField };
    return { ok: false, emptyField: null, error: plainWords(cause) };
  }
}

/** The fields that a template uses, in order of first use. Throws nothing: a broken template has none. */
export function fieldsIn(template: string): string[] {
  try {
    return liquid.globalVariablesSync(parse(template));
  } catch {
    return [];
  }
}

/** The fields that a template cannot do without: where one of these is empty, it cannot be filled in. */
export function requiredFields(template: string): string[] {
  const fields = fieldsIn(template);
  const full = Object.fromEntries(fields.map((field) => [field, "x"]));
  return fields.filter((field) => !renderMerge(template, { ...full, [field]: "" }).ok);
}

/**
 * What is wrong with a template's merge fields, in words for the rep: mistakes of syntax, and
 * fields that the list does not have, with the field that was probably meant.
 */
export function mergeProblems(template: string, knownFields: readonly string[]): string[] {
  try {
    parse(template);
  } catch (error) {
    return [plainWords(rootOf(error))];
  }
  return fieldsIn(template)
    .filter((field) => !knownFields.includes(field))
    .map((field) => {
      const meant = closestField(field, knownFields);
      return meant
        ? `There is no field “${field}”. Did you mean “${meant}”?`
        : `There is no field “${field}” in this list.`;
    });
}

/** Liquid wraps the error that happened in others that say where. */
function rootOf(error: unknown): Error {
  const original = (error as { originalError?: unknown } | null)?.originalError;
  if (original) return rootOf(original);
  return error instanceof Error ? error : new Error(String(error));
}

function plainWords({ message }: Error): string {
  const where = message.match(/line:(\d+)/)?.[1];
  const line = where ? ` (line ${where})` : "";
  if (/not closed/.test(message)) return `A merge field is opened with {{ or {% and never closed${line}.`;
  if (/undefined filter: (\S+?),/.test(message) || /undefined filter/.test(message))
    return `There is no filter “${message.match(/undefined filter: ([^,\s]+)/)?.[1] ?? "?"}”${line}. For a fallback write {{ first_name | default: "there" }}.`;
  if (/tag "([^"]+)" not found/.test(message))
    return `“${message.match(/tag "([^"]+)"/)?.[1]}” cannot be used in an email${line}.`;
  if (/limit/.test(message)) return `The text takes too much work to fill in${line}. Make it simpler.`;
  return `This merge field cannot be read${line}: ${message.split(", file:")[0]?.split(", line:")[0]}`;
}

/** The known field within two edits (Levenshtein 1966), or null. */
export function closestField(field: string, known: readonly string[]): string | null {
  let best: string | null = null;
  let least = 3;
  for (const candidate of known) {
    const distance = editDistance(field.toLowerCase(), candidate);
    if (distance < least) {
      least = distance;
      best = candidate;
    }
  }
  return best;
}

function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, index) => index);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      const change = (row[j - 1] as number) + (a[i - 1] === b[j - 1] ? 0 : 1);
      next.push(Math.min((row[j] as number) + 1, (next[j - 1] as number) + 1, change));
    }
    row = next;
  }
  return row[b.length] as number;
}
