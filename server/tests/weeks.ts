/** Weeks of sending in which things go wrong: servers break off or refuse, the engine ends, mailboxes and people are stopped. */
import { setTimeout as pause } from "node:timers/promises";
import { type Draw, seeded } from "../../core/random.ts";
import { advance } from "../engine/advance.ts";
import { Engine } from "../engine/tick.ts";
import { setMailboxState } from "../sending/mailboxes/save-mailbox.ts";
import { stopByRep } from "../sequences/stop-by-rep.ts";
import { rows, type World } from "./world.ts";

export class Weeks {
  engine: Engine;
  /** Who was stopped by hand, by address, and when. */
  readonly stopped = new Map<string, number>();
  private readonly draw: Draw;

  /** The same `seed` brings the same faults at the same times. */
  constructor(
    private readonly world: World,
    private readonly mailboxIds: readonly number[],
    seed: string,
  ) {
    this.engine = new Engine(world.app);
    this.draw = seeded("weeks", seed);
  }

  /** From `least` to `most`, by chance. */
  between = (least: number, most: number): number => Math.ceil(least + this.draw() * (most - least));

  /** Walks to an instant, and on until the Sent folders have settled what a broken connection left open. */
  async until(at: number): Promise<void> {
    await advance(this.engine, { id: 0, kind: "until", until: at }, () => true, false);
    while (rows(this.world, "SELECT 1 FROM touches WHERE state = 'claimed' LIMIT 1").length > 0) {
      await pause(300);
      await this.engine.tick();
    }
  }

  async somethingGoesWrong(): Promise<void> {
    const { world, mailboxIds } = this;
    const { app, user } = world;
    const faults: (() => unknown)[] = [
      () => world.tell("/misbehave", { kind: "drop_after", times: 1 }),
      () => world.tell("/misbehave", { kind: "refuse_later", times: 2 }),
      () => world.restartStandin(),
      async () => {
        await this.engine.close();
        this.engine = new Engine(app);
      },
      () => setMailboxState(app, user, this.anyOf(mailboxIds), "paused"),
      () => this.allMailboxesGo(),
      () => {
        const person = this.anyOf(
          rows<{ id: number; email: string }>(world, "SELECT id, email FROM prospects ORDER BY id"),
        );
        stopByRep(app, person.id);
        if (!this.stopped.has(person.email)) this.stopped.set(person.email, app.clock.now());
      },
    ];
    await this.anyOf(faults)();
  }

  allMailboxesGo(): void {
    for (const id of this.mailboxIds) setMailboxState(this.world.app, this.world.user, id, "active");
  }

  /** When somebody was stopped, for whoever judges; null for those who had everything before. */
  stoppedAt(): (address: string) => number | null {
    const finished = new Set(
      rows<{ email: string }>(
        this.world,
        "SELECT p.email FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE j.state = 'finished'",
      ).map(({ email }) => email),
    );
    return (address) => (finished.has(address) ? null : (this.stopped.get(address) ?? null));
  }

  private anyOf<Item>(items: readonly Item[]): Item {
    return items[Math.floor(this.draw() * items.length)] as Item;
  }
}
