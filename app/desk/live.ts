import { useEffect, useState } from "react";
import type { LiveState } from "../../server/web/live";

/**
 * What the server says changed, by server-sent events; null while nothing is known. A hidden page does not listen: a browser
 * keeps few lines open to one server.
 */
export function useLive(): LiveState | null {
  const [state, setState] = useState<LiveState | null>(null);
  useEffect(() => {
    let source: EventSource | null = null;
    const listen = () => {
      if (document.visibilityState === "hidden") {
        source?.close();
        source = null;
        setState(null);
        return;
      }
      if (source) return;
      source = new EventSource("/live");
      source.onmessage = ({ data }) => setState(JSON.parse(String(data)) as LiveState);
      source.onerror = () => setState(null);
    };
    listen();
    document.addEventListener("visibilitychange", listen);
    return () => {
      document.removeEventListener("visibilitychange", listen);
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
