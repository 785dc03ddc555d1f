/** A dialect as somebody types it: JSON, of which only what differs has to be said. */
import { type Dialect, dialectSchema } from "./dialect.ts";

export function parseDialect(text: string): { ok: true; value: Dialect } | { ok: false; problem: string } {
  let typed: unknown;
  try {
    typed = text.trim() === "" ? {} : JSON.parse(text);
  } catch {
    return { ok: false, problem: "This is no JSON. Leave it empty if it speaks as docs/crm.md says." };
  }
  const read = dialectSchema.safeParse(typed);
  if (read.success) return { ok: true, value: read.data };
  const [issue] = read.error.issues;
  return { ok: false, problem: `${issue?.path.join(".") ?? ""}: ${issue?.message ?? "not understood"}` };
}
