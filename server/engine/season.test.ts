/**
 * Whole seasons in which anything happens at any time: whatever it is, nobody gets an email twice, after a stop,
 * outside their hours, or from a mailbox that has had enough; and in the end nobody was forgotten.
 */
import { afterAll, afterEach, beforeAll, expect, it } from "vitest";
import { DAY, dayOf, HOUR, MINUTE, OpenHours } from "../../core/calendar.ts";
import { type Draw, seeded } from "../../core/random.ts";
import { bookMeeting } from "../meetings/book-meeting.ts";
import { bookingPage } from "../meetings/booking-page.ts";
import { applyBlocks } from "../prospects/block-list/block-list.ts";
import { optOut } from "../prospects/block-list/opt-out.ts";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { eraseProspect } from "../prospects/privacy/erase-prospect.ts";
import { signLink } from "../secrets.ts";
import { setMailboxState } from "../sending/mailboxes/save-mailbox.ts";
import { decide, undecidedEmails } from "../sending/undecided.ts";
import { setSequenceState } from "../sequences/save-sequence.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import {
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  rows,
  type Standin,
  startStandin,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { advance } from "./advance.ts";
import { Engine } from "./tick.ts";

const LIMIT = 5;
const GAP = 7;
/** Real milliseconds until an email without a trace in Sent counts as not sent. */
const SETTLE = 300;
const ZONES = ["Europe/Lisbon", "America/New_York", "Asia/Tokyo"] as const;
const HOURS = { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" };
const NAMES = Array.from({ length: 18 }, (_, index) => `person${index}`);
const zoneOf = (name: string) => ZONES[Number(name.match(/person(\d+)/)?.[1]) % ZONES.length] as string;

let standin: Standin;
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());

interface Sent {
  id: number;
  prospectId: number;
  journeyId: number;
  stepId: string;
  recipient: string;
  mailbox: string;
  messageId: string;
  at: number;
}

/** One season, and what a test may ask of it. */
class Season {
  /** Addresses that nothing may go to any more, from the instant on at which that was so. */
  readonly closed = new Map<string, number>();
  readonly happened: string[] = [];
  private readonly draw: Draw;
  private engine: Engine;
  private count = 0;

  constructor(
    readonly world: World,
    readonly mailboxes: number[],
    readonly sequences: number[],
    seed: string,
  ) {
    this.draw = seeded("season", seed);
    this.engine = new Engine(world.app);
  }

  sent(): Sent[] {
    return rows<Sent>(
      this.world,
      `SELECT t.id, t.prospect_id AS prospectId, t.journey_id AS journeyId, t.step_id AS stepId, t.recipient,
         m.address AS mailbox, t.message_id AS messageId, t.sent_at AS at
       FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id WHERE t.state = 'sent' ORDER BY t.sent_at, t.id`,
    );
  }

  async until(at: number): Promise<void> {
    const now = this.world.app.clock.now();
    if (at - now > DAY) await this.until(at - DAY);
    await advance(this.engine, { id: 0, kind: "until", until: at }, () => true, false);
    // What a broken connection left open is settled by the Sent folder, in real time; of the rest a rep finds that it
    // has not left.
    while (rows(this.world, "SELECT 1 FROM touches WHERE state = 'claimed'").length > 0) {
      await new Promise((resolve) => setTimeout(resolve, SETTLE));
      await this.engine.tick();
      const open = undecidedEmails(this.world.app, null).shown.map(({ id }) => id);
      decide(this.world.app, null, open, "send");
    }
  }

  async restart(): Promise<void> {
    await this.engine.close();
    this.engine = new Engine(this.world.app);
  }

  private pick<Item>(items: readonly Item[]): Item | undefined {
    return items[Math.floor(this.draw() * items.length)];
  }

  private live(): { id: number; email: string; name: string }[] {
    return rows(
      this.world,
      "SELECT id, email, first_name AS name FROM prospects WHERE live = 1 AND email IS NOT NULL",
    );
  }

  private close(prospectId: number): void {
    const now = this.world.app.clock.now();
    for (const { email } of rows<{ email: string }>(
      this.world,
      `SELECT email FROM prospects WHERE (id = ${prospectId} OR merged_into = ${prospectId}) AND email IS NOT NULL`,
    ))
      if (!this.closed.has(email)) this.closed.set(email, now);
  }

  private async deliver(touch: Sent, from: string, headers: string[], body = "Thank you."): Promise<void> {
    const lines = [
      `From: ${from}`,
      `To: ${touch.mailbox}`,
      `Message-ID: <${++this.count}@season.example>`,
      ...headers,
    ];
    await this.world.tell("/deliver", { mailbox: touch.mailbox, raw: [...lines, "", body].join("\r\n") });
  }

