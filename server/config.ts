/** Everything that comes from outside the program: environment variables, checked once at the start. */
import { existsSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { z } from "zod";
import { AppError } from "./errors.ts";

/** The project's folder: where package.json is, from the sources and from the build alike. */
export const projectRoot = (() => {
  let folder = import.meta.dirname;
  while (!existsSync(join(folder, "package.json")) && dirname(folder) !== folder) folder = dirname(folder);
  return folder;
})();

const environment = z.object({
  SAUDADE_DB: z.string().default("data/saudade.db"),
  SAUDADE_HOST: z.string().default("127.0.0.1"),
  SAUDADE_PORT: z.coerce.number().int().min(1).max(65_535).default(3000),
  /** How prospects reach the booking, opt-out and tracking pages. */
  SAUDADE_URL: z.url().optional(),
  /** 64 hex digits; seals the mailbox passwords and signs links. Made on the first start if not given. */
  SAUDADE_KEY: z
    .string()
    .regex(/^[0-9a-f]{64}$/i, "must be 64 hexadecimal digits")
    .optional(),
  SAUDADE_DEMO: z.enum(["0", "1"]).default("0"),
  /** The mail stand-in's HTTP door, in the demo. */
  SAUDADE_STANDIN: z.url().optional(),
  /** The social network's stand-in, in the demo: its clock moves along. */
  SAUDADE_SOCIAL_STANDIN: z.url().optional(),
  /** The CRM's stand-in, in the demo: its clock moves along. */
  SAUDADE_CRM_STANDIN: z.url().optional(),
  /** A DNS server as "127.0.0.1:53"; the machine's own without it. */
  SAUDADE_DNS: z
    .string()
    .regex(/^[\d.:[\]a-f]+$/i, "must be an address such as 127.0.0.1:53")
    .optional(),
  /** The port at which mail servers are asked who is there (RFC 5321 4.5.4.2). */
  SAUDADE_MX_PORT: z.coerce.number().int().min(1).max(65_535).default(25),
  /** Hosts inside the network that may be asked, such as an office's own calendar server: names with commas between, "*" for all. */
  SAUDADE_INSIDE: z.string().max(2_000).default(""),
  /** The same for all hosts, by its name of old. */
  SAUDADE_INSIDE_CALENDARS: z.enum(["0", "1"]).default("0"),
  /** Where people and companies are searched. */
  SAUDADE_DIRECTORY: z.url().optional(),
  /** The port at which web sites are asked over plain HTTP, by their names: the stand-ins' world has no certificates. */
  SAUDADE_SITES_PORT: z.coerce.number().int().min(1).max(65_535).optional(),
  /** What fills in a profile from a paragraph. */
  SAUDADE_ASSISTANT: z.url().optional(),
  /** Where the nightly copies go; "off" for none. Beside the database without it. */
  SAUDADE_BACKUPS: z.string().min(1).optional(),
  /** Seconds between two looks of the engine. */
  SAUDADE_TICK: z.coerce.number().min(0.01).max(600).default(5),
  /** Seconds after which an email that left no trace is taken as never accepted. */
  SAUDADE_SETTLE: z.coerce.number().min(0).max(86_400).default(600),
  /** Seconds after which another engine takes over from one that shows no life. */
  SAUDADE_LEASE: z.coerce.number().min(0.5).max(600).default(10),
});

export interface Config {
  database: string;
  host: string;
  port: number;
  url: string;
  key: string | undefined;
  demo: boolean;
  standin: string | null;
  socialStandin: string | null;
  crmStandin: string | null;
  dns: string | null;
  mxPort: number;
  /** Hosts inside the network that may be asked; "*" for all. */
  inside: string[];
  directory: string | null;
  /** Where the stand-ins' web sites are; null: web sites are where they say. */
  sitesPort: number | null;
  assistant: string | null;
  /** The folder of the nightly copies; null for none. */
  backups: string | null;
  /** The folder of films and moving pictures. */
  media: string;
  tickSeconds: number;
  /** RFC 5321 4.5.3.2.6 lets a server think ten minutes about an email before it answers. */
  settleSeconds: number;
  leaseSeconds: number;
}

/** Whether a host is this machine itself (RFC 6890, RFC 6761 6.3). */
export function isLoopback(host: string): boolean {
  return /^(localhost|.*\.localhost|127(\.\d{1,3}){3}|\[?::1\]?|0\.0\.0\.0)$/i.test(host);
}

/** Throws `config_invalid`, naming the variable. */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const read = environment.safeParse(env);
  if (!read.success) {
    const issue = read.error.issues[0];
    throw new AppError("config_invalid", `${issue?.path.join(".")}: ${issue?.message}`);
  }
  const values = read.data;
  return {
    database: resolve(projectRoot, values.SAUDADE_DB),
    host: values.SAUDADE_HOST,
    port: values.SAUDADE_PORT,
    url: (values.SAUDADE_URL ?? `http://${values.SAUDADE_HOST}:${values.SAUDADE_PORT}`).replace(/\/$/, ""),
    key: values.SAUDADE_KEY,
    demo: values.SAUDADE_DEMO === "1",
    standin: values.SAUDADE_STANDIN ?? null,
    socialStandin: values.SAUDADE_SOCIAL_STANDIN ?? null,
    crmStandin: values.SAUDADE_CRM_STANDIN ?? null,
    dns: values.SAUDADE_DNS ?? null,
    mxPort: values.SAUDADE_MX_PORT,
    inside:
      values.SAUDADE_INSIDE_CALENDARS === "1"
        ? ["*"]
        : values.SAUDADE_INSIDE.toLowerCase()
            .split(/[\s,]+/)
            .filter(Boolean),
    directory: values.SAUDADE_DIRECTORY ?? null,
    sitesPort: values.SAUDADE_SITES_PORT ?? null,
    assistant: values.SAUDADE_ASSISTANT ?? null,
    media: mediaOf(resolve(projectRoot, values.SAUDADE_DB)),
    backups: backupsOf(values.SAUDADE_BACKUPS, values.SAUDADE_DB, values.SAUDADE_DEMO === "1"),
    tickSeconds: values.SAUDADE_TICK,
    settleSeconds: values.SAUDADE_SETTLE,
    leaseSeconds: values.SAUDADE_LEASE,
  };
}

/** The demo begins afresh each time; a copy of it helps nobody. */
function backupsOf(folder: string | undefined, database: string, demo: boolean): string | null {
  if (folder === "off" || (folder === undefined && demo)) return null;
  return folder ? resolve(projectRoot, folder) : join(dirname(resolve(projectRoot, database)), "backups");
}

/** Beside the database, by its name: two databases in one folder keep their own. */
export const mediaOf = (database: string): string => `${database.replace(/\.db$/, "")}-media`;
