import type { EventKind } from "../../../core/events.ts";
import type { EmployeeRange } from "../../../core/prospects/employees.ts";
import type { ChangeSource } from "../../../core/prospects/sources.ts";
import type { Stage } from "../../../core/prospects/stages.ts";
import type { BestHour } from "../../../core/sending/best-hour.ts";
import { dueAfter } from "../../../core/sending/plan.ts";
import type { StopReason, WaitReason } from "../../../core/sending/reasons.ts";
import { expectedSteps } from "../../../core/sequence/expected-path.ts";
import { CHANNEL_OF, type Channel, isEmail, type StepKind } from "../../../core/sequence/path.ts";
import { type By, hiddenFrom } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { isBlocked } from "../../db/block-list.ts";
import { type CleanedValue, cleaningOf } from "../../db/cleanings.ts";
import { AFTER_THE_END } from "../../db/journeys.ts";
import { nameSql } from "../../db/names.ts";
import { type Db, sql } from "../../db/open.ts";
import {
  addressesOf,
  allCustomFields,
  type Prospect,
  prospectById,
  remainingProspect,
} from "../../db/prospects.ts";
import { pathOfVersion, type Sequence, sequenceById, stepsEver } from "../../db/sequences.ts";
import { AppError } from "../../errors.ts";
import { type ConversationItem, conversation } from "../../replies/conversation.ts";
import { bestHourOf } from "../../sequences/best-hour.ts";
import { calendarFor, factsOf } from "../../sequences/walk.ts";

export interface StoryTouch {
  stepId: string;
  name: string;
  at: number;
  channel: Channel;
  /** `person`: it waits for the rep. */
  state: "done" | "planned" | "cancelled" | "person";
}

export interface StoryEvent {
  id: number;
  at: number;
  kind: EventKind;
  detail: string | null;
}

export interface StoryJourney {
  id: number;
  sequenceId: number;
  sequenceName: string;
  /** `single`: one email with its follow-ups. */
  sequenceKind: "shared" | "single";
  state: "active" | "finished" | "stopped";
  startedAt: number;
  endedAt: number | null;
  stopReason: StopReason | null;
  stopDetail: string | null;
  nextAt: number | null;
  waitReason: WaitReason | null;
  waitDetail: string | null;
  mailbox: string | null;
  /** It sent an invitation of which nobody has said yet that it was accepted. */
  isInvited: boolean;
  touches: StoryTouch[];
}

export interface ProspectStory {
  prospect: Prospect;
  blocked: boolean;
  lists: { id: number; name: string }[];
  journeys: StoryJourney[];
  events: StoryEvent[];
  conversation: ConversationItem[];
  /** People of the same company, and who of ours has written to them last. */
  colleagues: {
    id: number;
    name: string;
    title: string;
    stage: Stage;
    writtenBy: string | null;
    writtenAt: number | null;
  }[];
  company: { industry: string; employees: EmployeeRange | null; about: string } | null;
  owner: string | null;
  /** Fields that lists have besides ours. */
  ownFields: string[];
  /** Where they came from: the file, the search or the form. */
  originName: string | null;
  otherAddresses: string[];
  notes: { id: number; text: string; by: string; at: number }[];
  /** When they are best reached, where they are; null while nothing is known. */
  bestHour: BestHour | null;
  /** Later changes of their fields, the newest first. */
  changes: {
    id: number;
    field: string;
    before: string;
    after: string;
    source: ChangeSource | "typed";
    detail: string;
    by: string | null;
    at: number;
  }[];
  cleanings: CleanedValue[];
}

/** A form with more is no form; the rest comes by file. */
const MOST_OWN_FIELDS = 24;
const OFFICE_HOURS = { days: [1, 2, 3, 4, 5], opens: "08:00", closes: "18:00" };

