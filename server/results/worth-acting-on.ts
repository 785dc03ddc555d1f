/** Of several sequences the few findings that are worth most; what somebody set aside is left out. */
import type { Piscina } from "piscina";
import type { Finding } from "../../core/results/findings.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { log } from "../log.ts";
import { threadFor } from "../threads.ts";
import { traceOf } from "../trace.ts";
import type { Asked } from "./findings-worker.ts";
import { setAsideKeys } from "./set-aside.ts";

export interface WorthActingOn {
  sequenceId: number;
  name: string;
  finding: Finding;
}

const MOST = 3;

let pool: Piscina | null = null;

/** Ends the thread; the next question starts another. */
export async function stopFinding(): Promise<void> {
  const ended = pool;
  pool = null;
  await ended?.destroy();
}

/** Null where it could not be worked out: the figures stand without. */
export async function worthActingOn(
  app: App,
  by: By,
  sequences: readonly { id: number; name: string }[],
  zone: string,
): Promise<WorthActingOn[] | null> {
  if (sequences.length === 0) return [];
  try {
    return await mostWorth(app, by, sequences, zone);
  } catch (error) {
    log.error({ error: traceOf(error) }, "findings failed");
    return null;
  }
}

async function mostWorth(
  app: App,
  by: By,
  sequences: readonly { id: number; name: string }[],
  zone: string,
): Promise<WorthActingOn[]> {
  pool ??= threadFor("server/results/findings-worker.ts", { stays: false });
  const asked: Asked = { config: app.config, by, sequenceIds: sequences.map(({ id }) => id), zone };
  const found: Finding[][] = await pool.run(asked);
  return sequences
    .flatMap(({ id, name }, nth) => {
      const aside = setAsideKeys(app.db, by, id);
      return (found[nth] ?? [])
        .filter(({ kind, key }) => kind !== "wordings_open" && !aside.has(key))
        .map((finding) => ({ sequenceId: id, name, finding }));
    })
    .sort((a, b) => b.finding.worth - a.finding.worth)
    .slice(0, MOST);
}
