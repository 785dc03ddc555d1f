/** Tells the server what happens on a page; nobody waits for it, and it arrives also where the page is being closed. */
export function tell(base: string, what: { what: "watched"; share: number } | { what: "booking" }): void {
  void fetch(`${base}/seen`, {
    method: "POST",
    keepalive: true,
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(what),
  }).catch(() => {});
}
