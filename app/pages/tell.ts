/** Tells the server what happens on a page or in a file (Beacon, W3C): nobody waits for it, and it arrives also where the page is being closed. */
export function tell(
  base: string,
  what:
    | { what: "watched"; share: number }
    | { what: "booking" }
    | { pages: number; seconds: Record<string, number> },
): void {
  navigator.sendBeacon(`${base}/seen`, new Blob([JSON.stringify(what)], { type: "application/json" }));
}
