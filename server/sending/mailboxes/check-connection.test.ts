import { createServer, type Server } from "node:net";
import { afterEach, expect, it } from "vitest";
import { createWorld, PASSWORD, type World } from "../../tests/world.ts";
import { checkConnection } from "./check-connection.ts";

let world: World;
let listening: Server | null = null;
afterEach(async () => {
  listening?.close();
  listening = null;
  await world.close();
});

async function greeting(words: string): Promise<number> {
  const server = createServer((socket) => socket.on("error", () => {}).end(words));
  listening = server;
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return (server.address() as { port: number }).port;
}

const check = async (port: number) => {
  const began = performance.now();
  const outcome = await checkConnection(world.app, world.user, {
    address: "marta@own.example",
    senderName: "Marta",
    smtpHost: "127.0.0.1",
    smtpPort: port,
    smtpSecurity: "none",
    imapHost: "127.0.0.1",
    imapPort: port,
    imapSecurity: "none",
    username: "marta",
    password: PASSWORD,
    dailyLimit: 30,
    gapLeast: 1,
    gapMost: 2,
  });
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
  return { ...outcome.value, took: performance.now() - began };
};

it("says of a host inside the network that no mailbox uses neither which port is open nor what speaks there", async () => {
  world = await createWorld({ standin: false, env: { SAUDADE_INSIDE: "" } });
  const [open, closed] = await Promise.all([greeting("SSH-2.0-OpenSSH\r\n").then(check), check(1)]);
  expect([open.smtp, open.imap]).toEqual([closed.smtp, closed.imap]);
  expect(open.smtp).toContain("SAUDADE_INSIDE");
  // Nor does the time tell: each takes as long.
  expect(Math.min(open.took, closed.took)).toBeGreaterThan(5_900);
});

it("says what is wrong where the host was allowed, or a mailbox uses it", async () => {
  world = await createWorld({ standin: false });
  expect((await check(1)).smtp).toContain("127.0.0.1:1");
  await world.close();
  world = await createWorld({ standin: false, env: { SAUDADE_INSIDE: "" } });
  world.app.db.exec(
    `INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security, username,
       password_sealed, daily_limit, gap_least, gap_most, created_at) VALUES (1, 1, 'm@own.example', 'M', '127.0.0.1', 25, 'none', 'h', 1, 'none', 'm', '', 5, 1, 2, 1)`,
  );
  expect((await check(1)).imap).toContain("127.0.0.1:1");
});
