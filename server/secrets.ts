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
import { existsSync, linkSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";
import { promisify } from "node:util";
import type { Config } from "./config.ts";
import { AppError } from "./errors.ts";

/** 32 bytes as hexadecimal digits. */
const KEY = /^[0-9a-f]{64}$/i;

export const keyFileOf = (database: string) => `${database}.key`;

/**
 * The key from the environment, or one kept beside the database, made on the first start. Throws `key_missing` where
 * the database has data already (`hasData`) that only its own key opens, or the file holds no whole key.
 */
export function loadKey(config: Pick<Config, "key" | "database">, hasData: boolean): Buffer {
  if (config.key) return Buffer.from(config.key, "hex");
  const path = keyFileOf(config.database);
  if (!existsSync(path)) {
    if (hasData)
      throw new AppError(
        "key_missing",
        `Put the file back at ${path}, or give its 64 digits in SAUDADE_KEY. A backup made with “npm run backup” holds it.`,
      );
    mkdirSync(dirname(path), { recursive: true });
    const fresh = `${path}.${process.pid}`;
    writeFileSync(fresh, randomBytes(32).toString("hex"), { mode: 0o600 });
    try {
      // At once and whole, or not at all: another process of the same start may do the same.
      linkSync(fresh, path);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
    } finally {
      rmSync(fresh);
    }
  }
  const text = readFileSync(path, "utf8").trim();
  if (!KEY.test(text))
    throw new AppError(
      "key_missing",
      `${path} does not hold 64 hexadecimal digits. Put the file back from a backup.`,
    );
  return Buffer.from(text, "hex");
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
export type LinkPurpose =
  | "opt-out"
  | "booking"
  | "confirm"
  | "open"
  | "click"
  | "device"
  | "calendar"
  | "page"
  | "file"
  | "file-key";

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

/** Node's four threads also read files and look up names; hashing gets one of them, and a line that ends. */
const MOST_WAITING = 40;
let waiting = 0;
let line: Promise<unknown> = Promise.resolve();

/** Null if too many wait already. */
function hashInTurn(password: string, salt: Buffer): Promise<Buffer> | null {
  if (waiting >= MOST_WAITING) return null;
  waiting++;
  const hashed = line.then(() => scryptAsync(password.normalize("NFKC"), salt, 32, COST));
  line = hashed.catch(() => {}).finally(() => waiting--);
  return hashed;
}

/** Throws `sign_in_busy` if too many wait already. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const hashed = hashInTurn(password, salt);
  if (!hashed) throw new AppError("sign_in_busy");
  return `scrypt.${salt.toString("base64url")}.${(await hashed).toString("base64url")}`;
}

/** An empty `stored` matches nothing. */
export async function passwordMatches(password: string, stored: string): Promise<boolean | "busy"> {
  const [, salt, hash] = stored.split(".");
  const expected = Buffer.from(hash ?? "", "base64url");
  const hashed = hashInTurn(password, Buffer.from(salt ?? "", "base64url"));
  if (!hashed) return "busy";
  const given = await hashed;
  return expected.length === given.length && timingSafeEqual(expected, given);
}

export function newToken(): string {
  return randomBytes(24).toString("base64url");
}

export function hashToken(token: string): string {
  return createHash("sha256").update(token).digest("hex");
}
