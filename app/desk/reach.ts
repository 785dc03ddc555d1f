/**
 * Whether the server can be reached. While it cannot, requests wait for it: the router would show an error instead
 * of the page, and what somebody typed there would be gone.
 */
import { useSyncExternalStore } from "react";

const TRY_EVERY = 1_000;

let reachable = true;
const listeners = new Set<() => void>();

function note(now: boolean): void {
  if (now === reachable) return;
  reachable = now;
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function useReachable(): boolean {
  return useSyncExternalStore(
    subscribe,
    () => reachable,
    () => true,
  );
}

/** Makes every request to our own server wait out an outage. */
export function sitOutOutages(): void {
  const send = window.fetch;
  const insist: typeof fetch = async (input, init) => {
    for (;;)
      try {
        const response = await send(input, init);
        note(true);
        return response;
      } catch (error) {
        if (init?.signal?.aborted) throw error;
        note(false);
        await new Promise((resolve) => setTimeout(resolve, TRY_EVERY));
      }
  };
  window.fetch = async (input, init) => {
    const request = input instanceof Request ? input : null;
    const url = new URL(request?.url ?? String(input), window.location.href);
    if (url.origin !== window.location.origin) return send(input, init);
    const method = (init?.method ?? request?.method ?? "GET").toUpperCase();
    if (method === "GET") return insist(input, init);
    // A form is sent once: a second try could do twice what the first one did. So it waits before.
    // Without a body, which nobody would read: the browser would keep the line open for it.
    await insist("/healthz", { method: "HEAD", signal: init?.signal ?? null });
    return sendOnce(send, input, init, request);
  };
}

/** What the server says it has not begun (503 with Retry-After) is safe to send again. */
async function sendOnce(
  send: typeof fetch,
  input: RequestInfo | URL,
  init: RequestInit | undefined,
  original: Request | null,
): Promise<Response> {
  for (;;) {
    const response = await send(original ? original.clone() : input, init);
    const wait = Number(response.headers.get("retry-after"));
    if (response.status !== 503 || !(wait > 0)) return response;
    await response.body?.cancel();
    await new Promise((resolve) => setTimeout(resolve, wait * 1_000));
  }
}
