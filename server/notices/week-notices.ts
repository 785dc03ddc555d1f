/** On Monday morning each user is told what the week before brought: the figures with their change, and what is worth acting on. */
import { dayNumberOf, hourOf, textOfDay, weekdayOf } from "../../core/calendar.ts";
import { waysOf } from "../../core/notices/notices.ts";
import { change } from "../../core/results/figure-words.ts";
import { findingWords } from "../../core/results/finding-words.ts";
import { HAPPENED, HAPPENED_NAMES } from "../../core/results/happened.ts";
import { longDay } from "../../core/words.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { type Report, report } from "../results/report.ts";
import { type WorthActingOn, worthActingOn } from "../results/worth-acting-on.ts";
import { isTold, noticeSettings, tell } from "./write-notices.ts";

/** From when a week's report can be made, where the user is: early enough to be there when they come. */
const FROM_HOUR = 5;

/** Tells whoever was not told of last week yet. Returns how many. */
export async function weekNotices(app: App): Promise<number> {
  const { db, clock } = app;
  const now = clock.now();
  const users = sql(db, "SELECT id, time_zone AS zone FROM users WHERE removed_at IS NULL").all<{
    id: number;
    zone: string;
  }>([]);
  let told = 0;
  for (const { id, zone } of users) {
    if (weekdayOf(now, zone) !== 1 || hourOf(now, zone) < FROM_HOUR) continue;
    const day = textOfDay(dayNumberOf(now, zone) - 7);
    const about = `week ${day}`;
    if (!waysOf("week", now, noticeSettings(db, id), zone) || isTold(db, id, "week", about)) continue;
    const week = report(app, id, day, "week", zone);
    if (week.sequences.length === 0) continue;
    const findings = (await worthActingOn(app, id, week.sequences, zone)) ?? [];
    const text = `Last week ${week.now.positive} want${week.now.positive === 1 ? "s" : ""} to talk, ${week.now.booked} booked a call.`;
    const path = `/results/report?day=${day}`;
    if (tell(app, id, now, { kind: "week", text, path, about, body: bodyOf(week, findings) })) told++;
  }
  return told;
}

function bodyOf({ from, to, now, before }: Report, findings: readonly WorthActingOn[]): string {
  const figures = HAPPENED_NAMES.map(
    (name) => `  ${HAPPENED[name][1]}: ${now[name]} (${change(now[name] - before[name], "as before")})`,
  );
  const acts = findings.map(({ name, finding }) => {
    const { says, rests } = findingWords(finding, null);
    return `- ${name}: ${says} ${rests}`;
  });
  return [
    [`${longDay(from)} to ${longDay(to)}, and against the week before:`, ...figures],
    ...(acts.length === 0 ? [] : [["Worth acting on:", ...acts]]),
  ]
    .map((lines) => lines.join("\n"))
    .join("\n\n");
}
