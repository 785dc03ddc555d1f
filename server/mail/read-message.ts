/**
 * Parses strangers' messages in a thread of their own, one after the other: one that does not end in time, or wants
 * too much memory, is given up, and the thread with it.
 */
import type { Piscina } from "piscina";
import { threadFor } from "../threads.ts";
import type { ParsedMessage } from "./parse.ts";

/** A usual message takes some milliseconds. */
export const PATIENCE = 5_000;
const MEMORY_MB = 256;

let pool: Piscina | null = null;
/** Whether the thread has parsed anything yet: its start is not a message's fault. */
let warm = false;
let last: Promise<unknown> = Promise.resolve();

/** Throws if the message cannot be parsed, or not within `patience` ms. */
export function readMessage(source: Buffer, arrivedAt: number, patience = PATIENCE): Promise<ParsedMessage> {
  const read = last.then(() => parseInTime(source, arrivedAt, patience));
  last = read.catch(() => {});
  return read;
}

async function parseInTime(source: Buffer, arrivedAt: number, patience: number): Promise<ParsedMessage> {
  pool ??= threadFor("server/mail/parse-worker.ts", { memoryMb: MEMORY_MB });
  if (!warm) await pool.run({ source: Buffer.from("Subject: warm\r\n\r\n"), arrivedAt });
  warm = true;
  const late = new AbortController();
  const timer = setTimeout(() => late.abort(), patience);
  try {
    return await pool.run({ source, arrivedAt }, { signal: late.signal });
  } catch (error) {
    warm = false; // the thread may have gone with it
    throw late.signal.aborted ? new Error(`It could not be read within ${patience / 1000} seconds.`) : error;
  } finally {
    clearTimeout(timer);
  }
}

/** Ends the thread; the next message starts another. */
export async function stopReading(): Promise<void> {
  const ended = pool;
  pool = null;
  warm = false;
  await ended?.destroy();
}
