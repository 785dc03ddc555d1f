/** Which addresses lead to this machine or its neighbours, in whatever notation (server-side request forgery, CWE-918). */
import { BlockList, isIP } from "node:net";

/** Networks that lead to this machine or to its neighbours (RFC 6890), and where clouds keep their keys. */
const INSIDE = new BlockList();
for (const [net, prefix] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.0.0.0", 24],
  ["192.88.99.0", 24],
  ["192.168.0.0", 16],
  ["198.18.0.0", 15],
  ["224.0.0.0", 3],
] as const)
  INSIDE.addSubnet(net, prefix, "ipv4");
for (const [net, prefix] of [
  // Unspecified, loopback, and IPv4 in IPv6's clothes of old (RFC 4291 2.5.5.1).
  ["::", 96],
  // Translated (RFC 2765) and by NAT64 (RFC 6052, RFC 8215): whom they lead to is the translator's to say.
  ["::ffff:0:0:0", 96],
  ["64:ff9b::", 96],
  ["64:ff9b:1::", 48],
  // Tunnels: Teredo (RFC 4380), 6to4 (RFC 3056).
  ["2001::", 32],
  ["2002::", 16],
  ["100::", 64],
  // Unique local, link-local, site-local of old (RFC 3879), multicast.
  ["fc00::", 7],
  ["fe80::", 10],
  ["fec0::", 10],
  ["ff00::", 8],
] as const)
  INSIDE.addSubnet(net, prefix, "ipv6");

/** Whether an address leads inside; what is no address does. IPv4 mapped into IPv6 counts as what it is, however it is written. */
export function leadsInside(address: string): boolean {
  const plain = address.replace(/%.*$/, "");
  if (isIP(plain) === 4) return INSIDE.check(plain, "ipv4");
  if (isIP(plain) !== 6) return true;
  const mapped = mappedIpv4(plain);
  return mapped === null ? INSIDE.check(plain, "ipv6") : INSIDE.check(mapped, "ipv4");
}

/** The IPv4 address in ::ffff:0:0/96 (RFC 4291 2.5.5.2), or null. */
function mappedIpv4(address: string): string | null {
  // The URL parser writes every notation in one way, in hexadecimal.
  const [, high, low] =
    new URL(`http://[${address}]/`).hostname.match(/^\[::ffff:([0-9a-f]{1,4}):([0-9a-f]{1,4})\]$/) ?? [];
  if (high === undefined || low === undefined) return null;
  const [a, b] = [Number.parseInt(high, 16), Number.parseInt(low, 16)];
  return [a >> 8, a & 255, b >> 8, b & 255].join(".");
}
