import { useCallback, useContext } from "react";
import { UNSAFE_DataRouterContext as DataRouterContext } from "react-router";

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
