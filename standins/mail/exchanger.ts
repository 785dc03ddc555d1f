/** The other end of the simulated world's mail: a server that says who is there (RFC 5321 3.3) and takes no message. */
import { SMTPServer } from "smtp-server";
import { isThere, kindOf } from "../domains.ts";

const refusal = (code: number, words: string) => Object.assign(new Error(words), { responseCode: code });

export function createExchanger(): SMTPServer {
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ["AUTH", "STARTTLS"],
    disableReverseLookup: true,
    onRcptTo({ address }, _session, done) {
      const recipient = address.toLowerCase();
      const kind = kindOf(recipient.slice(recipient.lastIndexOf("@") + 1));
      if (kind === "later") return done(refusal(451, "4.7.1 greylisted, try again later"));
      if (kind !== "accepts-all" && !isThere(recipient)) return done(refusal(550, "5.1.1 no such user here"));
      done();
    },
    onData(_stream, _session, done) {
      done(refusal(554, "5.7.1 this door takes no mail"));
    },
  });
}
