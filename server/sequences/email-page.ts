/** What the page of one email shows of whom it goes to, and what can stand behind it. */
import { type Brought, bestFirst, NOTHING_BROUGHT } from "../../core/results/worked.ts";
import { followUpsOf } from "../../core/sequence/one-email.ts";
import { everyStep, isEmail } from "../../core/sequence/path.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { figuresBySequence } from "../db/outcomes.ts";
import { fullName, prospectById, prospectValues } from "../db/prospects.ts";
import { sequenceById } from "../db/sequences.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { shelf, startingPoints } from "./keep-sequences.ts";
import { type Meanwhile, sequenceOfNow, whyNotWritten } from "./one-email.ts";
import { visibleSequences } from "./visible-sequences.ts";

export interface EmailPage {
  person: { id: number; name: string; title: string; company: string; email: string; zone: string | null };
  /** Why it cannot be written to them; null if it can. */
  why: string | null;
  /** The sequence on which they are now. */
  meanwhile: Meanwhile | null;
  mailboxes: { id: number; address: string }[];
  /** Sequences and starting points whose later emails can follow it. */
  series: { key: string; name: string; emails: number; brought: Brought }[];
  /** What the fields say for them. */
  samples: Record<string, string>;
  now: number;
  zone: string;
}

/** Null for nobody. */
export function emailPage(app: App, user: User, prospectId: number): EmailPage | null {
  const { db, clock } = app;
  const prospect = prospectById(db, prospectId);
  if (!prospect || mayNot(app, user.id, "prospect.see", prospectId)) return null;
  return {
    person: {
      id: prospect.id,
      name: fullName(prospect),
      title: prospect.title,
      company: prospect.company,
      email: prospect.email,
      zone: prospect.timeZone,
    },
    why: mayNot(app, user.id, "prospect.change", prospectId)?.errors.form ?? whyNotWritten(db, prospect),
    meanwhile: sequenceOfNow(db, prospectId),
    mailboxes: allMailboxes(db)
      .filter(({ userId, state }) => userId === user.id && state === "active")
      .map(({ id, address }) => ({ id, address })),
    series: seriesChoices(app, user),
    samples: prospectValues(prospect),
    now: clock.now(),
    zone: user.zone,
  };
}

/** What worked first. */
function seriesChoices(app: App, user: User): EmailPage["series"] {
  const figures = figuresBySequence(app.db);
  const sequences = visibleSequences(app, user.id).flatMap(({ id, name, isArchived }) => {
    const path = isArchived ? null : sequenceById(app.db, id)?.path;
    return path ? [{ key: `sequence ${id}`, name, path, brought: figures.get(id) ?? NOTHING_BROUGHT }] : [];
  });
  const points = shelf(app, user.id).map(({ id, name, path, brought }) => ({
    key: `shelf ${id}`,
    name: `${name}, from the shelf`,
    path,
    brought,
  }));
  return bestFirst([...sequences, ...points])
    .map(({ path, brought: { reached, answered, positive }, ...choice }) => ({
      ...choice,
      emails: everyStep(path).filter(isEmail).length - 1,
      brought: { reached, answered, positive },
    }))
    .filter(({ emails }) => emails > 0);
}

/** The emails behind the first of a sequence or a starting point, to follow an email. */
export function seriesOf(app: App, user: User, key: string): Outcome<ReturnType<typeof followUpsOf>> {
  const [kind, id = ""] = key.split(" ");
  if (kind === "sequence") {
    const no = mayNot(app, user.id, "sequence.see", Number(id));
    if (no) return no;
  }
  const path =
    kind === "sequence"
      ? sequenceById(app.db, Number(id))?.path
      : startingPoints(app).find((point) => point.id === id)?.path;
  return path
    ? done(followUpsOf(path))
    : refused({ series: "This series is no longer there. Reload the page." });
}
