/** Asks the writing assistant from a page; what is waited for can be cancelled. */
import { useEffect, useRef, useState } from "react";

export interface HelpAnswer {
  errors?: Record<string, string>;
  id?: number;
  email?: { subject: string; text: string };
  wordings?: string[];
}

export function useAssistant() {
  const [isAsking, setAsking] = useState(false);
  const asked = useRef<AbortController | null>(null);
  useEffect(() => () => asked.current?.abort(), []);
  async function ask(body: Record<string, unknown>): Promise<HelpAnswer | null> {
    const controller = new AbortController();
    asked.current?.abort();
    asked.current = controller;
    setAsking(true);
    try {
      const response = await fetch("/sequences/help", {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(body),
        signal: controller.signal,
      });
      if (!response.ok) return { errors: { form: await response.text() } };
      return (await response.json()) as HelpAnswer;
    } catch {
      return controller.signal.aborted
        ? null
        : { errors: { form: "No connection. What you wrote is kept; try again." } };
    } finally {
      if (asked.current === controller) setAsking(false);
    }
  }
  return { ask, isAsking, cancel: () => asked.current?.abort() };
}
