/** Learns a model from letters whose label is known, and says how well it does on letters that it has not seen. */
import { seeded } from "../random.ts";
import { featuresOf, vectorOf } from "./features.ts";
import { type Model, scores, softmax } from "./model.ts";

export interface Example {
  text: string;
  label: string;
  /** Greetings and endings of its language, which say nothing: letters are learned with and without them. */
  openings?: readonly string[];
  endings?: readonly string[];
  language?: string;
  /** How much it counts; 1 for the letters that ship. */
  weight?: number;
}

interface Row {
  /** Where the weights of its features stand. */
  places: Int32Array;
  values: Float32Array;
  label: number;
  weight: number;
}

const EPOCHS = 5;
const RATE = 0.5;
/** Keeps weights small that few letters speak for. */
const DECAY = 2e-4;
/** The share of a letter's features that is hidden at each look (Hinton et al. 2012): no one word may decide all. */
const HIDDEN = 0.3;
/** What of the loudest weight counts as silence. */
const SILENT = 0.05;
/** Added to every count, so that what was seen once is not taken for a law. */
const SMOOTHING = 0.5;
/** The longest step that one letter of a rare label may make, in letters of a usual one. */
const MOST_WEIGHT = 3;
/** How many wordings of a letter with {this|that} in it are learned: at least so many, and each choice once. */
const WORDINGS = 6;
/** What a label means where two stand in one letter: the first of these wins. */
const WINS: readonly (readonly [string, string])[] = [
  ["opt_out", "not_interested"],
  ["opt_out", "question"],
  ["interested", "question"],
  ["not_interested", "question"],
  ["wrong_person", "not_interested"],
  ["not_now", "interested"],
  ["not_now", "not_interested"],
];

/**
 * Softmax regression by AdaGrad (Duchi et al. 2011) over features weighed by how much they tell labels apart (Wang and
 * Manning 2012); the same examples and seed give the same model.
 */
export function train(examples: readonly Example[], labels: readonly string[], seed = "replies"): Model {
  const places = new Map<number, number>();
  const rows = rowsOf(examples, labels, seed, places);
  const telling = tellingOf(rows, labels.length, places.size);
  for (const row of rows)
    row.values = row.values.map((value, at) => value * (telling[row.places[at] as number] as number));
  const weights = labels.map(() => new Float32Array(places.size));
  const slopes = labels.map(() => new Float32Array(places.size));
  const bias = labels.map(() => 0);
  const perLabel = labels.map((_, label) =>
    rows.reduce((sum, row) => sum + (row.label === label ? row.weight : 0), 0),
  );
  const all = rows.reduce((sum, { weight }) => sum + weight, 0);
  const draw = seeded(seed, "order");
  const order = rows.map((_, index) => index);
  const part = new Part(Math.max(0, ...rows.map(({ places: { length } }) => length)));
  for (let epoch = 0; epoch < EPOCHS; epoch++) {
    shuffle(order, draw);
    for (const index of order) {
      const row = rows[index] as Row;
      const { label, weight } = row;
      part.see(row, draw);
      const chance = softmax(weights.map((own, at) => (bias[at] ?? 0) + part.scoreBy(own)));
      const matters = Math.min(MOST_WEIGHT, (weight * all) / (labels.length * (perLabel[label] || 1)));
      for (let own = 0; own < labels.length; own++) {
        const error = ((chance[own] ?? 0) - (own === label ? 1 : 0)) * matters;
        if (Math.abs(error) < 1e-3) continue;
        const [w, g] = [weights[own], slopes[own]] as [Float32Array, Float32Array];
        for (let at = 0; at < part.length; at++) {
          const place = part.places[at] as number;
          const before = w[place] as number;
          const slope = error * (part.values[at] as number) + DECAY * before;
          const sum = (g[place] as number) + slope * slope;
          g[place] = sum;
          w[place] = before - (RATE * slope) / Math.sqrt(sum + 0.02);
        }
        bias[own] = (bias[own] ?? 0) - 0.01 * error;
      }
    }
  }
  return withoutSilent({
    labels,
    places,
    // The reader of a letter does not weigh its features: the weights carry it.
    weights: weights.map((own) => own.map((weight, place) => weight * (telling[place] as number))),
    bias,
    temperature: 1,
  });
}

