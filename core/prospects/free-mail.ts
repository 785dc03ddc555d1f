/** Domains at which anybody can have an address: no company stands behind them. The list is the package email-providers'. */

import domains from "email-providers/all.json" with { type: "json" };
import { getDomain } from "tldts";

const FREE: ReadonlySet<string> = new Set(domains);

/** Whether a host, such as "gmx.de" or "mail.gmx.de", belongs to a provider of addresses for everybody. */
export function isFreeMail(host: string): boolean {
  const asked = host.toLowerCase().replace(/\.$/, "");
  return FREE.has(asked) || FREE.has(getDomain(asked) ?? "");
}
