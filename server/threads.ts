/**
 * Starts every thread, in the one way that works from the sources and from the build alike: by its path from the
 * project's root, behind an entry that brings the loader for TypeScript, which a thread does not inherit from its process.
 */
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { Worker } from "node:worker_threads";
import { Piscina } from "piscina";
import { projectRoot } from "./config.ts";

const EXEC_ARGV = ["--import", "tsx"];
const fileOf = (path: string) => join(projectRoot, path);

/** A thread for as long as it is wanted; its `workerData` holds `data`. Whoever starts it listens to "error", and tells. */
export const startThread = (path: string, data: object): Worker =>
  new Worker(fileOf("server/thread-entry.mjs"), {
    workerData: { ...data, file: pathToFileURL(fileOf(path)).href },
  });

/**
 * One thread that answers questions one after the other. `memoryMb` ends it where a question wants more; `stays` false:
 * it ends a minute after the last question.
 */
export const threadFor = (
  path: string,
  { memoryMb, stays = true }: { memoryMb?: number; stays?: boolean } = {},
): Piscina =>
  new Piscina({
    filename: fileOf(path),
    execArgv: EXEC_ARGV,
    minThreads: stays ? 1 : 0,
    maxThreads: 1,
    idleTimeout: 60_000,
    ...(memoryMb === undefined ? {} : { resourceLimits: { maxOldGenerationSizeMb: memoryMb } }),
  });