  /** Something that happens in real life. */
  async happen(): Promise<void> {
    const { app, userId } = this.world;
    const touch = this.pick(this.sent());
    const [one, other] = [this.pick(this.live()), this.pick(this.live())];
    const mailboxId = this.pick(this.mailboxes) as number;
    const sequenceId = this.pick(this.sequences) as number;
    const states = this.draw() < 0.5;
    const inThread = touch ? [`In-Reply-To: ${touch.messageId}`, "Subject: Re: Loans"] : [];
    const events: Record<string, () => unknown> = {
      reply: async () => {
        if (!touch) return;
        await this.deliver(touch, `desk${this.count}@elsewhere.example`, inThread);
        this.close(touch.prospectId);
      },
      "automatic answer": () =>
        touch && this.deliver(touch, touch.recipient, [...inThread, "Auto-Submitted: auto-replied"]),
      bounce: async () => {
        if (!touch) return;
        const status = `Content-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; mx.example\r\n\r\nFinal-Recipient: rfc822; ${touch.recipient}\r\nAction: failed\r\nStatus: 5.1.1\r\n`;
        const returned = `Content-Type: text/rfc822-headers\r\n\r\nMessage-ID: ${touch.messageId}\r\n`;
        await this.deliver(
          touch,
          "mailer-daemon@elsewhere.example",
          ['Content-Type: multipart/report; report-type=delivery-status; boundary="b"', "MIME-Version: 1.0"],
          `--b\r\n${status}\r\n--b\r\n${returned}\r\n--b--`,
        );
        if (!this.closed.has(touch.recipient)) this.closed.set(touch.recipient, app.clock.now());
      },
      // The link is the one of the email, whoever its owner has been merged into since.
      "opt-out": () => {
        if (!one) return;
        const first = this.pick(
          rows<{ id: number }>(this.world, `SELECT id FROM prospects WHERE ${one.id} IN (id, merged_into)`),
        );
        optOut(app, signLink("opt-out", String(first?.id), app.key));
        this.close(one.id);
      },
      booking: () => {
        if (!one) return;
        const slug =
          rows<{ slug: string }>(this.world, "SELECT booking_slug AS slug FROM users")[0]?.slug ?? "";
        const first = this.pick(
          rows<{ id: number }>(this.world, `SELECT id FROM prospects WHERE ${one.id} IN (id, merged_into)`),
        );
        const token = signLink("booking", String(first?.id), app.key);
        const [start] = bookingPage(app, slug, token).times;
        const visitor = { name: "Visitor", phone: "+351 210 000 000", email: "someone@home.example" };
        expect(bookMeeting(app, slug, token, { ...visitor, start }).ok).toBe(true);
        this.close(one.id);
      },
      block: () => {
        if (!one) return;
        expect(applyBlocks(app, userId, { text: one.email.split("@")[1], mode: "append" }).ok).toBe(true);
        if (!this.closed.has(one.email)) this.closed.set(one.email, app.clock.now());
      },
      merge: () => {
        if (!one || !other || one.id === other.id) return;
        const stopped = [one, other].some(({ email }) => this.closed.has(email));
        expect(mergeProspects(app, { keepId: one.id, goneId: other.id }, userId).ok).toBe(true);
        // An address that only bounced says nothing of the other one.
        if (stopped && this.isOver(one.id)) this.close(one.id);
      },
      erasure: () => {
        if (!one || this.draw() < 0.5) return;
        this.close(one.id);
        expect(eraseProspect(app, null, { id: one.id, name: one.name }).ok).toBe(true);
      },
      "another address": () => {
        if (!one) return;
        const email = `new.${++this.count}.${one.name}@${one.name}-museum.example`;
        expect(saveProspect(app, userId, { id: one.id, email }).ok).toBe(true);
        if (this.closed.has(one.email) && this.isOver(one.id)) this.close(one.id);
      },
      "the sequence's pause": () => setSequenceState(app, null, sequenceId, states ? "paused" : "running"),
      "the mailbox's pause": () =>
        setMailboxState(app, this.world.user, mailboxId, states ? "paused" : "active"),
      "a lost answer": () => this.world.tell("/misbehave", { kind: "drop_after", times: 1 }),
      "a lost connection": () => this.world.tell("/misbehave", { kind: "drop_before", times: 1 }),
      "a server that says later": () => this.world.tell("/misbehave", { kind: "refuse_later", times: 2 }),
      "a restart of the engine": () => this.restart(),
    };
    const [name, event] = this.pick(Object.entries(events)) as [string, () => unknown];
    this.happened.push(`${new Date(app.clock.now()).toISOString()} ${name}`);
    await event();
  }

  private isOver(prospectId: number): boolean {
    return (
      rows(this.world, `SELECT 1 FROM journeys WHERE prospect_id = ${prospectId} AND state = 'active'`)
        .length === 0
    );
  }

  async end(): Promise<void> {
    await this.engine.close();
    await this.world.close();
  }
}

let season: Season;
afterEach(() => season.end());

