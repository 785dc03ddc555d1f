/** The key and what is done with it: sealed mailbox passwords, signed links, hashed passwords. */
import {
  createCipheriv,
  createDecipheriv,
  createHash,
  createHmac,
  randomBytes,
  scrypt,
  timingSafeEqual,
} from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";
import { promisify } from "node:util";
import type { Config } from "./config.ts";

/** The key from the environment, or one kept beside the database, made on the first start. */
export function loadKey(config: Pick<Config, "key" | "database">): Buffer {
  if (config.key) return Buffer.from(config.key, "hex");
  const path = `${config.database}.key`;
  if (!existsSync(path)) {
    mkdirSync(dirname(path), { recursive: true });
    try {
      writeFileSync(path, randomBytes(32).toString("hex"), { mode: 0o600, flag: "wx" });
    } catch (error) {
      // Another process of the same start made it first.
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
    }
  }
  return Buffer.from(readFileSync(path, "utf8").trim(), "hex");
}

/** AES-256-GCM (NIST SP 800-38D); "iv.tag.text" in base64url. */
export function seal(text: string, key: Buffer): string {
  const iv = randomBytes(12);
  const cipher = createCipheriv("aes-256-gcm", key, iv);
  const sealed = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
  return [iv, cipher.getAuthTag(), sealed].map((part) => part.toString("base64url")).join(".");
}

export function unseal(sealed: string, key: Buffer): string {
  const [iv, tag, text] = sealed.split(".").map((part) => Buffer.from(part, "base64url"));
  const decipher = createDecipheriv("aes-256-gcm", key, iv as Buffer);
  decipher.setAuthTag(tag as Buffer);
  return Buffer.concat([decipher.update(text as Buffer), decipher.final()]).toString("utf8");
}

/** What a signed link is for; a link for one purpose opens nothing else. */
export type LinkPurpose = "opt-out" | "booking" | "open" | "click";

/** "payload.signature": HMAC-SHA-256, cut to 128 bits. */
export function signLink(purpose: LinkPurpose, payload: string, key: Buffer): string {
  return `${Buffer.from(payload).toString("base64url")}.${signature(purpose, payload, key)}`;
}

/** The payload of a signed link, or null if it was changed or is for something else. */
export function readLink(purpose: LinkPurpose, token: string, key: Buffer): string | null {
  const [encoded, signed, ...rest] = token.split(".");
  if (!encoded || !signed || rest.length > 0) return null;
  const payload = Buffer.from(encoded, "base64url").toString("utf8");
  const expected = Buffer.from(signature(purpose, payload, key));
  const given = Buffer.from(signed);
  return expected.length === given.length && timingSafeEqual(expected, given) ? payload : null;
}

function signature(purpose: LinkPurpose, payload: string, key: Buffer): string {
  return createHmac("sha256", key)
    .update(`${purpose}\n${payload}`)
    .digest()
    .subarray(0, 16)
    .toString("base64url");
}

const scryptAsync = promisify<string, Buffer, number, { N: number; r: number; p: number }, Buffer>(scrypt);
/** scrypt (RFC 7914) at N = 2^14, r = 8, p = 5: a cost that OWASP's password storage cheat sheet lists. */
const COST = { N: 16_384, r: 8, p: 5 };

export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const hash = await scryptAsync(password.normalize("NFKC"), salt, 32, COST);
  return `scrypt.${salt.toString("base64url")}.${hash.toString("base64url")}`;
}

export async function passwordMatches(password: string, stored: string): Promise<boolean> {
  const [, salt, hash] = stored.split(".");
  const expected = Buffer.from(hash ?? "", "base64url");
  const given = await scryptAsync(password.normalize("NFKC"), Buffer.from(salt ?? "", "base64url"), 32, COST);
  return expected.length === given.length && timingSafeEqual(expected, given);
}

export function newToken(): string {
  return randomBytes(24).toString("base64url");
}

export function hashToken(token: string): string {
  return createHash("sha256").update(token).digest("hex");
}
