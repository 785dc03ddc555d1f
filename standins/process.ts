/** What every stand-in's process does alike, whether one is served in it or all of them. */

let opening = 0;

/** Opens a stand-in. Its process says that it is ready once all in it listen, and ends on a signal and with its parent. */
export async function serve(open: () => Promise<unknown>): Promise<void> {
  if (opening === 0)
    for (const end of ["SIGINT", "SIGTERM", "disconnect"]) process.on(end, () => process.exit(0));
  opening++;
  await open();
  if (--opening === 0) process.send?.("ready", undefined, undefined, (error) => error && process.exit(0));
}

/** Listens on this machine only. */
export const listen = (
  server: { listen(port: number, host: string, ready: () => void): unknown },
  port: number,
) => new Promise<void>((resolve) => server.listen(port, "127.0.0.1", resolve));
