/** A multinomial logistic regression over a letter's features: what it says of a letter, and by which words. */
import { type Feature, featuresOf, type Vector, vectorOf } from "./features.ts";

export interface Model {
  /** The labels it tells apart, in the order of its weights. */
  labels: readonly string[];
  /** For each label: the weight of every bucket. */
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
  { weights, bias }: Pick<Model, "weights" | "bias">,
  { buckets, values }: Vector,
): number[] {
  return weights.map((own, label) => {
    let score = bias[label] ?? 0;
    for (let at = 0; at < buckets.length; at++)
      score += (values[at] as number) * (own[buckets[at] as number] as number);
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
  { weights }: Model,
  features: readonly Feature[],
  best: number,
  second: number,
): [number, number][] {
  const worth = new Map<string, { from: number; to: number; sum: number }>();
  for (const { bucket, from, to, weight } of features) {
    if (to === from) continue;
    const says = ((weights[best]?.[bucket] ?? 0) - (weights[second]?.[bucket] ?? 0)) * weight;
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
