/**
 * Whether a domain says to the world that its mail is real: SPF (RFC 7208), DKIM (RFC 6376), DMARC (RFC 7489), a mail
 * exchanger (RFC 5321 5.1), a host that answers to its name (RFC 8601 3, "iprev"), and no list of bad senders (RFC 5782).
 * Reads what DNS answered; where something is missing, it says which record to add.
 */

export const CHECKS = ["spf", "dkim", "dmarc", "mx", "ptr", "lists"] as const;
export type CheckKind = (typeof CHECKS)[number];

export interface DnsRecord {
  name: string;
  type: "TXT" | "MX" | "PTR";
  value: string;
}

export interface Finding {
  kind: CheckKind;
  /** `open`: DNS did not answer, or there was nothing to judge. */
  state: "good" | "wrong" | "open";
  words: string;
  /** What to add, or to put in the place of what is there. */
  record: DnsRecord | null;
}

/** What DNS answered; null where it did not. */
export interface DomainAnswers {
  domain: string;
  /** TXT records of the domain itself. */
  texts: string[] | null;
  /** How many look-ups its SPF record needs in all, its includes' among them; null if it has none. */
  spfLookups: number | null;
  /** Names in the SPF record that lead nowhere. */
  spfBroken: string[];
  /** By selector, the key's record; null: no answer at all. */
  dkim: { selector: string; text: string }[] | null;
  dmarc: string[] | null;
  exchangers: string[] | null;
  /** Outgoing hosts with their addresses, and what these are called in return. */
  hosts: { host: string; addresses: string[]; names: string[] | null }[];
  /** Zones that list the domain or one of its hosts, with their words. */
  listed: { zone: string; what: string; why: string }[];
  zonesAsked: number;
}

/** RFC 7208 4.6.4. */
const MOST_LOOKUPS = 10;

export interface SpfRecord {
  /** Names whose record belongs to this one's answer. */
  includes: string[];
  redirect: string | null;
  /** Look-ups that this record alone costs. */
  lookups: number;
  /** What is said about everybody else: "-", "~", "?", "+"; null: nothing. */
  all: "-" | "~" | "?" | "+" | null;
}

/** A text that is an SPF record, read; null for any other. */
export function readSpf(text: string): SpfRecord | null {
  if (!/^v=spf1(\s|$)/i.test(text)) return null;
  const record: SpfRecord = { includes: [], redirect: null, lookups: 0, all: null };
  for (const term of text.trim().split(/\s+/).slice(1, 200)) {
    const read = /^([-~?+]?)(all|include|a|mx|ptr|exists|redirect)([:=/].*)?$/i.exec(term);
    if (!read) continue;
    const [, sign, name, rest] = read as unknown as [string, string, string, string | undefined];
    const value = (rest ?? "").replace(/^[:=]/, "").toLowerCase();
    switch (name.toLowerCase()) {
      case "all":
        record.all = (sign || "+") as SpfRecord["all"];
        break;
      case "include":
        record.includes.push(value);
        record.lookups++;
        break;
      case "redirect":
        record.redirect = value;
        record.lookups++;
        break;
      default:
        record.lookups++;
    }
  }
  return record;
}

export function judgeDomain(answers: DomainAnswers): Finding[] {
  return [spf(answers), dkim(answers), dmarc(answers), mx(answers), ptr(answers), lists(answers)];
}

const finding = (
  kind: CheckKind,
  state: Finding["state"],
  words: string,
  record: DnsRecord | null = null,
): Finding => ({ kind, state, words, record });

const SILENT = "DNS did not answer. Try again in a while.";

function spf({ domain, texts, spfLookups, spfBroken, hosts }: DomainAnswers): Finding {
  const own = hosts
    .map(({ host }) => (/^[\d.]+$/.test(host) ? (host.startsWith("127.") ? "" : `ip4:${host}`) : `a:${host}`))
    .join(" ");
  const record: DnsRecord = {
    name: domain,
    type: "TXT",
    value: `v=spf1 mx ${own} ~all`.replace(/\s+/g, " "),
  };
  if (texts === null) return finding("spf", "open", SILENT);
  const found = texts.filter((text) => readSpf(text) !== null);
  if (found.length === 0)
    return finding(
      "spf",
      "wrong",
      "There is no SPF record, so nobody can tell which servers may send for it.",
      record,
    );
  if (found.length > 1)
    return finding(
      "spf",
      "wrong",
      "There are two SPF records; receivers then take none of them. Make one of them.",
      {
        ...record,
        value: merged(found),
      },
    );
  const { all } = readSpf(found[0] as string) as SpfRecord;
  if (spfLookups !== null && spfLookups > MOST_LOOKUPS)
    return finding(
      "spf",
      "wrong",
      `Its SPF record needs ${spfLookups} look-ups; receivers stop after ${MOST_LOOKUPS} and take it for broken. Take out includes that you no longer use.`,
    );
  if (spfBroken.length > 0)
    return finding("spf", "wrong", `Its SPF record names ${spfBroken.join(", ")}, which is not there.`);
  if (all === "+")
    return finding(
      "spf",
      "wrong",
      "Its SPF record lets everybody send for it: end it with ~all instead of +all.",
      {
        ...record,
        value: (found[0] as string).replace(/\+?all\b/i, "~all"),
      },
    );
  return finding(
    "spf",
    "good",
    `SPF names who may send, with ${spfLookups ?? 0} of ${MOST_LOOKUPS} look-ups.`,
  );
}

