import { useCallback, useContext, useEffect, useRef } from "react";
import { UNSAFE_DataRouterContext as DataRouterContext, useLocation } from "react-router";

/**
 * A function that says whether the page that is shown is where the browser is and stays: what corrects its own address asks
 * this before. Whoever is on the way elsewhere, or is there while this page is still shown, would be taken back.
 */
export function useAtRest(): () => boolean {
  const router = useContext(DataRouterContext)?.router;
  const { key } = useLocation();
  return useCallback(
    () => router?.state.navigation.state === "idle" && router.state.location.key === key,
    [router, key],
  );
}

/**
 * A function that says which address the browser is at or on its way to. A key pressed while the page is still being
 * drawn counts from there: two quick presses go two letters on.
 */
export function useGoingTo(): () => URLSearchParams {
  const router = useContext(DataRouterContext)?.router;
  const { search } = useLocation();
  return useCallback(
    () =>
      new URLSearchParams((router?.state.navigation.location ?? router?.state.location)?.search ?? search),
    [router, search],
  );
}

/**
 * A function that has the page's data fetched anew; false if a form or a page is on its way, so that it has to be
 * called again later. A revalidation that began meanwhile would make the router drop the redirect with which a
 * fetcher's action answers. The hooks for navigation and fetchers tell what was last rendered, which can be behind;
 * so the router itself is asked.
 */
export function useRefresh(): () => boolean {
  const router = useContext(DataRouterContext)?.router;
  return useCallback(() => {
    if (!router) return false;
    const { navigation, revalidation, fetchers } = router.state;
    const isSending = [...fetchers.values()].some(({ state }) => state === "submitting");
    if (navigation.state !== "idle" || revalidation !== "idle" || isSending) return false;
    void router.revalidate();
    return true;
  }, [router]);
}

/** What is counted over a long list may be some seconds old when the work on it ends. */
const LAST_LOOK = 4_000;

/** Has the page's data fetched anew every so many milliseconds while something runs, and once more after its end. */
export function useRefreshWhile(runs: boolean, every: number): void {
  const refresh = useRefresh();
  const ran = useRef(false);
  useEffect(() => {
    if (!runs && !ran.current) return;
    ran.current = runs;
    const timer = runs ? setInterval(refresh, every) : setTimeout(refresh, LAST_LOOK);
    return () => clearInterval(timer);
  }, [runs, every, refresh]);
}
