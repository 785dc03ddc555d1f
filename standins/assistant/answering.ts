/**
 * Answers from a site's text, by rules where a language model would read: the sentence that fits the question best, and a line put
 * together from it. As such models do, it invents something now and then: a number that stands nowhere.
 */
import { z } from "zod";
import { seeded } from "../seeded.ts";

export const asked = z.object({
  question: z.string().max(5_000),
  site: z.string().max(50_000),
  language: z.string().default(""),
});

interface Answered {
  answer: string;
  quote: string;
  url: string;
  usage: { total_tokens: number };
}

/** How often a line says more than its source. */
const INVENTS = 0.12;

const sentencesOf = (text: string) =>
  text
    .split(/\n|(?<=[.!?])\s+/)
    .map((each) => each.trim())
    .filter((each) => each.length > 20 && !/cookie|©|^https?:/i.test(each));

/** "“Salt on Vellum” opens with 233 pieces, 77 of them on loan from Porto.", in four languages. */
const OPENING = /[“„«]\s?(.+?)\s?[”“»].*?(\d+)\D+?(\d+)\D+?(?:from|aus|de|par)\s+(\p{Lu}\p{L}+)/u;
const BESIDE = /(?:who know|kennt|conhece|connaît)\s|Wer (.+?) kennt/;

export function answer(body: z.infer<typeof asked>): Answered {
  const { question, site } = body;
  const sentences = sentencesOf(site);
  const tokens = Math.ceil((question.length + site.length) / 4);
  const none = { answer: "", quote: "", url: "", usage: { total_tokens: tokens } };
  const said = (line: string, quote: string): Answered => ({
    answer: line,
    quote,
    url:
      site
        .slice(0, site.indexOf(quote))
        .match(/https?:\/\/\S+/g)
        ?.at(-1) ?? "",
    usage: { total_tokens: tokens + Math.ceil(line.length / 4) },
  });
  if (/compare|compete/i.test(question)) {
    const quote = sentences.find((each) => BESIDE.test(each));
    const other = quote?.match(
      /(?:who know|Wer|conhece|connaît)\s+(.+?)\s+(?:find|kennt|encontra|retrouve)/,
    )?.[1];
    return quote && other ? said(other.replace(/,$/, ""), quote) : none;
  }
  if (/opening|first sentence/i.test(question)) {
    const quote = sentences.find((each) => OPENING.test(each));
    const [, title, pieces, lent, place] = quote?.match(OPENING) ?? [];
    if (!quote || !title) {
      const plain = sentences.find((each) => /\d/.test(each));
      return plain ? said(`Your site says it plainly: “${plain.replace(/[“”"]/g, "")}”`, plain) : none;
    }
    const invented = seeded("invents", question, site)() < INVENTS;
    return said(
      `“${title}” with ${pieces} pieces, ${invented ? Number(lent) + 11 : lent} of them lent by ${place}: somebody has to answer for their climate on the way.`,
      quote,
    );
  }
  const words = new Set(question.toLowerCase().match(/\p{L}{4,}/gu) ?? []);
  const best = sentences
    .map((each) => ({
      each,
      fits: (each.toLowerCase().match(/\p{L}{4,}/gu) ?? []).filter((word) => words.has(word)).length,
    }))
    .sort((a, b) => b.fits - a.fits)[0];
  return best && best.fits > 0 ? said(best.each, best.each) : none;
}
