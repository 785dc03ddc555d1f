/** Signatures of the Standard Webhooks scheme (https://www.standardwebhooks.com): HMAC-SHA256 over id, time and body. */
import { createHmac, randomBytes, timingSafeEqual } from "node:crypto";

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

/** Older or newer than this, what is signed is a replay. */
const TOLERANCE_S = 5 * 60;

/** Whether what came in was signed with a secret, and just now; `wall` in ms. */
export function isSigned(
  headers: Readonly<Record<string, string | string[] | undefined>>,
  body: string,
  secret: string,
  wall: number,
): boolean {
  const [id, seconds, given] = ["webhook-id", "webhook-timestamp", "webhook-signature"].map((name) =>
    String(headers[name] ?? ""),
  ) as [string, string, string];
  if (!/^\d{1,12}$/.test(seconds) || Math.abs(wall / 1_000 - Number(seconds)) > TOLERANCE_S) return false;
  const expected = Buffer.from(signature(secret, `${id}.${seconds}.${body}`));
  return given.split(" ").some((each) => {
    const signed = Buffer.from(each);
    return signed.length === expected.length && timingSafeEqual(signed, expected);
  });
}
