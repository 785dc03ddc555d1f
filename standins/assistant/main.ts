/**
 * The writing assistant's stand-in, by rules where a real one would use a language model: a target profile from a paragraph
 * (POST /profile), drafts from a brief (/sequence, /email), other wordings of a text (/wordings), and answers from a site's text (/answer).
 */
import { createServer } from "node:http";
import { z } from "zod";
import { listen, serve } from "../process.ts";
import { answer, asked } from "./answering.ts";
import { brief, draftEmail, draftSequence, otherWordings, wish } from "./drafting.ts";

const { ASSISTANT_PORT } = z.object({ ASSISTANT_PORT: z.coerce.number().int() }).parse(process.env);

const INDUSTRIES: [RegExp, string][] = [
  [/\bmuseums?\b/i, "Museums"],
  [/\barchives?\b/i, "Archives"],
  [/\blibrar(y|ies)\b/i, "Libraries"],
  [/\bgaller(y|ies)\b/i, "Galleries"],
  [/\b(logistics|freight|transport|carriers?)\b/i, "Logistics"],
  [/\b(food|dairy|bakery|breweries)\b/i, "Food production"],
  [/\b(universit(y|ies)|colleges?)\b/i, "Universities"],
];
const REGIONS: [RegExp, string, string[]][] = [
  [/\b(northern europe|nordics?|scandinavia)\b/i, "Northern Europe", ["NO", "SE", "DK", "FI"]],
  [/\bwestern europe\b/i, "Western Europe", ["DE", "NL", "GB", "FR"]],
  [/\b(southern europe|iberia)\b/i, "Southern Europe", ["PT", "ES", "IT"]],
  [/\bnorth america\b/i, "North America", ["US"]],
  [/\blatin america\b/i, "Latin America", ["BR"]],
];
const COUNTRIES: [RegExp, string][] = [
  [/\bnorway|norwegian/i, "NO"],
  [/\bsweden|swedish/i, "SE"],
  [/\bdenmark|danish/i, "DK"],
  [/\bfinland|finnish/i, "FI"],
  [/\bgermany|german/i, "DE"],
  [/\bnetherlands|dutch/i, "NL"],
  [/\b(uk|britain|british|united kingdom)/i, "GB"],
  [/\bfrance|french/i, "FR"],
  [/\bportugal|portuguese/i, "PT"],
  [/\bspain|spanish/i, "ES"],
  [/\bital(y|ian)/i, "IT"],
  [/\bbrazil/i, "BR"],
  [/\b(usa|united states|america)\b/i, "US"],
];
const TITLES = [
  "registrar",
  "collections manager",
  "conservator",
  "archivist",
  "librarian",
  "facilities manager",
  "curator",
  "director",
  "quality manager",
  "operations manager",
];
const SIZES: [RegExp, number, number][] = [
  [/\bsmall\b/i, 1, 49],
  [/\b(mid-?size|medium)\b/i, 20, 250],
  [/\blarge\b/i, 250, 100_000],
];

function profileFrom(text: string) {
  // What is sold says nothing about whom to look for.
  const wanted =
    text
      .split(/looking for|want to (?:reach|meet|write to)|we write to/i)
      .slice(1)
      .join(" ") || text;
  const range = wanted.match(/(\d+)\s*(?:–|-|to)\s*(\d+)\s*(?:employees|people|staff)/i);
  const size = SIZES.find(([word]) => word.test(wanted));
  const without = wanted.match(/\b(?:no|not|without|except)\s+([\w ,]+?)(?:[.;]|$)/i)?.[1] ?? "";
  const countries = [
    ...REGIONS.filter(([name]) => name.test(wanted)).flatMap(([, , codes]) => codes),
    ...COUNTRIES.filter(([name]) => name.test(wanted)).map(([, code]) => code),
  ];
  return {
    industries: INDUSTRIES.filter(([name]) => name.test(wanted)).map(([, industry]) => industry),
    countries: [...new Set(countries)],
    titles: TITLES.filter((title) =>
      new RegExp(`\\b${title.replace("manager", "managers?").replace("y", "(y|ie)")}s?\\b`, "i").test(wanted),
    ),
    titlesWithout: without
      .split(/,|\band\b|\bor\b/)
      .map((word) => word.trim().replace(/s$/, ""))
      .filter((word) => /^[a-z ]{3,30}$/i.test(word)),
    employeesFrom: range ? Number(range[1]) : (size?.[1] ?? null),
    employeesTo: range ? Number(range[2]) : (size?.[2] ?? null),
    keywords: /\bloans?\b/i.test(wanted) ? ["loans"] : [],
  };
}

/** A few words are enough for a stand-in. */
const MEANS: [RegExp, string][] = [
  [/remove|unsubscribe|stop/i, "opt_out"],
  [/not interested|no need|no thank/i, "not_interested"],
  [/later|next year|autumn|budget/i, "not_now"],
  [/colleague|wrong|contact/i, "wrong_person"],
  [/\?/, "question"],
];
const labelOf = (text: string) => MEANS.find(([words]) => words.test(text))?.[1] ?? "interested";

/** What each path takes and answers. */
const ANSWERS: Record<string, (body: unknown) => unknown> = {
  "/profile": (body) => profileFrom(z.object({ text: z.string().max(5_000) }).parse(body).text),
  "/sequence": (body) => draftSequence(brief.parse(body)),
  "/email": (body) => draftEmail(brief.parse(body)),
  "/label": (body) => ({
    label: labelOf(z.object({ text: z.string().max(5_000) }).parse(body).text),
    confidence: 0.7,
  }),
  "/answer": (body) => answer(asked.parse(body)),
  "/wordings": (body) => ({ wordings: otherWordings(wish.parse(body)) }),
};

const server = createServer(async (request, response) => {
  const answer = ANSWERS[request.url ?? ""];
  if (request.method !== "POST" || !answer) return void response.writeHead(404).end();
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  try {
    const body: unknown = JSON.parse(Buffer.concat(chunks).toString());
    const said = JSON.stringify(answer(body));
    response.writeHead(200, { "content-type": "application/json" }).end(said);
  } catch {
    response.writeHead(400).end();
  }
});
await serve(() => listen(server, ASSISTANT_PORT));
