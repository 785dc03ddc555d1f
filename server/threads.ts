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

/**
 * One thread for what strangers wrote, asked one question after the other: one that is not answered in time, or wants too much
 * memory, is given up, and the thread with it; the next question gets another.
 */
export class GuardedThread<Question, Answer> {
  private pool: Piscina | null = null;
  /** Whether it has answered anything yet: its start is no question's fault. */
  private warm = false;
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly path: string,
    private readonly options: { memoryMb: number; stays?: boolean; patience: number; warmUp: Question },
  ) {}

  /** Waiting for those before does not count. Throws what the thread throws, and if it takes more than `patience` ms. */
  ask(question: Question, patience = this.options.patience): Promise<Answer> {
    const answer = this.last.then(() => this.inTime(question, patience));
    this.last = answer.catch(() => {});
    return answer;
  }

  private async inTime(question: Question, patience: number): Promise<Answer> {
    this.pool ??= threadFor(this.path, this.options);
    if (!this.warm) await this.pool.run(this.options.warmUp).catch(() => {});
    this.warm = true;
    const late = new AbortController();
    const timer = setTimeout(() => late.abort(), patience);
    try {
      return await this.pool.run(question, { signal: late.signal });
    } catch (error) {
      this.warm = false; // the thread may have gone with it
      throw late.signal.aborted
        ? new Error(`It could not be read within ${patience / 1000} seconds.`)
        : error;
    } finally {
      clearTimeout(timer);
    }
  }

  /** Ends the thread; the next question starts another. */
  async stop(): Promise<void> {
    const ended = this.pool;
    this.pool = null;
    this.warm = false;
    await ended?.destroy();
  }
}
