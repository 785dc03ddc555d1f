import type { ConnectionCheck } from "../../server/sending/mailboxes/check-connection";
import type { Consequence } from "../../server/sending/mailboxes/consequence";

/** What the mailbox's page answers to what was asked of it. */
export interface Answer {
  check?: ConnectionCheck | null;
  /** Servers that were found, to be put into the form. */
  found?: Record<string, string>;
  consequence?: Consequence | null;
  /** By which a pause, or its end, is undone. */
  undo?: number;
}
