/**
 * The directory's process: people and companies over HTTP, filtered, a page at a time, and slow on purpose.
 * GET /people?industry=Museums&country=Norway&from=20&to=500&q=registrar&page=1
 */
import { createServer } from "node:http";
import { z } from "zod";
import { listen, serve } from "../process.ts";
import { seeded } from "../seeded.ts";
import { directory } from "./people.ts";

const settings = z
  .object({
    DIRECTORY_PORT: z.coerce.number().int(),
    /** Milliseconds that a page takes. */
    DIRECTORY_SLOW: z.coerce.number().default(150),
  })
  .parse(process.env);

const PAGE = 100;
const NEAR_MISSES = 0.35;
const { people } = directory();

const query = z.object({
  industry: z.string().array(),
  country: z.string().array(),
  from: z.coerce.number().catch(0),
  to: z.coerce.number().catch(Number.POSITIVE_INFINITY),
  q: z.string().array(),
  page: z.coerce.number().int().min(1).catch(1),
});

/** For some people any word of a title is enough, so that about a quarter of what comes back is somebody else, as directories do. */
function search(params: URLSearchParams) {
  const asked = query.parse({
    industry: params.getAll("industry"),
    country: params.getAll("country"),
    from: params.get("from") ?? undefined,
    to: params.get("to") ?? undefined,
    q: params.getAll("q"),
    page: params.get("page") ?? undefined,
  });
  const isOneOf = (values: string[], value: string) =>
    values.length === 0 || values.some((each) => each.toLowerCase() === value.toLowerCase());
  const phrases = asked.q.map((text) =>
    text
      .toLowerCase()
      .split(/\s+/)
      .filter((word) => word.length > 2),
  );
  const words = phrases.flat();
  const found = people.filter(({ id, title, company }) => {
    if (!isOneOf(asked.industry, company.industry) || !isOneOf(asked.country, company.country)) return false;
    if (company.employees < asked.from || company.employees > asked.to) return false;
    const text = title.toLowerCase();
    if (words.length === 0 || phrases.some((phrase) => phrase.every((word) => text.includes(word))))
      return true;
    return seeded("near", id)() < NEAR_MISSES && words.some((word) => text.includes(word));
  });
  return {
    total: found.length,
    page: asked.page,
    pages: Math.max(1, Math.ceil(found.length / PAGE)),
    people: found
      .slice((asked.page - 1) * PAGE, asked.page * PAGE)
      .map(({ trueEmail: _, company, ...person }) => {
        const { pattern: __, ...shown } = company;
        return { ...person, company: shown };
      }),
  };
}

const server = createServer((request, response) => {
  const url = new URL(request.url ?? "/", "http://directory.example");
  if (url.pathname !== "/people") return void response.writeHead(404).end();
  setTimeout(() => {
    response.writeHead(200, { "content-type": "application/json" });
    response.end(JSON.stringify(search(url.searchParams)));
  }, settings.DIRECTORY_SLOW);
});
await serve(() => listen(server, settings.DIRECTORY_PORT));
