/** A model as it is kept: each label's weights as bytes, in base64, with the worth of one step. */
import { z } from "zod";
import { BUCKETS } from "./features.ts";
import type { Model } from "./model.ts";

const packedSchema = z.object({
  labels: z.array(z.string()).min(2),
  bias: z.array(z.number()),
  temperature: z.number().positive(),
  steps: z.array(z.number()),
  weights: z.array(z.string()),
});
export type PackedModel = z.infer<typeof packedSchema>;

export function packModel({ labels, weights, bias, temperature }: Model): PackedModel {
  const steps = weights.map(
    (own) => own.reduce((most, weight) => Math.max(most, Math.abs(weight)), 1e-6) / 127,
  );
  return {
    labels: [...labels],
    bias: bias.map((each) => Number(each.toFixed(4))),
    temperature,
    steps: steps.map((step) => Number(step.toPrecision(6))),
    weights: weights.map((own, index) =>
      base64(Int8Array.from(own, (weight) => Math.round(weight / (steps[index] as number)))),
    ),
  };
}

/** Throws where it is none, or of another size. */
export function unpackModel(packed: unknown): Model {
  const { labels, bias, temperature, steps, weights } = packedSchema.parse(packed);
  return {
    labels,
    bias,
    temperature,
    weights: weights.map((text, index) => {
      const bytes = fromBase64(text);
      if (bytes.length !== BUCKETS) throw new Error(`A model of ${bytes.length} buckets, not ${BUCKETS}.`);
      return Float32Array.from(bytes, (step) => step * (steps[index] as number));
    }),
  };
}

const base64 = (bytes: Int8Array): string => {
  let text = "";
  for (const byte of bytes) text += String.fromCharCode(byte & 0xff);
  return btoa(text);
};
const fromBase64 = (text: string): Int8Array => {
  const bytes = atob(text);
  return Int8Array.from({ length: bytes.length }, (_, at) => (bytes.charCodeAt(at) << 24) >> 24);
};
