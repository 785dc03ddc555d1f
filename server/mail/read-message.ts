/** Parses strangers' messages in a thread of their own; one that takes too long is given up. */
import { GuardedThread } from "../threads.ts";
import type { ParsedMessage } from "./parse.ts";

/** A usual message takes some milliseconds. */
export const PATIENCE = 5_000;

const thread = new GuardedThread<{ source: Buffer; arrivedAt: number }, ParsedMessage>(
  "server/mail/parse-worker.ts",
  {
    ...{ memoryMb: 256, patience: PATIENCE },
    warmUp: { source: Buffer.from("Subject: warm\r\n\r\n"), arrivedAt: 0 },
  },
);

/** Throws if the message cannot be parsed, or not within `patience` ms. */
export const readMessage = (source: Buffer, arrivedAt: number, patience = PATIENCE): Promise<ParsedMessage> =>
  thread.ask({ source, arrivedAt }, patience);

/** Ends the thread; the next message starts another. */
export const stopReading = (): Promise<void> => thread.stop();