/** Without the features that say too little to change a reading: most of them. */
function withoutSilent(model: Model): Model {
  const loudest = Math.max(
    ...model.weights.map((own) => own.reduce((most, weight) => Math.max(most, Math.abs(weight)), 0)),
  );
  const kept = [...model.places].filter(([, place]) =>
    model.weights.some((own) => Math.abs(own[place] as number) > SILENT * loudest),
  );
  return {
    ...model,
    places: new Map(kept.map(([id], place) => [id, place])),
    weights: model.weights.map((own) => Float32Array.from(kept, ([, place]) => own[place] as number)),
  };
}

/** In [0, 1] for each feature: 0 where all labels have it alike, 1 where it is e times as usual for one of them. */
function tellingOf(rows: readonly Row[], labels: number, features: number): Float32Array {
  const counts = Array.from({ length: labels }, () => new Float32Array(features).fill(SMOOTHING));
  const all = counts.map(() => 2 * SMOOTHING);
  for (const { places, label } of rows) {
    const own = counts[label] as Float32Array;
    for (const place of places) own[place] = (own[place] as number) + 1;
    all[label] = (all[label] as number) + 1;
  }
  return new Float32Array(features).map((_, place) => {
    const shares = counts.map((own, label) => (own[place] as number) / (all[label] as number));
    const mean = shares.reduce((sum, share) => sum + share, 0) / labels;
    return Math.min(1, Math.log(Math.max(...shares) / mean));
  });
}

/** What of a letter is seen at one look, as strong as all of it. One for all looks: there are hundreds of thousands. */
class Part {
  readonly places: Int32Array;
  readonly values: Float32Array;
  length = 0;

  constructor(longest: number) {
    this.places = new Int32Array(longest);
    this.values = new Float32Array(longest);
  }

  see(row: Row, draw: () => number): void {
    const strength = 1 / Math.sqrt(1 - HIDDEN);
    this.length = 0;
    for (let at = 0; at < row.places.length; at++) {
      if (draw() < HIDDEN) continue;
      this.places[this.length] = row.places[at] as number;
      this.values[this.length++] = (row.values[at] as number) * strength;
    }
  }

  scoreBy(weights: Float32Array): number {
    let sum = 0;
    for (let at = 0; at < this.length; at++)
      sum += (weights[this.places[at] as number] as number) * (this.values[at] as number);
    return sum;
  }
}

function shuffle(order: number[], draw: () => number): void {
  for (let at = order.length - 1; at > 0; at--) {
    const other = Math.floor(draw() * (at + 1));
    [order[at], order[other]] = [order[other] as number, order[at] as number];
  }
}

const CHOICE = /\{([^{}]*)\}/g;

/** One wording of a letter in which {this|that} stands. */
const wordingOf = (pattern: string, draw: () => number): string =>
  worded(pattern, (choices) => choices[Math.floor(draw() * choices.length)] as string);

/** So many wordings that every choice stands in one of them. */
function wordingsOf(pattern: string, draw: () => number): string[] {
  const groups = [...pattern.matchAll(CHOICE)].map((match) => (match[1] as string).split("|"));
  if (groups.length === 0) return [pattern];
  const orders = groups.map((choices) => {
    const order = choices.map((_, index) => index);
    shuffle(order, draw);
    return order;
  });
  const times = Math.max(WORDINGS, ...groups.map(({ length }) => length));
  return Array.from({ length: times }, (_, time) => {
    let group = 0;
    return worded(pattern, (choices) => {
      const order = orders[group++] as number[];
      return choices[order[time % order.length] as number] as string;
    });
  });
}

const worded = (pattern: string, choose: (choices: readonly string[]) => string): string =>
  pattern
    .replace(CHOICE, (_, choices: string) => choose(choices.split("|")))
    .replace(/\s+([,.!?;])/g, "$1")
    .trim();