/** All that two records say, once. */
function merged(records: readonly string[]): string {
  const terms = records.flatMap((text) => text.trim().split(/\s+/).slice(1));
  const others = [...new Set(terms.filter((term) => !/^[-~?+]?all$/i.test(term)))];
  return ["v=spf1", ...others, "~all"].join(" ");
}

function dkim({ domain, dkim: keys }: DomainAnswers): Finding {
  if (keys === null) return finding("dkim", "open", SILENT);
  const key = keys.find(({ text }) => /(^|;)\s*p=[A-Za-z0-9+/]/.test(text));
  if (key) return finding("dkim", "good", `DKIM has a key under “${key.selector}”.`);
  if (keys.length > 0)
    return finding("dkim", "wrong", `The key under “${keys[0]?.selector}” is withdrawn: its p= is empty.`);
  return finding(
    "dkim",
    "wrong",
    "No DKIM key under the usual names. If your server signs, type its selector above; if not, turn signing on there and add the key that it shows.",
    { name: `mail._domainkey.${domain}`, type: "TXT", value: "v=DKIM1; k=rsa; p=…" },
  );
}

function dmarc({ domain, dmarc: texts }: DomainAnswers): Finding {
  const record: DnsRecord = {
    name: `_dmarc.${domain}`,
    type: "TXT",
    value: `v=DMARC1; p=none; rua=mailto:postmaster@${domain}`,
  };
  if (texts === null) return finding("dmarc", "open", SILENT);
  const found = texts.filter((text) => /^v=DMARC1\b/i.test(text));
  if (found.length === 0)
    return finding(
      "dmarc",
      "wrong",
      "There is no DMARC record. Large receivers ask for one from whoever writes to many.",
      record,
    );
  if (found.length > 1)
    return finding("dmarc", "wrong", "There are two DMARC records; receivers then take none.", record);
  const policy = /(^|;)\s*p\s*=\s*(none|quarantine|reject)\b/i.exec(found[0] as string)?.[2]?.toLowerCase();
  if (!policy) return finding("dmarc", "wrong", "Its DMARC record says no policy (p=).", record);
  return finding(
    "dmarc",
    "good",
    policy === "none"
      ? "DMARC is there; it only watches (p=none)."
      : `DMARC is there and asks for ${policy}.`,
  );
}

function mx({ domain, exchangers, hosts }: DomainAnswers): Finding {
  if (exchangers === null) return finding("mx", "open", SILENT);
  if (exchangers.length > 0)
    return finding("mx", "good", `It takes mail at ${exchangers.slice(0, 2).join(" and ")}.`);
  return finding("mx", "wrong", "It takes no mail, so answers and bounces are lost.", {
    name: domain,
    type: "MX",
    value: `10 ${hosts[0]?.host ?? `mail.${domain}`}`,
  });
}

function ptr({ hosts }: DomainAnswers): Finding {
  if (
    hosts.length > 0 &&
    hosts.every(
      ({ addresses }) => addresses.every((each) => /^(127\.|::1$)/.test(each)) && addresses.length > 0,
    )
  )
    return finding(
      "ptr",
      "open",
      "The outgoing server is on this machine; what the world sees of it cannot be asked here.",
    );
  const judged = hosts.filter(({ names }) => names !== null);
  if (judged.length === 0) return finding("ptr", "open", "The outgoing server's address could not be asked.");
  const nameless = judged.find(({ names }) => names?.length === 0);
  if (nameless)
    return finding(
      "ptr",
      "wrong",
      `The address of ${nameless.host} has no name in return. Whoever runs the server adds it.`,
      { name: nameless.addresses[0] ?? nameless.host, type: "PTR", value: nameless.host },
    );
  return finding("ptr", "good", `${judged[0]?.host} answers to the name ${judged[0]?.names?.[0]}.`);
}

function lists({ listed, zonesAsked }: DomainAnswers): Finding {
  if (zonesAsked === 0)
    return finding("lists", "open", "No block-list zone is set; name some in the settings.");
  const first = listed[0];
  if (first)
    return finding(
      "lists",
      "wrong",
      `${first.what} is on ${first.zone}${first.why ? `: ${first.why}` : ""}. Ask there to be taken off once the cause is mended.`,
    );
  return finding("lists", "good", `On none of ${zonesAsked} block ${zonesAsked === 1 ? "list" : "lists"}.`);
}

/** An address as block-list zones and reverse look-ups name it (RFC 5782 2.1, RFC 3596 2.5); null for no address. */
export function reversed(address: string): string | null {
  if (/^\d{1,3}(\.\d{1,3}){3}$/.test(address)) return address.split(".").reverse().join(".");
  if (!address.includes(":")) return null;
  const [head = "", tail = ""] = address.split("::");
  const groups = (text: string) => (text === "" ? [] : text.split(":"));
  const middle = Math.max(0, 8 - groups(head).length - groups(tail).length);
  const all = [
    ...groups(head),
    ...Array<string>(address.includes("::") ? middle : 0).fill("0"),
    ...groups(tail),
  ];
  return all.length === 8
    ? [...all.map((group) => group.padStart(4, "0")).join("")].reverse().join(".")
    : null;
}
