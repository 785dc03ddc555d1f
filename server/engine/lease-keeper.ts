/** A thread that renews the engine's lease, however long the engine's own thread thinks about a plan. */
import { parentPort, workerData } from "node:worker_threads";
import { openDb } from "../db/open.ts";
import { holdLease } from "./lease.ts";

const { database, holder, lasts } = workerData as { database: string; holder: string; lasts: number };
const db = openDb(database);
const renewing = setInterval(() => {
  try {
    parentPort?.postMessage(holdLease(db, holder, Date.now(), lasts));
  } catch {
    // Locked or damaged: the next round tries again, and the engine says what is wrong.
  }
}, lasts / 4);
parentPort?.once("message", () => {
  clearInterval(renewing);
  db.close();
  process.exit(0);
});
