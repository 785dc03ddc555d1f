/** What an email sets off among the simulated people: by their character, in their working hours, over real protocols. */
import { createServer, type Server } from "node:http";
import { simpleParser } from "mailparser";
import MailComposer from "nodemailer/lib/mail-composer/index.js";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { type Persona, personaOf } from "./personas.ts";
import { createRecipients } from "./recipients.ts";
import { openState, type State } from "./state.ts";

const SEED = "a season";
/** Tuesday 9 June 2026, 20:00 in Hamburg: everybody has gone home. */
const EVENING = Date.parse("2026-06-09T18:00:00Z");
const DAY = 86_400_000;
const MARTA = "marta@quillwater.example";

/** The first address whose owner is of this kind. */
function somebody(holds: (persona: Persona) => boolean): string {
  for (let index = 0; index < 20_000; index++) {
    const address = `person${index}@museum.example`;
    if (holds(personaOf(SEED, address))) return address;
  }
  throw new Error("There is nobody like that.");
}
const replies = (kind: string) => (persona: Persona) =>
  persona.bounces === null && persona.actsOn === 1 && persona.act?.kind === kind;

interface Visit {
  method: string;
  path: string;
  body: string;
}

let web: Server;
let origin: string;
let visits: Visit[] = [];
let state: State;
let delivered: { mailbox: string; raw: Buffer; at: number }[] = [];
let recipients: ReturnType<typeof createRecipients>;

beforeAll(async () => {
  web = createServer(async (request, response) => {
    let body = "";
    for await (const chunk of request) body += chunk;
    visits.push({ method: request.method ?? "", path: request.url ?? "", body });
    const times = [1, 2, 3].map((at) => `<input type="radio" name="start" value="${at}000">`);
    response.end(request.url?.startsWith("/book/") ? times.join("") : "");
  });
  await new Promise<void>((ready) => web.listen(0, "127.0.0.1", ready));
  origin = `http://127.0.0.1:${(web.address() as { port: number }).port}`;
});
afterAll(() => new Promise((closed) => web.close(closed)));
beforeEach(() => {
  state = openState(":memory:");
  visits = [];
  delivered = [];
  recipients = createRecipients(state, SEED, (mailbox, raw, at) => delivered.push({ mailbox, raw, at }));
});
afterEach(() => state.close());

/** An email as Saudade sends it, with all that somebody can act on. */
async function arrives(address: string, zone = "Europe/Berlin", gone = false): Promise<void> {
  state.addPeople([{ address, firstName: "Ilse", lastName: "Brandt", zone, gone }]);
  const raw = await new MailComposer({
    from: { name: "Marta Quintela", address: MARTA },
    to: { name: "Ilse Brandt", address },
    subject: "Loans",
    messageId: "<one@quillwater.example>",
    text: `Dear Ilse, here is my calendar: ${origin}/book/marta?p=ilse`,
    html: `<p>Dear Ilse, <a href="${origin}/t/c/sheet?a=1&amp;b=2">the sheet</a></p><img src="${origin}/t/o/7.gif">`,
    headers: { "List-Unsubscribe": `<${origin}/opt-out/ilse>` },
  })
    .compile()
    .build();
  recipients.receive(address, await simpleParser(raw), EVENING);
}

/** Lets all happen that was set off within three weeks; what, and when. */
async function pass(): Promise<{ action: string; due: number }[]> {
  const happened: { action: string; due: number }[] = [];
  for (let due = state.nextDue(EVENING + 21 * DAY); due; due = state.nextDue(EVENING + 21 * DAY)) {
    happened.push({ action: due.action, due: due.due });
    await recipients.act(due, due.due);
    state.finish(due.id);
  }
  return happened;
}

const hourIn = (zone: string, at: number) =>
  Number(new Intl.DateTimeFormat("en-GB", { hour: "numeric", hourCycle: "h23", timeZone: zone }).format(at));

