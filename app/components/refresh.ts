import { useCallback } from "react";
import { useFetcher } from "react-router";

/**
 * Fetches the page's data anew, as the router does after every action: here after one that does nothing. The
 * router's own `useRevalidator` counts as a navigation, and one that begins while a fetcher's action is on its way
 * makes the router drop the redirect with which that action answers.
 */
export function useRefresh(): () => void {
  const { submit } = useFetcher({ key: "refresh" });
  return useCallback(() => void submit(null, { method: "post", action: "/refresh" }), [submit]);
}
