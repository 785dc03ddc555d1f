/** Loaded into a program by a test (NODE_OPTIONS): its engine thinks for seconds, again and again, as about a plan for 100,000. */
import { isMainThread } from "node:worker_threads";

const THINKS = 5_000;
const RESTS = 1_000;
const pause = new Int32Array(new SharedArrayBuffer(4));
function think() {
  Atomics.wait(pause, 0, 0, THINKS);
  setTimeout(think, RESTS).unref();
}
if (isMainThread && process.argv[1]?.includes("server/engine/main")) setTimeout(think, RESTS).unref();
