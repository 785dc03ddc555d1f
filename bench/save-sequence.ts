/** Saving a running sequence with 50,000 prospects on their way, by what changed, against one bare update of their due dates. */
import type { App } from "../server/app.ts";
import { sequenceById } from "../server/db/sequences.ts";
import { saveSequence } from "../server/sequences/save-sequence.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { addMailbox, addPeople, addSequence, createWorld, email } from "../server/tests/world.ts";
import { type Figure, median } from "./figure.ts";

const JOURNEYS = 50_000;
const ROUNDS = 5;

interface Change {
  wait: number;
  body: string;
  hour: number;
}

/** Saves the sequence as it is but for the change; milliseconds. */
function save(app: App, id: number, { wait, body, hour }: Change): number {
  const before = sequenceById(app.db, id);
  if (!before) throw new Error("The sequence is gone.");
  const path = [email("one", wait, { subject: "Loans", body }), ...before.path.slice(1)];
  const began = performance.now();
  const saved = saveSequence(app, {
    ...before,
    days: [...before.hours.days],
    closes: before.hours.closes,
    opens: `${String(hour).padStart(2, "0")}:00`,
    path,
  });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
  return performance.now() - began;
}

export async function benchSaveSequence(): Promise<Figure> {
  const world = await createWorld();
  try {
    const { app } = world;
    const mailbox = await addMailbox(world, "marta@quillwater.example");
    const list = addPeople(
      world,
      Array.from({ length: JOURNEYS }, (_, nth) => `p${nth}`),
    );
    const id = addSequence(world, list, [mailbox]);
    const started = startSequence(app, world.userId, id);
    if (!started.ok) throw new Error(JSON.stringify(started.errors));
    const rounds = Array.from({ length: ROUNDS }, (_, nth) => nth);
    const bare = rounds.map(() => {
      const began = performance.now();
      app.db.exec("UPDATE journeys SET due_at = due_at + 1");
      return performance.now() - began;
    });
    const base = median(bare);
    const words = median(rounds.map((nth) => save(app, id, { wait: 0, body: `Hello ${nth}`, hour: 8 })));
    const hours = median(rounds.map((nth) => save(app, id, { wait: 0, body: "Hello", hour: 7 + (nth % 2) })));
    const waits = median(rounds.map((nth) => save(app, id, { wait: nth % 2, body: "Hello", hour: 8 })));
    return {
      bench: "save-sequence",
      ratio: Number((Math.max(words, hours, waits) / base).toFixed(2)),
      limit: 25,
      kind: "most",
      journeys: JOURNEYS,
      wordsMs: Math.round(words),
      hoursMs: Math.round(hours),
      waitsMs: Math.round(waits),
      bareMs: Math.round(base),
    };
  } finally {
    await world.close();
  }
}
