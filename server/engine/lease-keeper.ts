/**
 * A thread that renews the engine's lease, however long the engine's own thread thinks about a plan. It tells its engine
 * of each round: whether the lease is held, or why it could not be renewed.
 */
import { parentPort, workerData } from "node:worker_threads";
import { openDb } from "../db/open.ts";
import { holdLease } from "./lease.ts";

export type KeeperSays = { held: boolean } | { trouble: string };

const { database, holder, lasts } = workerData as { database: string; holder: string; lasts: number };
const db = openDb(database);
const renewing = setInterval(() => {
  let says: KeeperSays;
  try {
    says = { held: holdLease(db, holder, Date.now(), lasts) };
  } catch (error) {
    says = { trouble: error instanceof Error ? error.message : String(error) };
  }
  parentPort?.postMessage(says);
}, lasts / 4);
parentPort?.once("message", () => {
  clearInterval(renewing);
  db.close();
  process.exit(0);
});
