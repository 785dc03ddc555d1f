import { useContext, useLayoutEffect } from "react";
import { UNSAFE_DataRouterContext as DataRouterContext, type Fetcher } from "react-router";

type Router = NonNullable<React.ContextType<typeof DataRouterContext>>["router"];

/**
 * Keeps what is finished finished. Where a press and a change of the page wait for the same code, the router (7.18) completes
 * the page with the states of a moment before, and whatever ended in between seems to be under way for ever. Each state is an
 * object of its own that comes once: one that comes again is put back to what had followed it. Returns what ends this.
 */
export function keepFinished(router: Pick<Router, "state" | "subscribe">): () => void {
  let latest: ReadonlyMap<string, Fetcher> = new Map();
  const past = new WeakSet<Fetcher>();
  return router.subscribe(({ fetchers }) => {
    for (const [key, now] of fetchers) {
      if (!past.has(now)) continue;
      const then = latest.get(key);
      // One that rests is in the router's list for the moment of its end only.
      if (!then || then.state === "idle") fetchers.delete(key);
      else fetchers.set(key, then);
    }
    for (const [key, then] of latest) if (fetchers.get(key) !== then) past.add(then);
    latest = new Map(fetchers);
  });
}

/** For the whole app. */
export function useFinishedFetchers(): void {
  const router = useContext(DataRouterContext)?.router;
  useLayoutEffect(() => (router ? keepFinished(router) : undefined), [router]);
}
