/** Keeps processes running: one that ends, or does not even start, is started again, for ever. */
import { log } from "./log.ts";
import { type Started, startProcess } from "./processes.ts";

/** The first failure is followed at once; after each further one in a row the next try waits twice as long. */
const FIRST_REST = 1_000;
const LONGEST_REST = 60_000;
/** Whoever ran so long has recovered: the next failure is a first one again. */
const RECOVERED_AFTER = 60_000;

/** Milliseconds until the next try after so many failures in a row. */
const restAfter = (failures: number) =>
  failures <= 1 ? 0 : Math.min(LONGEST_REST, FIRST_REST * 2 ** (failures - 2));

type Start = (
  name: string,
  file: string,
  env: Record<string, string>,
) => Promise<Pick<Started, "child" | "stop">>;

export class Supervisor {
  private readonly running = new Map<string, Pick<Started, "stop">>();
  private stopping = false;

  constructor(private readonly start: Start = startProcess) {}

  /**
   * Starts a process, and from then on again whenever it ends. Throws if this first start fails: somebody looks at it,
   * and a mistake in the settings does not mend itself.
   */
  async keep(name: string, file: string, failures = 0): Promise<void> {
    const started = await this.start(name, file, {});
    if (this.stopping) return started.stop();
    this.running.set(name, started);
    const began = Date.now();
    started.child.once("exit", (code) => {
      if (this.stopping) return;
      log.error({ process: name, code }, "ended; starting it again");
      this.tryAgain(name, file, Date.now() - began > RECOVERED_AFTER ? 1 : failures + 1);
    });
  }

  private tryAgain(name: string, file: string, failures: number): void {
    setTimeout(async () => {
      if (this.stopping) return;
      try {
        await this.keep(name, file, failures);
      } catch (error) {
        log.error({ process: name, error: String(error) }, "did not start; trying again");
        this.tryAgain(name, file, failures + 1);
      }
    }, restAfter(failures));
  }

  /** Stops all of them; nothing is started again. */
  async stop(): Promise<void> {
    this.stopping = true;
    await Promise.all([...this.running.values()].map((each) => each.stop()));
  }
}
