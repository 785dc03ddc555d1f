/**
 * Notices times of which the database knows nothing. Beside the database lies how far it had come; a database that is behind
 * that was restored by hand, or lost its log. A clock that jumped while the engine ran shows against the one that only runs on.
 */
import { existsSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { z } from "zod";
import { MINUTE } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { beginRecovery, newestEvent, newestInstant } from "../db/recoveries.ts";
import { log } from "../log.ts";

/** Servers set their clocks by seconds; more is a jump. */
const JUMP = 2 * MINUTE;
/** The database's newest instant may be as much ahead of the clock. */
const AHEAD = 10 * MINUTE;

export const markFileOf = (database: string): string => `${database}.mark`;
const mark = z.object({ event: z.number().int() });

/** How far the database had come when the engine last said so; null if nobody knows. */
function readMark(path: string): number | null {
  if (!existsSync(path)) return null;
  try {
    return mark.parse(JSON.parse(readFileSync(path, "utf8"))).event;
  } catch (error) {
    log.warn({ path, error: String(error) }, "this file tells nothing; it is written anew");
    return null;
  }
}

export class Marks {
  private written: number | null;
  private offset: number;

  constructor(
    private readonly app: App,
    private readonly steady = () => performance.now(),
    private readonly wall = () => Date.now(),
  ) {
    this.written = null;
    this.offset = wall() - steady();
  }

  /** At the engine's start, before its first look. */
  check(): void {
    const { db, clock, config } = this.app;
    const said = readMark(markFileOf(config.database));
    const newest = newestInstant(db);
    const now = clock.now();
    if (said !== null && newestEvent(db) < said) {
      log.warn({ newest, said }, "the database knows less than it did: it was restored, or lost its log");
      beginRecovery(db, "lost", newest, Math.max(now, newest));
    } else if (newest > now + AHEAD) {
      log.warn({ newest, now }, "the clock was set back: what was sent meanwhile is read first");
      beginRecovery(db, "clock", now, newest);
    }
    this.write();
  }

  /** After each look: notes how far the database has come, and whether the clock has jumped. */
  keep(): void {
    const jumped = this.wall() - this.steady() - this.offset;
    if (Math.abs(jumped) > JUMP) {
      this.offset += jumped;
      const now = this.app.clock.now();
      log.warn({ seconds: Math.round(jumped / 1000) }, "the clock jumped: the engine reads before it sends");
      beginRecovery(this.app.db, "clock", Math.min(now, now - jumped), Math.max(now, now - jumped));
    }
    this.write();
  }

  /** Whole or not at all: what a crash leaves of it is the one before. */
  private write(): void {
    const { db, config } = this.app;
    const event = newestEvent(db);
    if (event === this.written || config.database === ":memory:") return;
    const path = markFileOf(config.database);
    writeFileSync(`${path}.new`, JSON.stringify({ event }), { mode: 0o600 });
    renameSync(`${path}.new`, path);
    this.written = event;
  }
}