/** Everything that somebody may know about one prospect; for one that was merged, about whom it was merged into. Throws `not_found`. */
export function prospectStory(app: App, by: By, id: number): ProspectStory {
  const { db } = app;
  const prospect = prospectById(db, id);
  if (!prospect || prospect.erasedAt !== null) throw new AppError("not_found");
  if (prospect.mergedInto !== null) return prospectStory(app, by, prospect.mergedInto);
  const hidden = hiddenFrom(app, by, "list.see");
  return {
    prospect,
    blocked: isBlocked(db, prospect.email),
    lists: sql(
      db,
      "SELECT l.id, l.name FROM lists l JOIN list_prospects lp ON lp.list_id = l.id WHERE lp.prospect_id = @id ORDER BY l.name",
    )
      .all<{ id: number; name: string }>({ id })
      .filter((list) => !hidden.has(list.id)),
    bestHour: prospect.timeZone
      ? bestHourOf(db, { ...prospect, zone: prospect.timeZone }, OFFICE_HOURS, app.clock.now())
      : null,
    journeys: journeysOf(app, prospect),
    events: sql(
      db,
      "SELECT id, at, kind, detail FROM events WHERE prospect_id = @id ORDER BY at, id",
    ).all<StoryEvent>({ id }),
    conversation: conversation(app, id),
    colleagues: sql(
      db,
      `SELECT o.id, ${nameSql("o")} AS name, o.title, o.stage,
         t.sent_at AS writtenAt, u.name AS writtenBy
       FROM prospects p JOIN prospects o ON o.company_id = p.company_id AND o.id != p.id AND o.live = 1
       LEFT JOIN touches t ON t.id = (SELECT max(id) FROM touches WHERE prospect_id = o.id AND state = 'sent' AND kind != 'test')
       LEFT JOIN mailboxes m ON m.id = t.mailbox_id LEFT JOIN users u ON u.id = m.user_id
       WHERE p.id = @id ORDER BY t.sent_at IS NULL, o.last_name LIMIT 8`,
    ).all<ProspectStory["colleagues"][number]>({ id }),
    company: companyOf(app, prospect.companyId),
    ownFields: allCustomFields(app.db).slice(0, MOST_OWN_FIELDS),
    owner:
      sql(db, "SELECT name FROM users WHERE id = @id").get<{ name: string }>({
        id: prospect.ownerId ?? 0,
      })?.name ?? null,
    originName: originName(app, prospect),
    otherAddresses: addressesOf(db, id).filter((email) => email !== prospect.email),
    notes: sql(
      db,
      `SELECT n.id, n.text, u.name AS "by", n.at FROM notes n JOIN users u ON u.id = n.user_id
       WHERE n.prospect_id = @id ORDER BY n.at DESC, n.id DESC`,
    ).all<ProspectStory["notes"][number]>({ id }),
    changes: sql(
      db,
      `SELECT c.id, c.field, c.before, c.after, c.source, c.detail, u.name AS "by", c.at
       FROM changes c LEFT JOIN users u ON u.id = c.user_id
       WHERE c.prospect_id = @id AND c.field NOT LIKE 'list:%' AND c.field NOT LIKE 'sequence:%' ORDER BY c.id DESC LIMIT 200`,
    ).all<ProspectStory["changes"][number]>({ id }),
    cleanings: cleaningOf(db, id).filter(({ rules }) => rules.length > 0),
  };
}

function originName({ db }: App, { origin, originId }: Prospect): string | null {
  const query = {
    import: "SELECT file_name AS name FROM imports WHERE id = @originId",
    directory: "SELECT profile_name AS name FROM searches WHERE id = @originId",
    form: "SELECT name FROM lists WHERE id = @originId",
    typed: null,
  }[origin];
  if (query === null || originId === null) return null;
  return sql(db, query).get<{ name: string }>({ originId })?.name ?? null;
}

