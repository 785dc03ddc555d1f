import { useFetchers, useNavigation } from "react-router";

/**
 * Whether a form or a page is on its way. Whoever fetches the page's data anew by itself waits for it: a
 * revalidation that begins meanwhile makes the router drop the redirect with which the form's action answers.
 */
export function useUnderWay(): boolean {
  const isSending = useFetchers().some(({ state }) => state === "submitting");
  return useNavigation().state !== "idle" || isSending;
}
