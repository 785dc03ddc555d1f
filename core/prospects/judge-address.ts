/**
 * The verdict about an address from what was found out. Apart from the verdict's words, since the list of
 * disposable domains is large and most processes judge nothing.
 */
import disposable from "disposable-email-domains" with { type: "json" };
import { checkAddress, domainOf } from "./address.ts";
import { hasLookAlikes } from "./cleaning/text.ts";
import { isRole } from "./roles.ts";
import type { Verdict, VerdictReason } from "./verdict.ts";

/** How the domain takes mail (RFC 5321 5.1: MX, else the address itself; RFC 7505: a null MX takes none). */
export type DomainEvidence =
  | { kind: "mail"; hosts: string[]; implicit: boolean }
  | { kind: "null_mx" }
  | { kind: "no_domain" }
  | { kind: "silent"; why: string };

/** What the domain's mail server said to RCPT; null if it was not asked. */
export type ProbeEvidence =
  | { kind: "accepted"; acceptsAll: boolean }
  | { kind: "refused"; words: string }
  | { kind: "later"; words: string }
  | { kind: "silent"; words: string };

export interface Evidence {
  domain: DomainEvidence | null;
  probe: ProbeEvidence | null;
  /** What our own mail showed: it came back, or they wrote. */
  history: "bounced" | "answered" | null;
}

export interface Judged {
  verdict: Verdict;
  reason: VerdictReason;
  detail: string;
}

const DISPOSABLE = new Set<string>(disposable);

export const isDisposable = (address: string) => DISPOSABLE.has(domainOf(address));

/** Whether the verdict can change by itself, so that asking again later is worth it. */
export const ASK_AGAIN: ReadonlySet<VerdictReason> = new Set(["dns_silent", "mail_server_silent", "later"]);

/** The verdict. What our own mail showed outweighs what servers say; a silence proves nothing, so it is never "bad". */
export function judgeAddress(address: string, { domain, probe, history }: Evidence): Judged {
  const say = (verdict: Verdict, reason: VerdictReason, detail = ""): Judged => ({ verdict, reason, detail });
  const checked = checkAddress(address);
  if (!checked.ok) return say("bad", "syntax", checked.reason);
  if (history === "bounced") return say("bad", "bounced");
  if (history === "answered") return say("good", "answered_before");
  if (isDisposable(address)) return say("bad", "disposable", domainOf(address));
  if (domain === null || domain.kind === "silent")
    return say("unknown", "dns_silent", domain?.kind === "silent" ? domain.why : "");
  if (domain.kind === "no_domain") return say("bad", "no_domain", domainOf(address));
  if (domain.kind === "null_mx") return say("bad", "no_mail", domainOf(address));
  if (probe?.kind === "refused") return say("bad", "refused", probe.words);
  if (hasLookAlikes(address)) return say("risky", "look_alike");
  if (isRole(address)) return say("risky", "role");
  if (probe === null) return say("risky", "not_probed", domain.hosts[0] ?? "");
  if (probe.kind === "later") return say("unknown", "later", probe.words);
  if (probe.kind === "silent") return say("unknown", "mail_server_silent", probe.words);
  return probe.acceptsAll
    ? say("risky", "accepts_all", domainOf(address))
    : say("good", "accepted", domain.hosts[0] ?? "");
}
