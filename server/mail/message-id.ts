/**
 * The Message-ID of a step's email: made from the step, so that it is the same however often the step is tried, in a
 * restored database too. So a second copy is known as one by whoever has the first, and the Sent folder tells what left.
 */
import { createHmac } from "node:crypto";

export interface StepEmail {
  journeyId: number;
  stepId: string;
  /** Journeys of a restored database may be numbered as lost ones were: the address tells them apart. */
  recipient: string;
}

/** The part before the @: 32 letters that tell nothing to who has no key. */
export const localPart = (key: Buffer, { journeyId, stepId, recipient }: StepEmail): string =>
  createHmac("sha256", key)
    .update(`message-id\n${journeyId}\n${stepId}\n${recipient.toLowerCase()}`)
    .digest("base64url")
    .slice(0, 32);

/** RFC 5322 3.6.4. `sender`: the mailbox's address, whose domain stands behind the @. */
export const stepMessageId = (key: Buffer, email: StepEmail, sender: string): string =>
  `<${localPart(key, email)}@${sender.slice(sender.lastIndexOf("@") + 1)}>`;
