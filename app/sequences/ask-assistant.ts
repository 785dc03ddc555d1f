/** Asks the writing assistant from a page; what is waited for can be cancelled. */
import { useEffect, useRef, useState } from "react";
import type { Outcome } from "../../server/errors";
import { askServer } from "../components/ask-server";

/** By the task: the number of a sequence that was made, an email, or other wordings. */
export interface Help {
  id?: number;
  email?: { subject: string; text: string };
  wordings?: string[];
}

export function useAssistant() {
  const [isAsking, setAsking] = useState(false);
  const asked = useRef<AbortController | null>(null);
  useEffect(() => () => asked.current?.abort(), []);
  /** Null where it was cancelled. */
  async function ask(body: Record<string, unknown>): Promise<Outcome<Help> | null> {
    const controller = new AbortController();
    asked.current?.abort();
    asked.current = controller;
    setAsking(true);
    const answer = await askServer<Help>("/sequences/help", body, controller.signal);
    if (asked.current === controller) setAsking(false);
    return controller.signal.aborted ? null : answer;
  }
  return { ask, isAsking, cancel: () => asked.current?.abort() };
}
