/** The people behind the addresses: what each email sets off, and how it is carried out. */
import type { ParsedMail } from "mailparser";
import MailComposer from "nodemailer/lib/mail-composer/index.js";
import { draw, gatewayOf, leaningAct, likelihoodOf, type Persona, personaOf } from "./personas.ts";
import { type ReportKind, reportOf } from "./reports.ts";
import type { Pending, State } from "./state.ts";
import { awayLetter, replyText, type Writer } from "./wording.ts";

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** So many of what a mailbox in disfavour sends come back. */
const DISFAVOURED_BACK = 0.08;

/** What a recipient needs to know about the email they act on. */
interface Received {
  recipient: string;
  mailbox: string;
  sender: string;
  messageId: string;
  references: string;
  subject: string;
  text: string;
  sentAt: number;
  links: string[];
  pixel: string | null;
  optOut: string | null;
  booking: string | null;
  name: string;
  /** What they do about it. */
  act?: Persona["act"];
}

export type Deliver = (mailbox: string, raw: Buffer, at: number) => void;

export function createRecipients(state: State, seed: string | null, deliver: Deliver) {
  const hourIn = (at: number, zone: string) =>
    Number(
      new Intl.DateTimeFormat("en-GB", { hour: "numeric", hourCycle: "h23", timeZone: zone }).format(at),
    );
  const weekday = (at: number, zone: string) =>
    new Intl.DateTimeFormat("en-GB", { weekday: "short", timeZone: zone }).format(at);
  const zoneOf = (address: string) => state.personAt(address)?.zone ?? "UTC";

  /** Who has left for good is unknown to their server; others' servers have their reasons. */
  function reportKind(address: string): ReportKind {
    if (state.personAt(address)?.gone) return "unknown";
    return personaOf(seed, address).report;
  }

  /** People act in their working hours. */
  function inOffice(at: number, zone: string): number {
    let moved = at;
    for (let tries = 0; tries < 100; tries++) {
      const hour = hourIn(moved, zone);
      if (hour >= 8 && hour < 18 && !["Sat", "Sun"].includes(weekday(moved, zone))) return moved;
      moved += HOUR;
    }
    return moved;
  }

  function schedule(action: Pending["action"], due: number, received: Received): void {
    state.addPending({ action, due: Math.round(due), detail: JSON.stringify(received) });
  }

  /** Whether the receiving server refuses this address outright. */
  function refuses(address: string): boolean {
    return personaOf(seed, address).bounces === "at_once";
  }

  /** Decides what the recipient will do about an email that has just arrived. */
  function receive(address: string, mail: ParsedMail, now: number): void {
    const persona = personaOf(seed, address);
    const zone = zoneOf(address);
    const received = readEmail(address, mail, now, state.personAt(address));
    const before = state.deliveredTo(address);
    const { messageId, subject } = received;
    state.recordDelivery(
      { recipient: address, messageId, subject, at: now },
      mail.from?.value[0]?.address ?? "",
    );
    const nth = before + 1;
    const chance = (what: string) => persona.draw(`${what} ${nth}`);

    if (persona.reports && nth === 2)
      schedule("complaint", now + (30 + 300 * chance("complains")) * MINUTE, received);
    if (persona.bounces === "later" || state.personAt(address)?.gone) {
      schedule("bounce", now + (20 + 80 * chance("bounce")) * MINUTE, received);
      return;
    }
    const leaning = state.leaningOf(address);
    const isDisfavoured = state.isDisfavoured(received.mailbox, now);
    if (isDisfavoured) {
      // Some servers send it back, the others put it where nobody looks.
      if (chance("refused") < DISFAVOURED_BACK)
        schedule("bounce", now + (2 + 20 * chance("bounce")) * MINUTE, received);
      return;
    }
    if (persona.away > 0 && nth === 1) schedule("away", now + (1 + 2 * chance("away")) * MINUTE, received);
    const gateway = gatewayOf(seed, address);
    if (gateway === "prefetches" && received.pixel) schedule("prefetch", now + 3_000, received);
    if (gateway === "scans") schedule("scan", now + 8_000, received);
    const reads = inOffice(now + (4 + 600 * chance("reads") ** 2) * MINUTE, zone);
    const opens = chance("opens") < persona.opens;
    if (opens && received.pixel) schedule("open", reads, received);
    if (opens && received.links.length > 0 && chance("clicks") < persona.clicks)
      schedule("click", reads + 40_000, received);
    if (leaning) {
      if (chance("leans") < likelihoodOf(leaning, received.text, hourIn(now, zone)))
        actOn(persona, reads, { ...received, act: leaningAct(persona.draw) });
    } else if (nth === persona.actsOn && persona.act)
      actOn(persona, reads, { ...received, act: persona.act });
  }

  function actOn(persona: Persona, reads: number, received: Received): void {
    const zone = zoneOf(received.recipient);
    const { act } = received;
    if (act?.kind === "reply")
      schedule("reply", inOffice(reads + (6 + 500 * persona.draw("answers") ** 2) * MINUTE, zone), received);
    if (act?.kind === "opt_out" && received.optOut) schedule("opt_out", reads + 30_000, received);
    if (act?.kind === "book" && received.booking) {
      schedule("book", reads + 3 * MINUTE, received);
      if (persona.draw("moves") < 0.5) schedule("move", inOffice(reads + 5 * HOUR, zone), received);
    }
  }

  /** Carries out what is due. A web server that does not answer is no reason to stop: a click is lost, as in life. */
  async function act(pending: Pending, now: number): Promise<void> {
    const received = JSON.parse(pending.detail) as Received;
    const persona = personaOf(seed, received.recipient);
    const { draw: number } = persona;
    const writer: Writer = {
      sender: received.sender,
      name: received.name,
      zone: zoneOf(received.recipient),
      colleague: state.colleagueOf(received.recipient),
    };
    switch (pending.action) {
      case "open":
        return visit(received.pixel as string);
      case "prefetch":
        return visit(received.pixel as string, { agent: GATEWAY });
      case "scan":
        for (const url of [...(received.pixel ? [received.pixel] : []), ...received.links])
          await visit(url, { agent: READER });
        return;
      case "click": {
        const link = received.links[Math.floor(number("link") * received.links.length)] as string;
        return visit(link);
      }
      case "opt_out":
        return visit(received.optOut as string, {
          body: new URLSearchParams({ "List-Unsubscribe": "One-Click" }),
        });
      case "book":
        return book(received, number);
      case "reply": {
        const act = received.act ?? persona.act;
        const kind = act?.kind === "reply" ? act.reply : "question";
        const quote = `On ${new Date(received.sentAt).toUTCString().slice(0, 16)}, ${received.sender} <${received.mailbox}> wrote:\n${received.text.replace(/^/gm, "> ")}`;
        return deliver(
          received.mailbox,
          await compose(received, `${replyText(kind, writer, number)}\n\n${quote}`, now),
          now,
        );
      }
      case "away": {
        const back = new Date(inOffice(now + persona.away * DAY, zoneOf(received.recipient)));
        const letter = awayLetter(back, received.subject, writer, number);
        const raw = await compose(received, letter.text, now, {
          subject: letter.subject,
          headers:
            number("away-header") < 0.8
              ? { "Auto-Submitted": "auto-replied", "X-Auto-Response-Suppress": "All" }
              : {},
        });
        return deliver(received.mailbox, raw, now);
      }
      case "bounce":
        return deliver(received.mailbox, reportOf(reportKind(received.recipient), received, now), now);
      case "complaint":
        return deliver(received.mailbox, reportOf("complaint", received, now), now);
      case "move":
        return moveCall(received, number);
    }
  }

  return { refuses, receive, act };
}

