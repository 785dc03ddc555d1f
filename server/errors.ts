import { ZodError, z } from "zod";
import { plainIssue } from "../core/plain-issue.ts";

// Where a schema says nothing itself, people still get a sentence.
z.config({ customError: plainIssue });

/** The catalogue of errors: a stable code for programs, words for the person who meets it. */
const CATALOGUE = {
  config_invalid: "A setting cannot be used.",
  port_taken: "The port is in use by another program.",
  not_found: "This does not exist, or no longer.",
  sign_in_failed: "This address and password do not belong together.",
  sign_in_paused: "Too many tries. Wait 15 minutes, then try again.",
  sign_in_busy: "Too many are signing in at this moment. Try again in a minute.",
  not_yours: "This belongs to somebody else of the team.",
  database_newer: "The database was written by a newer version of Saudade.",
  key_missing: "The key that belongs to this database is missing or damaged.",
  database_damaged: "The database file is damaged.",
  backup_failed: "The backup could not be made.",
  restore_refused: "This backup cannot be restored.",
  token_refused: "The provider gives no access for this refresh token.",
  slot_taken: "Somebody has just taken this time. Choose another.",
  link_invalid: "This link is not complete. Open it again from the email.",
  directory_failed: "The directory cannot be searched.",
  assistant_failed: "The writing assistant gave no draft.",
} as const;

export type ErrorCode = keyof typeof CATALOGUE;

/** An expected failure. `detail` says what exactly, in words for the same person. */
export class AppError extends Error {
  constructor(
    readonly code: ErrorCode,
    readonly detail: string | null = null,
  ) {
    super(detail ? `${CATALOGUE[code]} ${detail}` : CATALOGUE[code]);
    this.name = "AppError";
  }
}

/** Messages by field ("form" for the whole), and why, where callers tell refusals apart. */
export interface Refused {
  ok: false;
  errors: Record<string, string>;
  code?: ErrorCode;
}

/** What an action answers: a result, or why there is none. */
export type Outcome<T> = { ok: true; value: T } | Refused;

export const done = <T>(value: T): Outcome<T> => ({ ok: true, value });
export const refused = (errors: Record<string, string>): Refused => ({ ok: false, errors });

/** The same outcome, with what `make` makes of its value. */
export const whenDone = <T, U>(outcome: Outcome<T>, make: (value: T) => U): Outcome<U> =>
  outcome.ok ? done(make(outcome.value)) : outcome;

/** The first message for each field of a Zod error. */
export function fieldErrors(error: { issues: readonly { path: readonly PropertyKey[]; message: string }[] }) {
  const errors: Record<string, string> = {};
  for (const issue of error.issues) errors[issue.path.join(".") || "form"] ??= issue.message;
  return errors;
}

const codeOf = (error: unknown) => (error as { code?: string } | null)?.code ?? "";

/** What keeps a service from answering as agreed: `fetch` itself says only that it failed, and keeps the reason as its cause. */
export function unreachedWords(error: unknown): string {
  if (error instanceof ZodError)
    return `its answer is not as agreed (${Object.entries(fieldErrors(error))
      .map(([field, message]) => `${field}: ${message}`)
      .join("; ")})`;
  const cause = error instanceof Error && error.cause instanceof Error ? error.cause : error;
  return (cause instanceof Error ? cause.message || codeOf(cause) : String(cause)).replace(/\.$/, "");
}

/** Whether somebody else held the database for longer than we waited: nothing was written, and a later try may. */
export const isBusy = (error: unknown): boolean => codeOf(error).startsWith("SQLITE_BUSY");

/** Whether the file or the disk failed, and not what was to be written (https://www.sqlite.org/rescode.html). */
export const isDatabaseFault = (error: unknown): boolean =>
  /^SQLITE_(BUSY|LOCKED|CORRUPT|NOTADB|IOERR|FULL|READONLY|CANTOPEN|PROTOCOL|NOMEM)/.test(codeOf(error));

/** What to do about a database that cannot be read any more, or null if the error is another. */
export function damageWords(error: unknown): string | null {
  return /^SQLITE_(CORRUPT|NOTADB)/.test(codeOf(error))
    ? new AppError(
        "database_damaged",
        "Stop Saudade and put back the latest good copy: npm run restore -- FILE. Nightly copies lie in the folder “backups” beside the database.",
      ).message
    : null;
}
