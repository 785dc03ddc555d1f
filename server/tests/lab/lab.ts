/** Real servers (scripts/mail-lab.sh) and a world that sends through them, on the machine's own clock. */
import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import nodemailer from "nodemailer";
import { projectRoot } from "../../config.ts";
import { saveMailbox } from "../../sending/mailboxes/save-mailbox.ts";
import { addPeople, addSequence, createWorld, email, type World } from "../world.ts";

const PORT = Number(process.env.LAB_PORT ?? 18_500);
export const PORTS = {
  starttls: PORT,
  tls: PORT + 1,
  plain: PORT + 2,
  arrivals: PORT + 3,
  museums: PORT + 4,
  imap: PORT + 5,
  imaps: PORT + 6,
  introspection: PORT + 7,
};
const SCRIPT = join(projectRoot, "scripts/mail-lab.sh");

export interface Lab {
  /** The servers' own certificate, as PEM. */
  certificate: string;
  /** How many messages lie in a folder of a mailbox ("": the inbox), and their texts. */
  messages(address: string, folder?: string): string[];
  /** Delivers a message to a mailbox of ours, as another host does. */
  deliver(raw: string, to: string): Promise<void>;
  stop(): void;
}

export function startLab(): Lab {
  const root = mkdtempSync(join(tmpdir(), "saudade-lab-"));
  execFileSync("bash", [SCRIPT, "start", root], { stdio: ["ignore", "inherit", "inherit"] });
  const transport = nodemailer.createTransport({ host: "127.0.0.1", port: PORTS.arrivals, ignoreTLS: true });
  return {
    certificate: readFileSync(join(root, "tls/cert.pem"), "utf8"),
    messages(address, folder = "") {
      const [name, domain] = address.split("@") as [string, string];
      const base = join(root, "mail", domain, name, "Maildir", folder === "" ? "" : `.${folder}`);
      return ["new", "cur"]
        .map((part) => join(base, part))
        .filter((path) => existsSync(path))
        .flatMap((path) => readdirSync(path).map((file) => readFileSync(join(path, file), "utf8")));
    },
    async deliver(raw, to) {
      await transport.sendMail({ envelope: { from: "", to }, raw });
    },
    stop() {
      execFileSync("bash", [SCRIPT, "stop", root]);
      // Deliveries under way may still write into it.
      rmSync(root, { recursive: true, force: true, maxRetries: 10 });
    },
  };
}

/** A world on real time, whose mailboxes send at any hour without a pause. */
export async function labWorld(env: Record<string, string> = {}): Promise<World> {
  const world = await createWorld({ standin: false, env });
  world.app.db.exec("DELETE FROM demo_clock");
  return world;
}

export const settingsOf = (lab: Lab, name: string) => ({
  address: `${name}@sender.example`,
  senderName: name,
  signature: "",
  smtpHost: "127.0.0.1",
  smtpPort: PORTS.starttls,
  smtpSecurity: "starttls",
  imapHost: "127.0.0.1",
  imapPort: PORTS.imaps,
  imapSecurity: "tls",
  username: `${name}@sender.example`,
  password: `secret-${name}`,
  certificate: lab.certificate,
  dailyLimit: 500,
  gapLeast: 0,
  gapMost: 0,
});

export function labMailbox(world: World, lab: Lab, name: string, change: object = {}): number {
  const saved = saveMailbox(world.app, world.user, { ...settingsOf(lab, name), ...change });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
  return saved.value;
}

/** A sequence of one or two emails to people of museum.example, going out at any hour of any day. */
export function labSequence(world: World, mailboxId: number, names: string[], steps = 1): number {
  const listId = addPeople(world, names);
  for (const name of names)
    world.app.db
      .prepare("UPDATE prospects SET email = ? WHERE email = ?")
      .run(`${name}@museum.example`, `${name}@${name}-museum.example`);
  const all = [
    email("one", 0, { subject: "Loans", body: "Hello {{ first_name }}" }),
    email("two", 1, { body: "And again" }),
  ];
  return addSequence(world, listId, [mailboxId], {
    days: [1, 2, 3, 4, 5, 6, 7],
    opens: "00:00",
    closes: "23:59",
    tracks: false,
    path: all.slice(0, steps),
  });
}
