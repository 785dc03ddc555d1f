/**
 * Email addresses as people type and export them. What is accepted is the mailbox of RFC 5321
 * without quoted local parts and address literals, which no company uses for a person.
 */
const LONGEST_ADDRESS = 254; // RFC 5321 4.5.3.1.3, less the angle brackets
const LONGEST_LOCAL = 64; // RFC 5321 4.5.3.1.1

const LOCAL = /^[\p{L}\p{N}!#$%&'*+/=?^_`{|}~-]+(\.[\p{L}\p{N}!#$%&'*+/=?^_`{|}~-]+)*$/u;
const DOMAIN = /^([\p{L}\p{N}]([\p{L}\p{N}-]{0,61}[\p{L}\p{N}])?\.)+[\p{L}][\p{L}\p{N}-]{0,61}[\p{L}\p{N}]$/u;

export type CheckedAddress = { ok: true; address: string } | { ok: false; reason: string };

/** The address in lower case, taken out of "Name <a@b>" or "mailto:", or the reason why there is none. */
export function checkAddress(typed: string): CheckedAddress {
  const bare = (typed.match(/<([^<>]*)>/)?.[1] ?? typed).trim().replace(/^mailto:/i, "");
  const address = bare.toLowerCase();
  const refuse = (reason: string): CheckedAddress => ({ ok: false, reason });
  if (address === "") return refuse("no address");
  if (/[,;]/.test(address)) return refuse(`“${bare}” holds more than one address`);
  if (/\s/.test(address)) return refuse(`“${bare}” has a space in it`);
  const at = address.lastIndexOf("@");
  if (at < 0) return refuse(`“${bare}” has no @`);
  const [local, domain] = [address.slice(0, at), address.slice(at + 1)];
  if (local.includes("@")) return refuse(`“${bare}” has two @`);
  if (address.length > LONGEST_ADDRESS || local.length > LONGEST_LOCAL)
    return refuse("the address is too long");
  if (!LOCAL.test(local)) return refuse(`the part before the @ of “${bare}” is broken`);
  if (!DOMAIN.test(domain)) return refuse(`the domain of “${bare}” is broken`);
  return { ok: true, address };
}

export function domainOf(address: string): string {
  return address.slice(address.lastIndexOf("@") + 1);
}
