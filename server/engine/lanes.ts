/** One lane for each mailbox: what is slow in one holds up no other. */

export class Lanes {
  private readonly busy = new Map<number, Promise<unknown>>();
  private failure: { error: unknown } | null = null;

  /** Runs `work` in a lane; null if something is still under way in it. */
  run<T>(lane: number, work: () => Promise<T>): Promise<T> | null {
    if (this.busy.has(lane)) return null;
    const done = work()
      .catch((error) => {
        this.failure ??= { error };
        throw error;
      })
      .finally(() => this.busy.delete(lane));
    this.busy.set(lane, done);
    return done;
  }

  /** What is under way. */
  underWay(): Promise<unknown>[] {
    return [...this.busy.values()];
  }

  /** The first failure in any lane since the last call. */
  takeFailure(): { error: unknown } | null {
    const { failure } = this;
    this.failure = null;
    return failure;
  }

  isBusy(lane: number): boolean {
    return this.busy.has(lane);
  }
}

/** Waits for all of them, but no longer than `patience` ms; the late ones go on. */
export async function waitFor(all: readonly (Promise<unknown> | null)[], patience: number): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const enough = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, patience);
  });
  await Promise.race([Promise.allSettled(all.filter((each) => each !== null)), enough]);
  clearTimeout(timer);
}