/** Gives every feature a place. Each letter as it is, once dressed with a greeting and an ending, and some joined with another of their language. */
function rowsOf(
  examples: readonly Example[],
  labels: readonly string[],
  seed: string,
  places: Map<number, number>,
): Row[] {
  const draw = seeded(seed, "dress");
  const one = (from: readonly string[] | undefined) =>
    from && from.length > 0 ? (from[Math.floor(draw() * from.length)] as string) : "";
  const rows: Row[] = [];
  const placeOf = (id: number) => places.get(id) ?? places.set(id, places.size).size - 1;
  const add = (text: string, label: string, weight: number) => {
    const { ids, values } = vectorOf(featuresOf(text));
    rows.push({ places: ids.map(placeOf), values, label: labels.indexOf(label), weight });
  };
  const known = examples.filter(({ label }) => labels.includes(label));
  const byKind = new Map<string, string[]>();
  for (const { text, label, language = "" } of known) {
    const key = `${language} ${label}`;
    const same = byKind.get(key);
    if (same) same.push(text);
    else byKind.set(key, [text]);
  }
  for (const { text: pattern, label, openings, endings, language = "", weight = 1 } of known) {
    for (const [time, text] of wordingsOf(pattern, draw).entries()) {
      if (time === 0 || draw() < 0.4) add(text, label, weight);
      add(`${one(openings)}\n\n${text}\n\n${one(endings)}`.trim(), label, weight);
      const same = wordingOf(one(byKind.get(`${language} ${label}`)), draw);
      if (draw() < 0.3) add(`${text} ${same}`, label, weight * 0.6);
      for (const [winner, loser] of WINS) {
        if (label !== winner || draw() > 0.25) continue;
        const other = wordingOf(one(byKind.get(`${language} ${loser}`)), draw);
        if (other !== "") add(draw() < 0.5 ? `${other} ${text}` : `${text} ${other}`, label, weight * 0.6);
      }
    }
  }
  return rows;
}

export interface Unseen {
  example: Example;
  /** The letter that was judged. */
  text: string;
  label: string;
  /** By label, before the temperature. */
  scores: number[];
}

/** What models say of letters that were left out when they learned. */
export function crossValidate(examples: readonly Example[], labels: readonly string[], folds = 8): Unseen[] {
  const order = examples.map((_, index) => index);
  shuffle(order, seeded("folds"));
  const unseen: Unseen[] = [];
  for (let fold = 0; fold < folds; fold++) {
    const out = new Set(order.filter((_, at) => at % folds === fold));
    const model = train(
      examples.filter((_, index) => !out.has(index)),
      labels,
      `fold ${fold}`,
    );
    const dress = seeded("validation", fold);
    for (const index of out) {
      const example = examples[index] as Example;
      const { openings = [], endings = [] } = example;
      const [opening = "", ending = ""] = [openings, endings].map(
        (from) => from[Math.floor(dress() * from.length)],
      );
      const text = `${opening}\n\n${wordingOf(example.text, dress)}\n\n${ending}`;
      const own = scores(model, vectorOf(featuresOf(text)));
      unseen.push({ example, text, scores: own, label: labels[own.indexOf(Math.max(...own))] ?? "" });
    }
  }
  return unseen;
}

/** The temperature under which the chances given to the true labels are likeliest. */
export function fitTemperature(unseen: readonly Unseen[], labels: readonly string[]): number {
  let best = { temperature: 1, loss: Number.POSITIVE_INFINITY };
  for (let temperature = 0.2; temperature <= 4; temperature += 0.05) {
    const loss = unseen.reduce((sum, { example, scores: own }) => {
      const chance = softmax(own.map((score) => score / temperature))[labels.indexOf(example.label)] ?? 0;
      return sum - Math.log(Math.max(chance, 1e-9));
    }, 0);
    if (loss < best.loss) best = { temperature, loss };
  }
  return Number(best.temperature.toFixed(2));
}

/** Of letters given a chance in each tenth: how many, how sure on average, and how many of them were right. */
export function reliability(
  unseen: readonly Unseen[],
  temperature: number,
): { count: number; said: number; right: number }[] {
  const bins = Array.from({ length: 10 }, () => ({ count: 0, said: 0, right: 0 }));
  for (const { example, scores: own, label } of unseen) {
    const chance = Math.max(...softmax(own.map((score) => score / temperature)));
    const bin = bins[Math.min(9, Math.floor(chance * 10))] as (typeof bins)[number];
    bin.count++;
    bin.said += chance;
    if (label === example.label) bin.right++;
  }
  return bins.map(({ count, said, right }) => ({
    count,
    said: count ? said / count : 0,
    right: count ? right / count : 0,
  }));
}

const SECTION = /^\[(\w+)\]$/;

/** A file of training letters: one a line under a [label], greetings and endings under [neutral] with | between. */
export function readTraining(text: string, language: string): Example[] {
  let label = "";
  const letters: { text: string; label: string }[] = [];
  const neutral: string[][] = [];
  for (const line of text.split("\n").map((each) => each.trim())) {
    const section = line.match(SECTION)?.[1];
    if (section) label = section;
    else if (line === "") continue;
    else if (label === "neutral") neutral.push(line.split("|"));
    else letters.push({ text: line, label });
  }
  const [openings = [], endings = []] = neutral;
  return letters.map((each) => ({ ...each, openings, endings, language }));
}
