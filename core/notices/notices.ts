/** What a user is told, by which way and when: a small table of their own, with quiet hours. */
import { z } from "zod";
import { dayOf, instantOn, startOfNextDay } from "../calendar.ts";
import { timeSchema } from "../day-and-time.ts";

export const NOTICE_KINDS = [
  "reply",
  "interested",
  "booking",
  "click",
  "watching",
  "stage",
  "task",
  "mailbox",
  "finished",
  "week",
  "connection",
] as const;
export type NoticeKind = (typeof NOTICE_KINDS)[number];

const way = z.object({
  app: z.boolean(),
  browser: z.boolean(),
  /** By mail: not, at once, or in the day's summary. */
  mail: z.enum(["no", "once", "summary"]),
});
export type Way = z.infer<typeof way>;

const QUIET: Way = { app: false, browser: false, mail: "no" };
const IN_APP: Way = { app: true, browser: false, mail: "no" };
const USUAL: Record<NoticeKind, Way> = {
  reply: IN_APP,
  interested: { app: true, browser: false, mail: "no" },
  booking: { app: true, browser: false, mail: "once" },
  click: QUIET,
  watching: { app: true, browser: true, mail: "no" },
  stage: QUIET,
  task: IN_APP,
  mailbox: { app: true, browser: false, mail: "once" },
  finished: IN_APP,
  week: { app: true, browser: false, mail: "once" },
  connection: { app: true, browser: false, mail: "once" },
};

export const noticeSettingsSchema = z.object({
  ways: z
    .object(
      Object.fromEntries(NOTICE_KINDS.map((kind) => [kind, way.default(USUAL[kind])])) as Record<
        NoticeKind,
        z.ZodDefault<typeof way>
      >,
    )
    .prefault({}),
  /** When the day's summary goes, where the user is. */
  summaryAt: timeSchema.default("17:00"),
  /** From and until when nothing comes by mail or through the browser; the same time twice: never quiet. */
  quietFrom: timeSchema.default("20:00"),
  quietUntil: timeSchema.default("07:30"),
});
export type NoticeSettings = z.infer<typeof noticeSettingsSchema>;

const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3));

/** Whether an instant lies in the quiet hours, which may run over midnight. */
export function isQuiet(
  at: number,
  { quietFrom, quietUntil }: Pick<NoticeSettings, "quietFrom" | "quietUntil">,
  zone: string,
): boolean {
  if (quietFrom === quietUntil) return false;
  const day = dayOf(at, zone);
  const now = (at - instantOn(day, "00:00", zone)) / 60_000;
  const [from, until] = [minutes(quietFrom), minutes(quietUntil)];
  return from < until ? now >= from && now < until : now >= from || now < until;
}

/** When the quiet hours that lie around an instant are over; the instant itself where none do. */
export function afterQuiet(at: number, settings: NoticeSettings, zone: string): number {
  if (!isQuiet(at, settings, zone)) return at;
  const today = instantOn(dayOf(at, zone), settings.quietUntil, zone);
  return today > at ? today : instantOn(dayOf(startOfNextDay(at, zone), zone), settings.quietUntil, zone);
}

/** How a notice of a kind reaches the user: null where it does not at all. */
export function waysOf(
  kind: NoticeKind,
  at: number,
  settings: NoticeSettings,
  zone: string,
): { inApp: boolean; inBrowser: boolean; mailAt: number | null } | null {
  const { app, browser, mail } = settings.ways[kind];
  if (!app && !browser && mail === "no") return null;
  return {
    inApp: app,
    // What the browser would say at night is old news in the morning: the app has it.
    inBrowser: browser && !isQuiet(at, settings, zone),
    mailAt:
      mail === "no"
        ? null
        : mail === "once"
          ? afterQuiet(at, settings, zone)
          : nextSummary(at, settings, zone),
  };
}

function nextSummary(at: number, { summaryAt }: NoticeSettings, zone: string): number {
  const today = instantOn(dayOf(at, zone), summaryAt, zone);
  return today > at ? today : instantOn(dayOf(startOfNextDay(at, zone), zone), summaryAt, zone);
}