/** As the programs name themselves: a person's, which a scanner says it is, too; and one that fetches pictures for its people. */
const READER = "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101";
const GATEWAY = "Mozilla/5.0 (compatible; picture-proxy/1.0)";

async function visit(
  url: string,
  { body, agent = READER }: { body?: URLSearchParams; agent?: string } = {},
): Promise<void> {
  await fetch(url, {
    ...{ method: body ? "POST" : "GET", body: body ?? null, redirect: "manual" },
    headers: { "user-agent": agent },
  }).catch(() => {});
}

/** Books the way a person does: opens the page, picks a time, sends the form. */
async function book(received: Received, number: (what: string) => number): Promise<void> {
  try {
    const page = await (await fetch(received.booking as string)).text();
    const times = freeTimesOn(page);
    const start = times[Math.floor(number("slot") * Math.min(times.length, 40))];
    if (!start) return;
    const answer = await fetch(received.booking as string, {
      method: "POST",
      redirect: "manual",
      body: new URLSearchParams({
        start,
        name: received.name,
        email: received.recipient,
        phone: `+351 2${String(Math.floor(number("phone") * 1e8)).padStart(8, "0")}`,
        zone: "",
      }),
    });
    const place = answer.headers.get("location");
    if (place) booked.set(received.recipient, new URL(place, received.booking as string).href);
  } catch {
    // The page could not be reached; they give up.
  }
}

