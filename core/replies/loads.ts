/**
 * Who loaded an email's picture or followed its link: a person, or a machine on the way to them. Judged by rules, each with its
 * reason, from everything that was loaded of one email. What is left to persons is still no proof that anybody read it.
 */

export interface Load {
  kind: "opened" | "clicked";
  /** In ms. */
  at: number;
  /** As the program named itself (RFC 9110 10.1.5). */
  agent: string;
  /** The block of addresses that it came from. */
  network: string;
  /** Where a link leads; null for the picture. */
  url: string | null;
  /** It asked for the head only. */
  isHead: boolean;
  /** By a browser that is signed in here. */
  isOwn: boolean;
}

/** `forward`: others than whom it was written to. */
export const TRUSTS = ["person", "own", "proxy", "scanner", "forward"] as const;
export type Trust = (typeof TRUSTS)[number];

export interface Judged {
  trust: Trust;
  because: string;
}

const SECOND = 1_000;
/** Loads are judged so much later: a burst is over by then. */
export const SETTLES = 30 * SECOND;
/** Nobody has an email open so soon after its server took it. */
const TOO_SOON = 20 * SECOND;
/** Picture and link within this time are one program's. */
const AT_ONCE = 1 * SECOND;
/** So many of its links within this time are followed by nobody who reads. */
const LINKS_AT_ONCE = 2;
const BURST = 5 * SECOND;
/** From so many other places it was loaded before: it goes around. */
const PLACES = 2;

const MACHINE =
  /bot\b|crawl|spider|scan|prefetch|proxy|preview|monitor|headless|check|curl|wget|python|java\/|go-http|http-?client|libwww|validator/i;

/** `deliveredAt`: when its server took the email. In the order of `loads`. */
export function judgeLoads(deliveredAt: number, loads: readonly Load[]): Judged[] {
  const first = loads.map((load) => judgeAlone(deliveredAt, load) ?? judgeBurst(load, loads));
  const machines = new Set(
    loads.filter((_, nth) => first[nth]?.trust === "scanner").map(({ network }) => network),
  );
  const places: string[] = [];
  return loads.map((load, nth): Judged => {
    const known = first[nth];
    if (known) return known;
    if (load.network !== "" && machines.has(load.network))
      return { trust: "scanner", because: "from the addresses of a program that followed its links" };
    const place = `${load.network} ${load.agent}`;
    const isNew = !places.some(
      (each) => each.startsWith(`${load.network} `) || each.endsWith(` ${load.agent}`),
    );
    if (isNew && places.length >= PLACES)
      return { trust: "forward", because: `from another place, after ${PLACES} others: it was passed on` };
    if (isNew) places.push(place);
    return { trust: "person", because: "nothing speaks against a person" };
  });
}

/** Why a program is no person's, by how it names itself; null where nothing says so. */
export function judgeAgent(agent: string): string | null {
  if (agent.trim() === "") return "by a program without a name";
  return MACHINE.test(agent) ? "by a program that says it is no person’s" : null;
}

function judgeAlone(deliveredAt: number, load: Load): Judged | null {
  const { kind, at, agent, isHead, isOwn } = load;
  if (isOwn) return { trust: "own", because: "by somebody who is signed in here" };
  if (isHead) return { trust: "scanner", because: "it asked whether it is there, and did not load it" };
  const program = judgeAgent(agent);
  if (program !== null)
    return {
      trust: kind === "opened" && agent.trim() !== "" ? "proxy" : "scanner",
      because: program,
    };
  const after = at - deliveredAt;
  if (after < TOO_SOON) {
    const seconds = Math.max(0, Math.round(after / SECOND));
    return {
      trust: kind === "opened" ? "proxy" : "scanner",
      because: `${seconds} seconds after it was delivered`,
    };
  }
  return null;
}

/** Whether it is one of a burst: its picture and a link at once, or several links. */
function judgeBurst(load: Load, loads: readonly Load[]): Judged | null {
  const near = loads.filter(
    (other) => other.network === load.network && Math.abs(other.at - load.at) <= BURST,
  );
  const links = new Set(near.flatMap(({ url }) => url ?? []));
  if (links.size >= LINKS_AT_ONCE)
    return { trust: "scanner", because: `${links.size} links within ${BURST / SECOND} seconds` };
  const isBoth = loads.some(
    (other) =>
      other.kind !== load.kind && other.network === load.network && Math.abs(other.at - load.at) < AT_ONCE,
  );
  return isBoth ? { trust: "scanner", because: "its picture and a link within one second" } : null;
}

/** The block that an address is of: /24 of IPv4, /48 of IPv6. Whole addresses are not kept. */
export function networkOf(address: string): string {
  const plain = address.replace(/^::ffff:(?=\d+\.)/, "");
  if (/^\d+\.\d+\.\d+\.\d+$/.test(plain)) return plain.split(".").slice(0, 3).join(".");
  if (!plain.includes(":")) return "";
  const [head = ""] = plain.split("::");
  return [...head.split(":"), "0", "0", "0"].slice(0, 3).join(":");
}
