/**
 * What is being typed below a reply: kept by the server, so that another tab and another day have it, and until the
 * server has it in the browser, so that a reload and an outage lose nothing.
 */
import { useCallback, useEffect, useRef, useState } from "react";
import { askServer } from "../components/ask-server";

const SAVED_AFTER = 800;
const nameOf = (replyId: number) => `saudade-answer-${replyId}`;

/** A text, and the key under which it will be sent: one that was is no draft any more. */
interface Draft {
  text: string;
  key: string;
}

export const newKey = () => crypto.randomUUID();

/** `begin` forgets the text, which was sent, and makes the key of the next one. */
export function useKeptDraft(
  replyId: number,
  saved: string,
): Draft & { change: (text: string) => void; begin: () => void } {
  const [text, setText] = useState(saved);
  const [key, setKey] = useState("");
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const begin = useCallback(() => {
    clearTimeout(timer.current);
    localStorage.removeItem(nameOf(replyId));
    setText("");
    setKey(newKey());
  }, [replyId]);
  useEffect(() => {
    const unsaved = inBrowser(replyId);
    setKey(unsaved?.key ?? newKey());
    if (!unsaved) return;
    setText(unsaved.text);
    void save(replyId, unsaved).then((isSent) => isSent && begin());
  }, [replyId, begin]);
  const change = (next: string) => {
    const draft = { text: next, key };
    setText(next);
    localStorage.setItem(nameOf(replyId), JSON.stringify(draft));
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void save(replyId, draft), SAVED_AFTER);
  };
  return { text, key, change, begin };
}

function inBrowser(replyId: number): Draft | null {
  const stored = localStorage.getItem(nameOf(replyId));
  return stored === null ? null : (JSON.parse(stored) as Draft);
}

/** True if it was sent already. What the server did not take stays in the browser until the next change or visit. */
async function save(replyId: number, draft: Draft): Promise<boolean> {
  const body = new URLSearchParams({ replyId: String(replyId), ...draft });
  const answer = await askServer<{ kept: boolean }>("/replies/draft", body);
  if (!answer.ok) return false;
  // Only what was not typed on since is kept elsewhere now.
  if (localStorage.getItem(nameOf(replyId)) === JSON.stringify(draft))
    localStorage.removeItem(nameOf(replyId));
  return !answer.value.kept;
}
