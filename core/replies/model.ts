/** A multinomial logistic regression over a letter's features: what it says of a letter, and by which words. */
import { type Feature, featuresOf, type Vector, vectorOf } from "./features.ts";

export interface Model {
  /** The labels it tells apart, in the order of its weights. */
  labels: readonly string[];
  /** Where the weights of a feature stand, by its id. What is not in it says nothing. */
  places: ReadonlyMap<number, number>;
  /** For each label: the weight of every feature, by place. */
  weights: readonly Float32Array[];
  bias: readonly number[];
  /** Divides the scores, so that "90 %" is right nine times in ten (Guo et al. 2017). */
  temperature: number;
}

/** How likely each label is, in the order of the model's labels; they add up to 1. */
export function chances(model: Model, vector: Vector): number[] {
  return softmax(scores(model, vector).map((score) => score / model.temperature));
}

export function scores(
  { places, weights, bias }: Pick<Model, "places" | "weights" | "bias">,
  { ids, values }: Vector,
): number[] {
  const found = Array.from(ids, (id) => places.get(id) ?? -1);
  return weights.map((own, label) => {
    let score = bias[label] ?? 0;
    for (let at = 0; at < found.length; at++)
      if ((found[at] as number) >= 0) score += (values[at] as number) * (own[found[at] as number] as number);
    return score;
  });
}

export function softmax(values: readonly number[]): number[] {
  const most = Math.max(...values);
  const exponents = values.map((value) => Math.exp(value - most));
  const sum = exponents.reduce((a, b) => a + b, 0);
  return exponents.map((value) => value / sum);
}

export interface Judged {
  label: string;
  /** In [0, 1]. */
  confidence: number;
  all: { label: string; chance: number }[];
  /** Where the words stand that decided, as [from, to) in the letter. */
  words: [number, number][];
}

export function judge(model: Model, letter: string): Judged {
  const features = featuresOf(letter);
  const each = chances(model, vectorOf(features));
  const order = each.map((_, index) => index).sort((a, b) => (each[b] ?? 0) - (each[a] ?? 0));
  const [best = 0, second = 0] = order;
  return {
    label: model.labels[best] ?? "",
    confidence: each[best] ?? 0,
    all: order.map((index) => ({ label: model.labels[index] ?? "", chance: each[index] ?? 0 })),
    words: decisiveWords(model, features, best, second),
  };
}

const MOST_MARKED = 3;
/** A word that says less than this share of the strongest one is not marked. */
const WORTH_MARKING = 0.45;

/** The stretches of the letter that speak most for a label rather than for the next likely one. */
function decisiveWords(
  { places, weights }: Model,
  features: readonly Feature[],
  best: number,
  second: number,
): [number, number][] {
  const worth = new Map<string, { from: number; to: number; sum: number }>();
  for (const { id, from, to, weight } of features) {
    const place = places.get(id);
    if (to === from || place === undefined) continue;
    const says = ((weights[best]?.[place] ?? 0) - (weights[second]?.[place] ?? 0)) * weight;
    if (says <= 0) continue;
    const key = `${from}-${to}`;
    const known = worth.get(key);
    if (known) known.sum += says;
    else worth.set(key, { from, to, sum: says });
  }
  const strongest = [...worth.values()].sort((a, b) => b.sum - a.sum);
  const marked: [number, number][] = [];
  for (const { from, to, sum } of strongest) {
    if (marked.length >= MOST_MARKED || sum < WORTH_MARKING * (strongest[0]?.sum ?? 0)) break;
    const touching = marked.find(([begin, end]) => from <= end + 1 && to >= begin - 1);
    if (touching) {
      touching[0] = Math.min(touching[0], from);
      touching[1] = Math.max(touching[1], to);
    } else marked.push([from, to]);
  }
  return marked.sort((a, b) => a[0] - b[0]);
}
