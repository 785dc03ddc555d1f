/** IMAP for one mailbox: an in-memory server filled from what the stand-in remembers. */
import { createRequire } from "node:module";
import type { Server } from "node:net";
import type { Account, StoredMessage } from "./state.ts";

interface ImapServer {
  listen(port: number, host: string, done: () => void): void;
  close(done: () => void): void;
  appendMessage(folder: string, flags: string[], at: Date, raw: string): void;
  on(event: "error", listener: (error: Error) => void): void;
  server: Server;
}

const hoodiecrow = createRequire(import.meta.url)("hoodiecrow-imap") as (options: object) => ImapServer;

/** Messages are numbered as they are added, so a restart gives the same UIDs under the same validity. */
const UID_VALIDITY = 20_260_511;

export interface MailboxServer {
  append(message: Omit<StoredMessage, "address">): void;
  close(): Promise<void>;
}

export function serveMailbox(account: Account, messages: readonly StoredMessage[]): Promise<MailboxServer> {
  const server = hoodiecrow({
    plugins: ["ID", "IDLE", "UIDPLUS", "SPECIAL-USE", "UNSELECT", "SASL-IR", "AUTH-PLAIN", "LITERALPLUS"],
    users: { [account.address]: { password: account.password } },
    storage: {
      INBOX: { uidvalidity: UID_VALIDITY },
      "": { separator: "/", folders: { Sent: { uidvalidity: UID_VALIDITY, "special-use": "\\Sent" } } },
    },
  });
  const append = ({ folder, raw, at }: Omit<StoredMessage, "address">) =>
    // The server works on one character per byte.
    server.appendMessage(folder, folder === "Sent" ? ["\\Seen"] : [], new Date(at), raw.toString("binary"));
  for (const message of messages) append(message);
  // It answers in several small writes, each of which would otherwise wait for the one before.
  server.server.on("connection", (socket) => socket.setNoDelay(true));
  return new Promise((resolve, reject) => {
    server.server.on("error", reject);
    server.listen(account.imapPort, "127.0.0.1", () =>
      resolve({
        append,
        close: () => new Promise<void>((closed) => server.close(() => closed())),
      }),
    );
  });
}
