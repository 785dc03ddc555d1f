/** What sets a rule off: by which happening, for which of them, and when its time has come. */
import { DAY, dayNumberOf, textOfDay } from "../../core/calendar.ts";
import type { When, WhenKind } from "../../core/rules/rule.ts";
import { CUSTOM, FIELD_COLUMNS } from "../db/fields.ts";
import type { Listened } from "../db/listeners.ts";
import { type Db, sql } from "../db/open.ts";

/** The happening that each waits for; null: it looks itself whose time has come. */
export const LISTENS_FOR: Record<WhenKind, Listened | null> = {
  form: "form.received",
  listed: "list.added",
  stage: "prospect.stage_changed",
  field: "prospect.field_changed",
  owner: "prospect.owner_changed",
  label: "reply.labelled",
  answered: "reply.received",
  opened: "email.opened",
  clicked: "email.clicked",
  watched: "film.watched",
  booked: "meeting.booked",
  missed: "meeting.missed",
  silent: null,
  date: null,
  called: "rule.called",
  deal: "deal.moved",
};

export interface Happened {
  id: number;
  kind: string;
  at: number;
  prospectId: number;
  touchId: number | null;
  replyId: number | null;
  detail: string | null;
  causeRun: number | null;
}

/** Whether a happening of the right kind is one that it waits for. `ruleId`: whose "called" it is. */
export function isMeant(db: Db, when: When, ruleId: number, { detail, touchId, replyId }: Happened): boolean {
  const changed = () => JSON.parse(detail ?? "{}") as { field?: string; to?: string };
  switch (when.kind) {
    case "form":
    case "listed":
      return Number(detail) === when.listId;
    case "stage":
      return changed().to === when.to;
    case "field": {
      const { field, to } = changed();
      return field === when.field && (when.to === "" || (to ?? "").toLowerCase() === when.to.toLowerCase());
    }
    case "label":
      return (
        sql(
          db,
          `SELECT 1 FROM replies r JOIN labels l ON l.id = r.label_id
           WHERE r.id = @replyId AND coalesce(l.key, 'own-' || l.id) = @label`,
        ).get({ replyId, label: when.label }) !== undefined
      );
    case "opened":
      // With this one it is so often, and not only since: once for an email.
      return (
        (sql(db, "SELECT count(*) AS count FROM events WHERE touch_id = @touchId AND kind = 'opened'").get<{
          count: number;
        }>({ touchId })?.count ?? 0) === when.times
      );
    case "clicked":
      return (detail ?? "").toLowerCase().includes(when.contains.toLowerCase());
    case "watched":
      return Number(detail) === when.share;
    case "called":
      return Number(detail) === ruleId;
    case "deal":
      return when.to === "" || (changed().to ?? "").toLowerCase() === when.to.toLowerCase();
    case "owner":
    case "answered":
    case "booked":
    case "missed":
      return true;
    case "silent":
    case "date":
      return false;
  }
}

/** Somebody for whom the time has come, and by what it is known again. */
export interface Come {
  prospectId: number;
  occasion: string;
  at: number;
}

/** Whose time has come between two instants (the earlier excluded); nobody for what waits for a happening. `zone`: where days are. */
export function timeHasCome(db: Db, when: When, from: number, to: number, zone: string): Come[] {
  if (when.kind === "silent") return silentSince(db, when.days, from, to);
  if (when.kind !== "date") return [];
  const days: string[] = [];
  // A day has come with its first minute; the day of `from` was seen then.
  for (let day = dayNumberOf(from, zone) + 1; day <= dayNumberOf(to, zone); day++)
    days.push(textOfDay(day + when.days));
  if (days.length === 0) return [];
  const column = when.field.startsWith(CUSTOM)
    ? "p.custom ->> ('$.' || @name)"
    : when.field in FIELD_COLUMNS
      ? `p.${FIELD_COLUMNS[when.field as keyof typeof FIELD_COLUMNS]}`
      : "NULL";
  return sql(
    db,
    `SELECT p.id AS prospectId, 'date ' || substr(${column}, 1, 10) AS occasion, @to AS at FROM prospects p
     WHERE p.live = 1 AND @name IS NOT NULL AND substr(${column}, 1, 10) IN (SELECT value FROM json_each(@days))`,
  ).all<Come>({ name: when.field.slice(CUSTOM.length), days: JSON.stringify(days), to });
}

