import { randomBytes } from "node:crypto";
import fc from "fast-check";
import { expect, it } from "vitest";
import { hashPassword, passwordMatches, readLink, seal, signLink, unseal } from "./secrets.ts";

const key = randomBytes(32);

it("a sealed password opens with its key, and not once it was changed", () => {
  fc.assert(fc.property(fc.string(), (text) => unseal(seal(text, key), key) === text));
  const sealed = seal("salt", key);
  expect(() => unseal(sealed, randomBytes(32))).toThrow();
  const changed = sealed.replace(/[^.]+$/, (text) => (text[0] === "A" ? "B" : "A") + text.slice(1));
  expect(() => unseal(changed, key)).toThrow();
});

it("a signed link says what it was signed for, and nothing for another purpose, key or payload", () => {
  const link = signLink("opt-out", "7", key);
  expect(readLink("opt-out", link, key)).toBe("7");
  expect(readLink("booking", link, key)).toBeNull();
  expect(readLink("opt-out", link, randomBytes(32))).toBeNull();
  expect(readLink("opt-out", link.replace(/^[^.]+/, Buffer.from("8").toString("base64url")), key)).toBeNull();
  expect(readLink("opt-out", "nonsense", key)).toBeNull();
});

it("a password is known again, however its accents are composed", async () => {
  const stored = await hashPassword("maré-alta");
  expect(stored).not.toContain("maré");
  expect(await passwordMatches("mare\u0301-alta", stored)).toBe(true);
  expect(await passwordMatches("mare-alta", stored)).toBe(false);
});
