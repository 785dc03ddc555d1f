import { isPortFree } from "../processes.ts";

/**
 * Below the range from which systems give out ports by themselves (RFC 6335 6; Linux: from 32768 up), or somebody's
 * outgoing connection could take one before its server starts. Each of Vitest's workers has its own two thousand.
 */
const FIRST = 12_000 + 2_000 * Number(process.env.VITEST_POOL_ID ?? 0);
let next = FIRST + Math.floor(Math.random() * 1_500);

/** A port of this machine on which a test can start a server. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = ++next;
    if (await isPortFree(port)) return port;
  }
}
