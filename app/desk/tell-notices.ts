/** Tells in the browser what the user asked to be told there, while a page is open. */
import { useEffect, useRef } from "react";
import type { OwnNotice } from "../../server/notices/own-notices";

export function useTellNotices(notices: readonly OwnNotice[]): void {
  const known = useRef<number | null>(null);
  const latest = notices[0]?.id ?? 0;
  useEffect(() => {
    const before = known.current;
    known.current = latest;
    if (before === null || latest <= before) return;
    if (!("Notification" in window) || Notification.permission !== "granted") return;
    const fresh = notices.filter(({ id, inBrowser }) => id > before && inBrowser);
    const [first] = fresh;
    if (!first) return;
    const title = fresh.length === 1 ? first.text : `${first.text} And ${fresh.length - 1} more.`;
    try {
      new Notification(title, { tag: "saudade" });
    } catch {
      // Browsers on phones permit it and then refuse it to a page: the bell tells it there.
    }
  }, [latest, notices]);
}
