import type { Outcome } from "../../server/errors";

/**
 * Asks a route that is no page, and leaves the page as it is: for what can be cancelled, and for what is kept while
 * somebody types. Without a `body` it only reads. It does not fail: a lost connection is a refusal, too.
 */
export async function askServer<Value>(
  path: string,
  body?: object | FormData | URLSearchParams | Blob,
  signal?: AbortSignal,
): Promise<Outcome<Value>> {
  const isForm = body instanceof FormData || body instanceof URLSearchParams || body instanceof Blob;
  try {
    const response = await fetch(path, {
      ...(body && { method: "POST", body: isForm ? body : JSON.stringify(body) }),
      ...(body && !isForm && { headers: { "content-type": "application/json" } }),
      ...(signal && { signal }),
    });
    if (!response.ok) return { ok: false, errors: { form: await response.text() } };
    return (await response.json()) as Outcome<Value>;
  } catch {
    return { ok: false, errors: { form: "No connection. What you did is kept here; try again." } };
  }
}