function journeysOf({ db }: App, prospect: Prospect): StoryJourney[] {
  const rows = sql(
    db,
    `SELECT j.id, j.sequence_id AS sequenceId, s.name AS sequenceName, s.kind AS sequenceKind, j.state, j.started_at AS startedAt,
       j.ended_at AS endedAt, j.stop_reason AS stopReason, j.stop_detail AS stopDetail, j.next_at AS nextAt,
       j.wait_reason AS waitReason, j.wait_detail AS waitDetail, m.address AS mailbox,
       EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.kind = 'invitation' AND t.state IN ('done', 'sent'))
         AND NOT EXISTS (SELECT 1 FROM events e WHERE e.prospect_id = j.prospect_id AND e.kind = 'accepted') AS isInvited,
       j.version, j.place_id AS placeId, j.since
     FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     LEFT JOIN mailboxes m ON m.id = coalesce(j.mailbox_id, j.next_mailbox_id)
     WHERE j.prospect_id = @prospectId ORDER BY j.id DESC`,
  ).all<
    Omit<StoryJourney, "touches" | "isInvited"> & {
      isInvited: 0 | 1;
      version: number;
      placeId: string | null;
      since: number;
    }
  >({
    prospectId: prospect.id,
  });
  return rows.map(({ version, placeId, since, ...row }) => {
    const ever = stepsEver(db, row.sequenceId);
    const begun = touchesBegun(db, row.id);
    const done = begun.map(({ stepId, kind, at, state }): StoryTouch => {
      const step = ever.get(stepId);
      return {
        stepId,
        name: step?.name ?? (stepId === AFTER_THE_END ? "To do" : "A step"),
        channel: CHANNEL_OF[kind],
        at,
        state: state === "skipped" ? "cancelled" : isOpen(state) ? "person" : "done",
      };
    });
    const ahead =
      row.state === "finished" ? [] : stepsAhead(db, { ...row, version, placeId, since }, prospect, begun);
    return {
      ...row,
      isInvited: row.isInvited === 1,
      touches: [...done, ...ahead].toSorted((a, b) => a.at - b.at),
    };
  });
}

const isOpen = (state: string): boolean => state === "draft" || state === "open" || state === "approved";

interface BegunTouch {
  stepId: string;
  kind: StepKind;
  at: number;
  state: string;
}

function touchesBegun(db: Db, journeyId: number): BegunTouch[] {
  return sql(
    db,
    `SELECT step_id AS stepId, kind, coalesce(sent_at, ended_at, claimed_at, due_at, at, 0) AS at, state
     FROM touches WHERE journey_id = @journeyId ORDER BY id`,
  ).all<BegunTouch>({ journeyId });
}

/** Beyond the next touch nothing is decided; the waits tell when it would fall due. */
function stepsAhead(
  db: Db,
  journey: Pick<StoryJourney, "id" | "sequenceId" | "state" | "nextAt"> & {
    version: number;
    placeId: string | null;
    since: number;
  },
  prospect: Prospect,
  begun: BegunTouch[],
): StoryTouch[] {
  const sequence = sequenceById(db, journey.sequenceId) as Sequence;
  const calendar = calendarFor(sequence, prospect.timeZone, prospect.country, journey.since);
  const facts = factsOf(db, {
    id: journey.id,
    prospectId: prospect.id,
    prospectZone: prospect.timeZone,
    prospectCountry: prospect.country,
    email: prospect.email,
    hasProfile: prospect.profile === "" ? 0 : 1,
  });
  const walker = {
    path: pathOfVersion(db, sequence.id, journey.version),
    begun: new Map(begun.map(({ stepId, at }) => [stepId, { at, endedAt: at }])),
  };
  let last = journey.since;
  return expectedSteps(walker, { nodeId: journey.placeId, since: journey.since }, facts).map(
    ({ step, waits }, index): StoryTouch => {
      const due = dueAfter(last, waits, calendar, journey.id, step.id);
      last = index === 0 && isEmail(step) && journey.nextAt !== null ? journey.nextAt : due;
      return {
        stepId: step.id,
        name: step.name,
        channel: CHANNEL_OF[step.kind],
        at: last,
        state: journey.state === "active" ? "planned" : "cancelled",
      };
    },
  );
}

function companyOf({ db }: App, id: number | null): ProspectStory["company"] {
  const row = sql(
    db,
    'SELECT industry, about, employees AS "from", employees_to AS "to" FROM companies WHERE id = @id',
  ).get<{ industry: string; about: string; from: number | null; to: number | null }>({
    id: id ?? 0,
  });
  if (!row) return null;
  const { industry, about, from, to } = row;
  return { industry, about, employees: from === null ? null : { from, to } };
}

/** Whom a number leads to by now; null for nobody. */
export const remainingId = ({ db }: App, id: number): number | null => remainingProspect(db, id)?.id ?? null;