/** The pages of calls that recipients booked, by their address. */
const booked = new Map<string, string>();

/** Moves the call that they booked to another free time, by the links of its page. */
async function moveCall(received: Received, number: (what: string) => number): Promise<void> {
  const page = booked.get(received.recipient);
  if (!page) return;
  try {
    const times = freeTimesOn(await (await fetch(`${page}?move`)).text());
    const start = times[Math.floor(number("other slot") * Math.min(times.length, 40))];
    if (start)
      await visit(`${page}?move`, { body: new URLSearchParams({ intent: "move", start, zone: "" }) });
  } catch {
    // The page could not be reached; the call stays where it is.
  }
}

const freeTimesOn = (html: string): string[] =>
  [...html.matchAll(/<input[^>]*\bname="start"[^>]*>/g)]
    .map(([input]) => input.match(/\bvalue="(\d+)"/)?.[1])
    .filter((value) => value !== undefined);

function readEmail(
  recipient: string,
  mail: ParsedMail,
  sentAt: number,
  person: { firstName: string; lastName: string } | undefined,
): Received {
  const html = typeof mail.html === "string" ? mail.html : "";
  const text = mail.text ?? "";
  const from = mail.from?.value[0];
  const header = mail.headerLines.find(({ key }) => key === "list-unsubscribe")?.line ?? "";
  const to = [mail.to ?? []].flat()[0]?.value[0];
  const links = [...html.matchAll(/<a[^>]*href="([^"]+)"/g)].map(([, url]) => plainAmpersands(url as string));
  return {
    recipient,
    mailbox: (from?.address ?? "").toLowerCase(),
    sender: from?.name ?? "",
    messageId: mail.messageId ?? "",
    references: [mail.references ?? []].flat().join(" "),
    subject: mail.subject ?? "",
    text,
    sentAt,
    // The opt-out link is no invitation to read on.
    links: links.filter((url) => url.includes("/t/c/")),
    pixel: plainAmpersands(html.match(/<img[^>]*src="([^"]+)"/)?.[1] ?? "") || null,
    optOut: header.match(/<(https?:[^>]+)>/)?.[1] ?? text.match(/https?:\/\/\S+\/opt-out\/\S+/)?.[0] ?? null,
    booking: text.match(/https?:\/\/\S+\/book\/\S+/)?.[0] ?? null,
    name: person ? `${person.firstName} ${person.lastName}`.trim() : (to?.name ?? recipient),
  };
}

const plainAmpersands = (text: string) => text.replace(/&amp;/g, "&");

function compose(
  received: Received,
  text: string,
  now: number,
  more: { subject?: string; headers?: Record<string, string> } = {},
): Promise<Buffer> {
  return new MailComposer({
    from: { name: received.name, address: received.recipient },
    to: received.mailbox,
    subject: more.subject ?? `Re: ${received.subject.replace(/^Re: /, "")}`,
    inReplyTo: received.messageId,
    references: `${received.references} ${received.messageId}`.trim(),
    messageId: `<${draw("id", received.recipient + received.messageId, text)
      .toString(36)
      .slice(2)}.${now}@${received.recipient.split("@")[1]}>`,
    date: new Date(now),
    text,
    ...(more.headers ? { headers: more.headers } : {}),
  })
    .compile()
    .build();
}