/** Who was sent their last email so many days ago, and has not answered since. */
function silentSince(db: Db, days: number, from: number, to: number): Come[] {
  const wait = days * DAY;
  return sql(
    db,
    `SELECT t.prospect_id AS prospectId, 'silent ' || t.id AS occasion, t.sent_at + @wait AS at
     FROM touches t JOIN prospects p ON p.id = t.prospect_id AND p.live = 1
     WHERE t.sent_at > @from AND t.sent_at <= @to AND t.kind IN ('email', 'approved_email', 'answer')
       AND NOT EXISTS (SELECT 1 FROM touches n WHERE n.prospect_id = t.prospect_id AND n.sent_at > t.sent_at AND n.sent_at <= t.sent_at + @wait)
       AND NOT EXISTS (SELECT 1 FROM events e WHERE e.prospect_id = t.prospect_id AND e.kind IN ('replied', 'booked')
         AND e.at > t.sent_at AND e.at <= t.sent_at + @wait)`,
  ).all<Come>({ wait, from: from - wait, to: to - wait });
}

/** Since when a happening of its kind would have set a rule off, for each of them: its history in SQL over @from; null: nobody kept it. */
export function historyOf(when: When): { query: string; values: Record<string, string | number> } | null {
  const events = (kind: string, where = "1", values: Record<string, string | number> = {}) => ({
    query: `SELECT e.prospect_id AS prospectId, e.at FROM events e WHERE e.kind = '${kind}' AND e.at > @from AND ${where}`,
    values,
  });
  switch (when.kind) {
    case "form":
      return {
        query:
          "SELECT id AS prospectId, created_at AS at FROM prospects WHERE origin = 'form' AND origin_id = @listId AND created_at > @from",
        values: { listId: when.listId },
      };
    case "listed":
      return {
        query: `SELECT prospect_id AS prospectId, at FROM changes WHERE field = 'list:' || @listId AND after = 'on' AND at > @from
          UNION SELECT lp.prospect_id, i.at FROM list_prospects lp JOIN imports i ON i.id = lp.import_id
            WHERE lp.list_id = @listId AND i.at > @from`,
        values: { listId: when.listId },
      };
    case "stage":
      return events("stage_set", "e.detail = @to", { to: when.to });
    case "field":
      return {
        query: `SELECT prospect_id AS prospectId, at FROM changes
          WHERE field = @field AND at > @from AND (@to = '' OR lower(after) = lower(@to))`,
        values: { field: when.field, to: when.to },
      };
    case "owner":
      return events("handed_over");
    case "label":
      return {
        query: `SELECT r.prospect_id AS prospectId, r.labelled_at AS at FROM replies r JOIN labels l ON l.id = r.label_id
          WHERE r.labelled_at > @from AND coalesce(l.key, 'own-' || l.id) = @label`,
        values: { label: when.label },
      };
    case "answered":
      return events("replied");
    case "opened":
      return {
        query: `SELECT prospectId, at FROM (
          SELECT e.prospect_id AS prospectId, e.at, row_number() OVER (PARTITION BY e.touch_id ORDER BY e.at) AS nth FROM events e
          WHERE e.kind = 'opened') WHERE nth = @times AND at > @from`,
        values: { times: when.times },
      };
    case "clicked":
      return events("clicked", "instr(lower(coalesce(e.detail, '')), lower(@contains)) > 0", {
        contains: when.contains,
      });
    case "watched":
      return events("film_watched", "e.detail = @share", { share: String(when.share) });
    case "booked":
      return events("booked");
    case "missed":
      return events("meeting_missed");
    case "silent":
    case "date":
    case "called":
    case "deal":
      return null;
  }
}
