/** Mail doors without a wire: a server that answers as it is told, and keeps what it was sent. */
import type { ComposedEmail } from "../mail/compose.ts";
import type { MailDoors } from "../mail/doors.ts";
import type { IsOurs, Sender, SendResult } from "../mail/smtp.ts";

const TAKEN: SendResult = { result: "sent", answer: "250 Taken" };

export interface OpenDoors {
  doors: MailDoors;
  sent: ComposedEmail[];
  /** Asked what to send for: whether each was still its sender's. */
  ours: boolean[];
  /** How often somebody knocked, and how often a connection was given back unused. */
  opened: number;
  released: number;
}

export function openDoors({
  answer = () => TAKEN,
  isShut = null,
  isKept = true,
  sentFolder = [],
  readAgainAt = 0,
}: {
  answer?: (email: ComposedEmail, nth: number) => SendResult;
  /** Why it lets nobody in. */
  isShut?: string | null;
  /** Whether a connection is open already. */
  isKept?: boolean;
  /** Message-IDs in the Sent folder; null for one that cannot be read. */
  sentFolder?: readonly string[] | null;
  readAgainAt?: number;
} = {}): OpenDoors {
  const ready = {} as NonNullable<ReturnType<Sender["openKept"]>>;
  const box: OpenDoors = { doors: null as never, sent: [], ours: [], opened: 0, released: 0 };
  const sender = {
    open: () => {
      box.opened++;
      return Promise.resolve(isShut === null ? ready : { result: "unreachable", words: isShut });
    },
    openKept: () => (isKept && isShut === null ? ready : null),
    release: () => {
      box.released++;
    },
    send: (email: ComposedEmail, _: unknown, isOurs: IsOurs = () => true) => {
      box.ours.push(isOurs());
      const result = answer(email, box.sent.length);
      box.sent.push(email);
      return Promise.resolve(result);
    },
  };
  const folders = {
    kill: () => {},
    sentAmong: (ids: readonly string[]) =>
      sentFolder === null
        ? Promise.reject(new Error("no such folder"))
        : Promise.resolve(new Set(ids.filter((id) => sentFolder.includes(id)))),
  };
  box.doors = { of: () => ({ sender, folders, readAgainAt }) } as unknown as MailDoors;
  return box;
}
