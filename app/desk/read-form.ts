/** Forms and messages as they come from a browser. What cannot be read is answered with 400, and words. */
import { data } from "react-router";

const broken = (words: string) => data(words, { status: 400 });

/** The text fields of a form. Throws a 400 for what is no form. */
export async function readForm(request: Request): Promise<Record<string, string>> {
  const form = await request.formData().catch(() => {
    throw broken("This form cannot be read. Reload the page and send it again.");
  });
  const fields: Record<string, string> = {};
  for (const [name, value] of form) if (typeof value === "string") fields[name] = value;
  return fields;
}

/** A JSON body's object. Throws a 400 for what is none. */
export async function readJson(request: Request): Promise<Record<string, unknown>> {
  const body: unknown = await request.json().catch(() => null);
  if (typeof body !== "object" || body === null || Array.isArray(body))
    throw broken("This message cannot be read. Reload the page and try again.");
  return body as Record<string, unknown>;
}

/** The page of a long list in an address, from 0. */
export function readPage(query: URLSearchParams): number {
  const page = Math.floor(Number(query.get("page")));
  return page > 0 ? Math.min(page, 1_000_000) : 0;
}

/** For an action that does not know what is asked of it: guessing could do what nobody wants. */
export function unknownIntent(intent: unknown): never {
  throw broken(`This page knows no action “${String(intent ?? "").slice(0, 40)}”. Reload it and try again.`);
}

/** A field of a form that holds JSON. Throws a 400 for what is none. */
export function readText(text: string | undefined): unknown {
  try {
    return JSON.parse(text ?? "{}");
  } catch {
    throw broken("This form cannot be read. Reload the page and send it again.");
  }
}
