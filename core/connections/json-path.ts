/** Where something stands in another program's JSON: "contact.email", "people.0.email". */
import { z } from "zod";

const LONGEST = 200;

/** A path that can be read, and written to: no name that JavaScript keeps for itself. */
export const pathSchema = z
  .string()
  .trim()
  .max(200)
  .regex(/^[\w-]+(\.[\w-]+)*$/, "Write where it stands in its JSON, as in contact.email.")
  .refine(
    (path) => !path.split(".").some((part) => ["__proto__", "constructor", "prototype"].includes(part)),
    "This name cannot stand in a path.",
  );

/** What stands there, of whatever kind; undefined for nothing. */
export function partAt(body: unknown, path: string): unknown {
  let at: unknown = body;
  for (const part of path.split(".")) {
    if (typeof at !== "object" || at === null || !Object.hasOwn(at, part)) return undefined;
    at = (at as Record<string, unknown>)[part];
  }
  return at;
}

/** What stands there as text; "" for what is no text or number. */
export function valueAt(body: unknown, path: string): string {
  const at = partAt(body, path);
  return typeof at === "string" || typeof at === "number" || typeof at === "boolean"
    ? String(at).trim().slice(0, LONGEST)
    : "";
}

/** Writes a value there, with what has to be around it. */
export function putAt(body: Record<string, unknown>, path: string, value: unknown): void {
  const parts = path.split(".");
  const last = parts.pop() as string;
  let at = body;
  for (const part of parts) {
    const next = Object.hasOwn(at, part) ? at[part] : undefined;
    if (typeof next === "object" && next !== null) at = next as Record<string, unknown>;
    else {
      const fresh: Record<string, unknown> = {};
      at[part] = fresh;
      at = fresh;
    }
  }
  at[last] = value;
}
