/** The ports of the stand-ins: from the first one on, HTTP, SMTP, an IMAP port for each mailbox, and those of the others. */
import { MAILBOXES } from "./scenario.ts";

export function portsFrom(first: number) {
  const others = first + 2 + MAILBOXES.length;
  return {
    http: first,
    smtp: first + 1,
    /** The first mailbox's; the others follow. */
    imap: first + 2,
    exchanger: others,
    dns: others + 1,
    directory: others + 2,
    assistant: others + 3,
    social: others + 4,
    /** Another program that is told of things. */
    receiver: others + 5,
    crm: others + 6,
    /** The web of the invented companies. */
    sites: others + 7,
    /** Of the mailbox that is not added yet. */
    newImap: others + 8,
  };
}
export type Ports = ReturnType<typeof portsFrom>;

/** All of them, to look whether they are free. */
export const everyPort = ({ http, newImap }: Ports): number[] =>
  Array.from({ length: newImap - http + 1 }, (_, nth) => http + nth);
