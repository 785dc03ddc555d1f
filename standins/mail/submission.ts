/** SMTP: takes email from the mailboxes' owners, keeps a copy in Sent, and hands it to the recipients. */
import { simpleParser } from "mailparser";
import { SMTPServer } from "smtp-server";
import type { createMoods } from "./misbehaviour.ts";
import type { createRecipients } from "./recipients.ts";
import type { State } from "./state.ts";

interface Parts {
  state: State;
  recipients: ReturnType<typeof createRecipients>;
  moods: ReturnType<typeof createMoods>;
  /** Puts a message into a mailbox's folder and keeps it. */
  store: (address: string, folder: "INBOX" | "Sent", raw: Buffer, at: number) => void;
}

const refusal = (code: number, words: string) => Object.assign(new Error(words), { responseCode: code });

export function createSubmission({ state, recipients, moods, store }: Parts): SMTPServer {
  const isAccount = (address: string) => state.accounts().some((account) => account.address === address);
  return new SMTPServer({
    authOptional: false,
    disabledCommands: ["STARTTLS"],
    allowInsecureAuth: true,
    size: 20 * 1024 * 1024,
    // Looking up the client's name would ask a DNS that may not be there.
    disableReverseLookup: true,
    onAuth({ username, password }, _session, done) {
      const account = state.accounts().find(({ address }) => address === username);
      if (!account || account.password !== password) return done(refusal(535, "5.7.8 authentication failed"));
      done(null, { user: account.address });
    },
    async onRcptTo({ address }, _session, done) {
      if (moods.takes("slow_rcpt")) await new Promise((resolve) => setTimeout(resolve, moods.slowMs()));
      const recipient = address.toLowerCase();
      if (moods.takes("refuse_policy"))
        return done(refusal(553, "5.7.1 sender address rejected: not owned by user"));
      if (moods.takes("refuse_rules")) return done(refusal(550, "5.7.1 message rejected by local policy"));
      if (moods.takes("refuse_later")) return done(refusal(451, "4.7.1 try again later"));
      if (!isAccount(recipient) && recipients.refuses(recipient))
        return done(refusal(550, "5.1.1 no such user here"));
      done();
    },
    onData(stream, session, done) {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => chunks.push(chunk));
      stream.on("end", async () => {
        const drop = () =>
          (this as unknown as SMTPServer).connections.forEach((connection) => {
            const { id, _socket } = connection as unknown as { id: string; _socket: { destroy(): void } };
            if (id === session.id) _socket.destroy();
          });
        try {
          if (moods.takes("drop_before")) return drop();
          if (moods.takes("refuse")) return done(refusal(554, "5.6.0 the content cannot be taken"));
          if (moods.takes("slow")) await new Promise((resolve) => setTimeout(resolve, moods.slowMs()));
          const raw = Buffer.concat(chunks);
          const mail = await simpleParser(raw, { skipImageLinks: true });
          const now = state.now();
          state.together(() => {
            store(session.user as string, "Sent", raw, now);
            for (const { address } of session.envelope.rcptTo) {
              const recipient = address.toLowerCase();
              if (isAccount(recipient)) store(recipient, "INBOX", raw, now);
              else recipients.receive(recipient, mail, now);
            }
          });
          if (moods.takes("drop_after")) return drop();
          done();
        } catch (error) {
          done(error instanceof Error ? error : new Error(String(error)));
        }
      });
    },
  });
}
