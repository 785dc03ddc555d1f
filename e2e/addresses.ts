/** Where the worlds of the browser tests are: the one that is made, and for each of Playwright's workers a copy of it. */
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Place } from "../demo/copy-world.ts";
import { portsFrom } from "../demo/ports.ts";

const FIRST_PORT = 3960;
const FIRST_STANDIN_PORT = 4900;
/** A test may ask for a mailbox more. */
const STANDIN_PORTS = 30;

function place(nth: number): Place {
  const folder = join(process.env.SAUDADE_E2E_FOLDER ?? tmpdir(), String(nth));
  return {
    folder,
    url: `http://127.0.0.1:${FIRST_PORT + nth}`,
    ports: portsFrom(FIRST_STANDIN_PORT + nth * STANDIN_PORTS),
  };
}

export const MADE = place(0);
/** This worker's own (Playwright counts them from 0; outside a worker there is none). */
export const HERE = place(1 + Number(process.env.TEST_PARALLEL_INDEX ?? 0));
/** Of a mailbox that a test adds by hand. */
export const SPARE_PORT = HERE.ports.http + STANDIN_PORTS - 1;
