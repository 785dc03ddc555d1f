import { useEffect, useState } from "react";
import type { LiveState } from "../../server/desk/live-state";

/**
 * What the server says changed, by server-sent events; null while nothing is known. A hidden page does not listen: a browser
 * keeps few lines open to one server.
 */
export function useLive(): LiveState | null {
  const [state, setState] = useState<LiveState | null>(null);
  useEffect(() => {
    let source: EventSource | null = null;
    const listen = () => {
      // A line that was open when the network went can stay silent for long without an error.
      if (document.visibilityState === "hidden" || !navigator.onLine) {
        source?.close();
        source = null;
        setState(null);
        return;
      }
      if (source) return;
      source = new EventSource("/live");
      source.onmessage = ({ data }) => setState(JSON.parse(String(data)) as LiveState);
      source.onerror = () => setState(null);
      // The server gave this page's line to a newer one of ours: it asks every few seconds until it is looked at again.
      source.addEventListener("elsewhere", () => {
        source?.close();
        setState(null);
      });
    };
    listen();
    document.addEventListener("visibilitychange", listen);
    window.addEventListener("offline", listen);
    window.addEventListener("online", listen);
    return () => {
      document.removeEventListener("visibilitychange", listen);
      window.removeEventListener("offline", listen);
      window.removeEventListener("online", listen);
      source?.close();
    };
  }, []);
  return state;
}

/** What an open page shows of what changes by itself; a page that says nothing shows all of it. */
export type Follows = readonly ("events" | "replies" | "plan")[];
export interface PageHandle {
  follows: Follows;
}