describe("a recipient", () => {
  it("answers in the thread, in their own working hours, and quotes what they answer", async () => {
    await arrives(somebody(replies("reply")), "America/New_York");
    const reply = (await pass()).find(({ action }) => action === "reply");
    expect(hourIn("America/New_York", reply?.due as number)).toBeGreaterThanOrEqual(8);
    expect(hourIn("America/New_York", reply?.due as number)).toBeLessThan(18);
    const [sent] = delivered;
    const mail = await simpleParser(sent?.raw as Buffer);
    expect(sent?.mailbox).toBe(MARTA);
    expect(mail).toMatchObject({ subject: "Re: Loans", inReplyTo: "<one@quillwater.example>" });
    expect(mail.from?.value[0]?.name).toBe("Ilse Brandt");
    expect(mail.text).toContain("> Dear Ilse, here is my calendar");
    expect(mail.text).toMatch(/Marta|,/);
  });

  it("opens the picture and clicks the link, each as it stands in the email", async () => {
    const keen = (persona: Persona) =>
      persona.bounces === null &&
      persona.act === null &&
      persona.draw("opens 1") < persona.opens &&
      persona.draw("clicks 1") < persona.clicks;
    await arrives(somebody(keen));
    expect((await pass()).map(({ action }) => action)).toEqual(["open", "click"]);
    expect(visits.map(({ method, path }) => `${method} ${path}`)).toEqual([
      "GET /t/o/7.gif",
      "GET /t/c/sheet?a=1&b=2",
    ]);
  });

  it("opts out with the one click of their mail program (RFC 8058)", async () => {
    await arrives(somebody(replies("opt_out")));
    await pass();
    expect(visits).toContainEqual({
      method: "POST",
      path: "/opt-out/ilse",
      body: "List-Unsubscribe=One-Click",
    });
  });

  it("books by the page's own form: one of the times that it offers", async () => {
    await arrives(somebody(replies("book")));
    await pass();
    const [form] = visits.filter(({ method }) => method === "POST");
    expect(form?.path).toBe("/book/marta?p=ilse");
    expect(["1000", "2000", "3000"]).toContain(new URLSearchParams(form?.body).get("start"));
    expect(new URLSearchParams(form?.body).get("name")).toBe("Ilse Brandt");
  });

  it("who is away says so at once and once, and names a working day of return", async () => {
    const address = somebody(({ away, bounces }) => away > 0 && bounces === null);
    await arrives(address);
    await arrives(address);
    const away = (await pass()).filter(({ action }) => action === "away");
    expect(away).toHaveLength(1);
    expect((away[0]?.due as number) - EVENING).toBeLessThan(5 * 60_000);
    const mail = await simpleParser(delivered[0]?.raw as Buffer);
    expect(mail.text).toMatch(/\d{1,2} June|\d{1,2} July/);
  });

  it("who has left, or never was there, is reported in the form of RFC 3464", async () => {
    await arrives(
      somebody(({ bounces, act }) => bounces === null && act === null),
      "Europe/Berlin",
      true,
    );
    expect((await pass()).map(({ action }) => action)).toEqual(["bounce"]);
    const report = await simpleParser(delivered[0]?.raw as Buffer, { keepDeliveryStatus: true });
    const status = report.attachments.find(({ contentType }) => contentType === "message/delivery-status");
    expect(status?.content.toString()).toMatch(/Action: failed\r?\nStatus: 5\.1\.1/);
    expect(delivered[0]?.raw.toString()).toContain("Message-ID: <one@quillwater.example>");
  });

  it("is refused at the door where the server knows nobody of that name", () => {
    expect(recipients.refuses(somebody(({ bounces }) => bounces === "at_once"))).toBe(true);
    expect(recipients.refuses(somebody(({ bounces }) => bounces === "later"))).toBe(false);
  });

  it("acts on the email that suits them, not on each", async () => {
    const address = somebody(
      ({ actsOn, act, bounces }) => actsOn === 2 && act?.kind === "reply" && bounces === null,
    );
    await arrives(address);
    expect((await pass()).map(({ action }) => action)).not.toContain("reply");
    await arrives(address);
    expect((await pass()).map(({ action }) => action)).toContain("reply");
  });
});
