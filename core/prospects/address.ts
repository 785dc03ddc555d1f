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

export type ReadAddress =
  | { ok: true; address: string; note: string | null }
  | { ok: false; isEmpty: boolean; reason: string };

/** Some addresses with names; what is longer went astray. */
const LONGEST_CELL = 1_000;

/** Blanks as exports write them. */
const BLANK = /^(n\/?a|none|null|nil|unknown|-+|–|\?)?$/i;

/** An address from a cell: the first of several, with spaces around @ and dots taken out, and a note of what was done. */
export function readAddress(cell: string): ReadAddress {
  const typed = cell.trim();
  if (BLANK.test(typed)) return { ok: false, isEmpty: true, reason: "no address" };
  if (typed.length > LONGEST_CELL)
    return { ok: false, isEmpty: false, reason: "the cell is too long to hold addresses" };
  const whole = checkAddress(typed);
  if (whole.ok) return { ok: true, address: whole.address, note: null };
  const parts = typed.split(/[,;|/]|\s+(?:or|and|und|et|y|e)\s+|\s+(?=\S+@)/i).map((part) => part.trim());
  const good = parts.map(checkAddress).filter((part) => part.ok);
  const [first] = good;
  if (first && parts.length > 1)
    return {
      ok: true,
      address: first.address,
      note: `“${typed}” holds several addresses; ${first.address} was taken`,
    };
  const joined = checkAddress(typed.replace(/\s*([@.])\s*/g, "$1").replace(/\s*[[({](at|@)[\])}]\s*/i, "@"));
  if (joined.ok)
    return { ok: true, address: joined.address, note: `“${typed}” was read as ${joined.address}` };
  return { ok: false, isEmpty: false, reason: whole.reason };
}
