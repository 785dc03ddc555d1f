/** Starts every thread, in the one way that works from the sources and from the build alike: by its path from the project's root. */
import { Worker } from "node:worker_threads";
import { Piscina } from "piscina";
import { built } from "./processes.ts";

/** A thread for as long as it is wanted; its `workerData` holds `data`. Whoever starts it listens to "error", and tells. */
export const startThread = (path: string, data: object): Worker =>
  new Worker(built(path), { workerData: data });

/**
 * One thread that answers questions one after the other. `memoryMb` ends it where a question wants more; `stays` false:
 * it ends a minute after the last question.
 */
export const threadFor = (
  path: string,
  { memoryMb, stays = true }: { memoryMb?: number; stays?: boolean } = {},
): Piscina =>
  new Piscina({
    filename: built(path),
    minThreads: stays ? 1 : 0,
    maxThreads: 1,
    idleTimeout: 60_000,
    // Of what its process was started with (a test's loader), a thread needs nothing.
    execArgv: [],
    ...(memoryMb === undefined ? {} : { resourceLimits: { maxOldGenerationSizeMb: memoryMb } }),
  });
