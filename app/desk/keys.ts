import { useEffect, useEffectEvent } from "react";

/** Whether the keys go into a field, where letters are letters. */
function isTyping(target: HTMLElement): boolean {
  if (target instanceof HTMLInputElement) return !/^(checkbox|radio|button|submit)$/.test(target.type);
  return target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName);
}

/** What lies above the page has keys of its own. */
const ABOVE = "[role=dialog], [role=menu], [role=listbox]";

/**
 * Hears the keys that are meant for the page: not what is typed into a field, nor pressed in a dialog or with Ctrl,
 * Alt or Cmd. `onKey` gets the key in small letters, sees the page as it is shown, and says whether it took the key.
 * "first" and "last": before and after the page's own keys.
 */
export function useKeys(
  onKey: (key: string, event: KeyboardEvent) => boolean,
  turn: "first" | "page" | "last" = "page",
): void {
  const hear = useEffectEvent((event: KeyboardEvent) => {
    const { target, defaultPrevented, ctrlKey, metaKey, altKey } = event;
    if (defaultPrevented || ctrlKey || metaKey || altKey) return;
    if (target instanceof HTMLElement && (isTyping(target) || target.closest(ABOVE))) return;
    if (onKey(event.key.toLowerCase(), event)) event.preventDefault();
  });
  useEffect(() => {
    // An event goes from the window down to where it happened, and by the document up to the window again.
    const listen = (event: KeyboardEvent) => hear(event);
    const at = turn === "page" ? document : window;
    at.addEventListener("keydown", listen as EventListener, { capture: turn === "first" });
    return () => at.removeEventListener("keydown", listen as EventListener, { capture: turn === "first" });
  }, [turn]);
}
