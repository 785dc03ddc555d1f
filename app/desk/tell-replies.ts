/** Tells in the browser when somebody answered, for whoever asked for it in the settings. */
import { useEffect, useRef } from "react";
import type { DayLine } from "../../server/desk/day-line";
import { count } from "../components/words";

export function useTellReplies({ replies, tellReplies }: DayLine): void {
  const known = useRef<number | null>(null);
  const newest = replies.at(-1);
  const latest = newest?.at ?? 0;
  useEffect(() => {
    const before = known.current;
    known.current = latest;
    if (!tellReplies || before === null || latest <= before) return;
    if (!("Notification" in window) || Notification.permission !== "granted") return;
    const fresh = replies.filter(({ at }) => at > before);
    const title =
      fresh.length === 1
        ? `${fresh[0]?.name} wrote back`
        : `${count(fresh.length, "person", "people")} wrote back`;
    new Notification(title, { tag: "saudade-replies" });
  }, [latest, tellReplies, replies]);
}
