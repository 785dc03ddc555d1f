/** Signatures of the Standard Webhooks scheme (https://www.standardwebhooks.com): HMAC-SHA256 over id, time and body. */
import { createHmac, randomBytes } from "node:crypto";

const MARK = "whsec_";

/** A secret as receivers keep it: 32 bytes in base64 behind a mark. */
export const newSecret = (): string => `${MARK}${randomBytes(32).toString("base64")}`;

function signature(secret: string, content: string): string {
  const key = Buffer.from(secret.slice(MARK.length), "base64");
  return `v1,${createHmac("sha256", key).update(content).digest("base64")}`;
}

/** The headers of one try; `seconds`: the time of the try, which a receiver compares with its own. Each secret signs. */
export function signedHeaders(id: string, seconds: number, body: string, secrets: readonly string[]) {
  return {
    "webhook-id": id,
    "webhook-timestamp": String(seconds),
    "webhook-signature": secrets.map((secret) => signature(secret, `${id}.${seconds}.${body}`)).join(" "),
  };
}