async function begin(seed: string): Promise<Season> {
  const world = await createWorld({ standin, env: { SAUDADE_SETTLE: String(SETTLE / 1000) } });
  const settings = { dailyLimit: LIMIT, gapLeast: GAP, gapMost: GAP + 4 };
  const mailboxes = [
    await addMailbox(world, "marta@quillwater.example", settings),
    await addMailbox(world, "m.quintela@quillwater.example", settings),
  ];
  // Some are on both lists, and are to be written to by one sequence only.
  const lists = [addPeople(world, NAMES.slice(0, 11), "North"), addPeople(world, NAMES.slice(8), "South")];
  for (const name of NAMES)
    world.app.db.exec(`UPDATE prospects SET time_zone = '${zoneOf(name)}' WHERE first_name = '${name}'`);
  const sequences = lists.map((listId) => addSequence(world, listId, mailboxes));
  for (const sequenceId of sequences)
    expect(startSequence(world.app, world.userId, sequenceId).ok).toBe(true);
  return new Season(world, mailboxes, sequences, seed);
}

it.each(["spring", "summer", "autumn"])(
  "in %s",
  async (seed) => {
    season = await begin(seed);
    const { world } = season;
    const draw = seeded("moments", seed);
    let now = TUESDAY;
    while (now < TUESDAY + 16 * DAY) {
      now += Math.ceil(draw() * 18 * HOUR);
      await season.until(now);
      for (let events = Math.ceil(draw() * 3); events > 0; events--) await season.happen();
      // What arrived is read before the next email is due.
      await season.until(world.app.clock.now());
    }
    for (const id of season.mailboxes) setMailboxState(world.app, world.user, id, "active");
    for (const id of season.sequences) setSequenceState(world.app, null, id, "running");
    await season.until(now + 40 * DAY);

    const context = season.happened.join("\n");
    const sent = season.sent();
    expect(sent.length, context).toBeGreaterThan(15);

    // What the ledger says was sent is what arrived, each once.
    const deliveries = (await world.deliveries()).filter(
      ({ messageId }) => !/^<(call|remind)\./.test(messageId),
    );
    expect(deliveries.map(({ messageId }) => messageId).toSorted(), context).toEqual(
      sent.map(({ messageId }) => messageId).toSorted(),
    );
    // Whoever was merged with somebody else may go on in the other's sequence, which has the same texts.
    const sequenceOf = new Map(
      rows<{ messageId: string; id: number }>(
        world,
        `SELECT t.message_id AS messageId, j.sequence_id AS id FROM touches t JOIN journeys j ON j.id = t.journey_id`,
      ).map(({ messageId, id }) => [messageId, id]),
    );
    const steps = deliveries.map(
      ({ recipient, subject, messageId }) => `${recipient} ${sequenceOf.get(messageId)} ${subject}`,
    );
    expect(new Set(steps).size, context).toBe(steps.length);

    const days = new Map<string, number>();
    const last = new Map<string, number>();
    for (const { recipient, mailbox, at, messageId } of sent) {
      const about = `${messageId} at ${new Date(at).toISOString()}\n${context}`;
      const address = deliveries.find((delivery) => delivery.messageId === messageId)?.recipient as string;
      if (recipient !== "") expect(address, about).toBe(recipient);
      expect(at, `after a stop: ${about}`).toBeLessThanOrEqual(season.closed.get(address) ?? at);
      const hours = new OpenHours(HOURS, zoneOf(address), at);
      expect(hours.windowFrom(at).opens, `outside the hours: ${about}`).toBeLessThanOrEqual(at);
      const day = `${mailbox} ${dayOf(at, "Europe/Lisbon")}`;
      days.set(day, (days.get(day) ?? 0) + 1);
      expect(days.get(day), `above the limit: ${about}`).toBeLessThanOrEqual(LIMIT);
      expect(at - (last.get(mailbox) ?? 0), `too soon: ${about}`).toBeGreaterThanOrEqual(GAP * MINUTE);
      last.set(mailbox, at);
    }

    // Nobody is forgotten: every journey came to its end, and one that was not stopped has all its steps.
    const journeys = rows<{
      id: number;
      state: string;
      wait_reason: string | null;
      wait_detail: string | null;
      ended_at: number;
    }>(world, "SELECT id, state, wait_reason, wait_detail, ended_at FROM journeys");
    for (const { id, state, wait_reason, wait_detail, ended_at } of journeys) {
      const own = sent.filter(({ journeyId }) => journeyId === id);
      expect(["finished", "stopped"], `${wait_reason} ${wait_detail}\n${context}`).toContain(state);
      expect(own.map(({ stepId }) => stepId)).toEqual(["one", "two", "three"].slice(0, own.length));
      if (state === "finished") expect(own, context).toHaveLength(3);
      // A letter that stops somebody is dated in whole seconds (RFC 5322 3.3).
      for (const { at } of own) expect(at, context).toBeLessThan(ended_at + 1_000);
      expect(new Set(own.map(({ mailbox }) => mailbox)).size, context).toBeLessThanOrEqual(1);
    }
  },
  120_000,
);
