/**
 * A small world for tests in which days pass at once: its engine runs within the test, its pages come from a real web
 * server, its mail goes through real servers, and its readers are mailboxes that can be looked into.
 */
import { type Browser, expect, type Page } from "@playwright/test";
import { ImapFlow } from "imapflow";
import { type ParsedMail, simpleParser } from "mailparser";
import { advance } from "../server/engine/advance.ts";
import { Engine } from "../server/engine/tick.ts";
import { type Started, startProcess } from "../server/processes.ts";
import { freePort } from "../server/tests/free-port.ts";
import { createWorld, PASSWORD, type World } from "../server/tests/world.ts";
import { open } from "./desk.ts";

export class OwnWorld {
  private readonly readers = new Map<string, number>();
  private web: Started | null = null;

  private constructor(
    readonly world: World,
    readonly engine: Engine,
    readonly address: string,
  ) {}

  /** `prepare` fills it before the web server starts. */
  static async create(prepare: (own: OwnWorld) => Promise<void>): Promise<OwnWorld> {
    const port = await freePort();
    const world = await createWorld({
      env: {
        SAUDADE_PORT: String(port),
        SAUDADE_URL: "https://outreach.quillwater.example",
        SAUDADE_INSIDE_CALENDARS: "1",
        // As in use: where a slow machine takes a second over a first email, nobody takes it back.
        SAUDADE_SETTLE: "600",
      },
    });
    const own = new OwnWorld(world, new Engine(world.app), `http://127.0.0.1:${port}`);
    await prepare(own);
    own.web = await startProcess("web server", "server/web/main.ts", world.env);
    return own;
  }

  async close(): Promise<void> {
    await this.web?.stop();
    await this.engine.close();
    await this.world.close();
  }

  /** Marta at her desk. */
  async signedIn(browser: Browser, size = { width: 1280, height: 800 }): Promise<Page> {
    const context = await browser.newContext({ baseURL: this.address, viewport: size });
    const page = await context.newPage();
    await open(page, "/");
    await page.getByLabel("Email address").fill("marta@quillwater.example");
    await page.getByLabel("Password").fill(PASSWORD);
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("Marta");
    return page;
  }

  /** Lets time pass, and everything happen that falls due within it. */
  async passes(ms: number): Promise<void> {
    await this.until(this.world.app.clock.now() + ms);
  }
  /** To the morning of the next working day. */
  async morning(): Promise<void> {
    await advance(this.engine, { id: 0, kind: "next_morning", until: null }, () => true, false);
  }
  async until(instant: number): Promise<void> {
    await advance(this.engine, { id: 0, kind: "until", until: instant }, () => true, false);
  }

  /** Gives an address a mailbox of its own, in which what comes to it can be read. */
  async reads(address: string): Promise<void> {
    const imapPort = await freePort();
    await this.world.tell("/mailboxes", { address, password: PASSWORD, imapPort });
    this.readers.set(address, imapPort);
  }

  /** What lies in a reader's mailbox, the oldest first. */
  async received(address: string): Promise<ParsedMail[]> {
    const port = this.readers.get(address);
    if (port === undefined) throw new Error(`Nobody reads ${address}`);
    const imap = new ImapFlow({
      ...{ host: "127.0.0.1", port, secure: false, logger: false },
      auth: { user: address, pass: PASSWORD },
    });
    await imap.connect();
    try {
      const lock = await imap.getMailboxLock("INBOX");
      try {
        const mails: ParsedMail[] = [];
        for await (const { source } of imap.fetch("1:*", { source: true }))
          if (source) mails.push(await simpleParser(source));
        return mails;
      } finally {
        lock.release();
      }
    } finally {
      await imap.logout();
    }
  }
}
