/** A model as it is kept: its features' ids, and each label's weights as bytes with the worth of one step, in base64. */
import { z } from "zod";
import type { Model } from "./model.ts";

const packedSchema = z.object({
  labels: z.array(z.string()).min(2),
  bias: z.array(z.number()),
  temperature: z.number().positive(),
  ids: z.string(),
  steps: z.array(z.number()),
  weights: z.array(z.string()),
});
export type PackedModel = z.infer<typeof packedSchema>;

export function packModel({ labels, places, weights, bias, temperature }: Model): PackedModel {
  const steps = weights.map(
    (own) => own.reduce((most, weight) => Math.max(most, Math.abs(weight)), 1e-6) / 127,
  );
  return {
    labels: [...labels],
    bias: bias.map((each) => Number(each.toFixed(4))),
    temperature,
    ids: base64(new Uint8Array(Int32Array.from(places.keys()).buffer)),
    steps: steps.map((step) => Number(step.toPrecision(6))),
    weights: weights.map((own, index) =>
      base64(Uint8Array.from(own, (weight) => Math.round(weight / (steps[index] as number)))),
    ),
  };
}

/** Throws where it is none, or one of another time. */
export function unpackModel(packed: unknown): Model {
  const { labels, bias, temperature, ids, steps, weights } = packedSchema.parse(packed);
  const places = new Map([...new Int32Array(fromBase64(ids).buffer)].map((id, place) => [id, place]));
  return {
    labels,
    bias,
    temperature,
    places,
    weights: weights.map((text, index) => {
      const bytes = new Int8Array(fromBase64(text).buffer);
      if (bytes.length !== places.size)
        throw new Error(`A model of ${places.size} features and ${bytes.length} weights.`);
      return Float32Array.from(bytes, (step) => step * (steps[index] as number));
    }),
  };
}

const base64 = (bytes: Uint8Array): string => {
  let text = "";
  for (const byte of bytes) text += String.fromCharCode(byte);
  return btoa(text);
};
const fromBase64 = (text: string): Uint8Array<ArrayBuffer> => {
  const bytes = atob(text);
  return Uint8Array.from({ length: bytes.length }, (_, at) => bytes.charCodeAt(at));
};
