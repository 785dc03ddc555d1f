/** An email that was begun and not sent, kept in this browser until it is. */
import type { z } from "zod";
import type { oneEmailSchema } from "../../core/sequence/one-email";

interface Kept {
  email: Partial<z.input<typeof oneEmailSchema>>;
  /** What was typed of when it leaves. */
  said: string;
}

const keyOf = (prospectId: number) => `email to ${prospectId}`;

export function kept(prospectId: number): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(keyOf(prospectId)) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

export function keep(prospectId: number, what: object): void {
  try {
    localStorage.setItem(keyOf(prospectId), JSON.stringify(what));
  } catch {
    // A browser that keeps nothing only forgets it on leaving.
  }
}

export const forget = (prospectId: number): void => localStorage.removeItem(keyOf(prospectId));
