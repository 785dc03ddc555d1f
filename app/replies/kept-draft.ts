/**
 * What is being typed below a reply: kept by the server, so that another tab and another day have it, and until the
 * server has it in the browser, so that a reload and an outage lose nothing.
 */
import { useEffect, useRef, useState } from "react";

const SAVED_AFTER = 800;
const nameOf = (replyId: number) => `saudade-draft-${replyId}`;

export function useKeptDraft(replyId: number, saved: string): [string, (text: string) => void] {
  const [text, setText] = useState(saved);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => {
    const unsaved = localStorage.getItem(nameOf(replyId));
    if (unsaved === null) return;
    setText(unsaved);
    void save(replyId, unsaved);
  }, [replyId]);
  const change = (next: string) => {
    setText(next);
    localStorage.setItem(nameOf(replyId), next);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void save(replyId, next), SAVED_AFTER);
  };
  return [text, change];
}

/** Forgets it in the browser; the server does so when it takes the answer. */
export function forgetDraft(replyId: number): void {
  localStorage.removeItem(nameOf(replyId));
}

async function save(replyId: number, text: string): Promise<void> {
  try {
    const answer = await fetch("/replies/draft", {
      method: "POST",
      body: new URLSearchParams({ replyId: String(replyId), text }),
    });
    // Only what was not typed on since is kept elsewhere now.
    if (answer.ok && localStorage.getItem(nameOf(replyId)) === text) localStorage.removeItem(nameOf(replyId));
  } catch {
    // It stays in the browser until the next change or visit.
  }
}
