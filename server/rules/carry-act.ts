/** Carries out one act of a rule, by the use case that a press would call, as the rule's owner: what they may not, it does not. */
import { randomUUID } from "node:crypto";
import { dayNumberOf, textOfDay } from "../../core/calendar.ts";
import { STAGE_NAMES } from "../../core/prospects/stages.ts";
import type { Act } from "../../core/rules/rule.ts";
import { renderMerge } from "../../core/writing/merge.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { AppTx } from "../app.ts";
import { crmOf } from "../crm/crm.ts";
import { askDeal } from "../crm/news.ts";
import { sql } from "../db/open.ts";
import { fullName, type Prospect, prospectById, prospectValues } from "../db/prospects.ts";
import { queueServiceMail } from "../db/service-mails.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { mailboxFor } from "../meetings/host-mailbox.ts";
import { tell } from "../notices/write-notices.ts";
import { bulkEdit } from "../prospects/people/bulk-edit.ts";
import { sequenceOf } from "../sequences/open-sequence.ts";
import { changePeople } from "../sequences/sequence-people.ts";
import { stopByRep } from "../sequences/stop-by-rep.ts";
import { remindMe } from "../today/reminders.ts";
import { tellWebhook } from "../webhooks/webhooks.ts";

export interface Acted {
  /** In words, for the log. */
  said: string;
  /** By which it is taken back ("bulk 3"); null for what cannot be. */
  undo: string | null;
}

interface About {
  runId: number;
  nth: number;
  ruleId: number;
  ruleName: string;
  prospectId: number;
  /** The owner, as whom it acts. */
  user: User;
}

export function carryAct(app: AppTx, about: About, act: Act): Outcome<Acted> {
  const { user, prospectId, ruleName } = about;
  const person = prospectById(app.db, prospectId);
  if (!person) return refused({ form: "This person is no longer here." });
  switch (act.kind) {
    case "start": {
      const outcome = bulk(app, user, person, { kind: "sequence", sequenceId: act.sequenceId });
      // Left out, as at any start: that is an answer, and no start.
      if (outcome.ok && outcome.value.count === 0) return refused({ form: outcome.value.said });
      return outcome;
    }
    case "stop": {
      const stopped = stopByRep(app, prospectId, user.id);
      return stopped.ok ? done({ said: "stopped what was planned", undo: `undo ${stopped.value}` }) : stopped;
    }
    case "move":
      return move(app, user, prospectId, act);
    case "set":
      return bulk(app, user, person, {
        kind: "set",
        field: act.field,
        value: filled(act.value, person, user),
      });
    case "stage":
      return said(
        bulk(app, user, person, { kind: "set", field: "stage", value: act.to }),
        `moved to “${STAGE_NAMES[act.to]}”`,
      );
    case "owner": {
      const next = nextInTurn(app, about, act.userIds);
      if (!next) return refused({ form: "Nobody of those who take turns is here any more." });
      return said(
        bulk(app, user, person, { kind: "set", field: "owner", value: String(next.id) }),
        `given to ${next.name}`,
      );
    }
    case "list": {
      const name = sql(app.db, "SELECT name FROM lists WHERE id = @id").get<{ name: string }>({
        id: act.listId,
      })?.name;
      if (name === undefined) return refused({ form: "The list is no longer here." });
      return act.isOn
        ? bulk(app, user, person, { kind: "add_to_list", name })
        : said(
            bulk(app, user, person, { kind: "remove_from_list", listId: act.listId }),
            `taken off “${name}”`,
          );
    }
    case "remind": {
      const day = act.inDays === 0 ? null : textOfDay(dayNumberOf(app.clock.now(), user.zone) + act.inDays);
      const words = filled(act.text, person, user);
      const made = remindMe(app, user, {
        prospectId,
        kind: "errand",
        text: act.what === "call" ? `Call: ${words}` : words,
        day,
      });
      return made.ok ? done({ said: `put on Today: ${words}`, undo: `reminder ${made.value}` }) : made;
    }
    case "notify": {
      const to = act.userId ?? person.ownerId ?? user.id;
      const text = filled(act.text, person, user);
      tell(app, to, app.clock.now(), {
        kind: "connection",
        text,
        path: `/prospects/${prospectId}`,
        about: `rule ${randomUUID()}`,
      });
      return done({ said: `told ${nameOf(app, to)}: ${text}`, undo: null });
    }
    case "mail":
      return mail(app, about, person, act);
    case "deal": {
      const crm = crmOf(app);
      if (crm?.state !== "on") return refused({ form: "No CRM is kept in step at present." });
      const no = mayNot(app, user.id, "prospect.change", prospectId);
      if (no) return no;
      askDeal(app, crm, {
        prospectId,
        name: act.name,
        stage: act.stage,
        cause: `run ${about.runId} ${about.nth}`,
      });
      return done({ said: `a deal at “${act.stage}” asked of ${crm.name}`, undo: null });
    }
    case "webhook": {
      const no = mayNot(app, user.id, "webhook.change", act.webhookId);
      if (no) return no;
      return tellWebhook(app, act.webhookId, {
        prospectId,
        detail: filled(act.text, person, user) || ruleName,
      })
        ? done({
            said:
              act.text === "" ? "told the webhook" : `told the channel: ${filled(act.text, person, user)}`,
            undo: null,
          })
        : refused({ form: "The webhook is no longer here, or switched off." });
    }
  }
}

const nameOf = ({ db }: AppTx, userId: number): string =>
  sql(db, "SELECT name FROM users WHERE id = @userId").get<{ name: string }>({ userId })?.name ?? "somebody";

/** What stands in a text for a merge field; a text that cannot be filled in stays as it was written. */
function filled(text: string, person: Prospect, user: User): string {
  const rendered = renderMerge(text, {
    ...prospectValues(person),
    full_name: fullName(person),
    sender_name: user.name,
  });
  return rendered.ok ? rendered.text : text;
}

function bulk(app: AppTx, user: User, { id }: Prospect, action: object): Outcome<Acted & { count: number }> {
  const outcome = bulkEdit(app, user, { ids: [id], action });
  if (!outcome.ok) return outcome;
  const { words, batch, count } = outcome.value;
  return done({ said: words, undo: batch === null ? null : `bulk ${batch}`, count });
}

const said = (outcome: Outcome<Acted>, words: string): Outcome<Acted> =>
  outcome.ok ? done({ ...outcome.value, said: words }) : outcome;

function move(
  app: AppTx,
  user: User,
  prospectId: number,
  act: Extract<Act, { kind: "move" }>,
): Outcome<Acted> {
  const sequence = sequenceOf(app, user.id, act.sequenceId);
  if (!sequence) return refused({ form: "The sequence is no longer here." });
  const journey = sql(
    app.db,
    "SELECT id FROM journeys WHERE prospect_id = @prospectId AND sequence_id = @sequenceId AND state = 'active'",
  ).get<{ id: number }>({ prospectId, sequenceId: act.sequenceId });
  if (!journey) return refused({ form: `They are not on “${sequence.name}”.` });
  const moved = changePeople(app, user.id, sequence, [journey.id], { do: "move", to: act.stepId });
  if (!moved.ok) return moved;
  return moved.value.changed === 1
    ? done({ said: `moved on within “${sequence.name}”`, undo: null })
    : refused({ form: "They stand there already." });
}

/** By turns: whoever was given somebody longest ago, of those who are still here. */
function nextInTurn(
  { db }: AppTx,
  { ruleId, nth }: About,
  userIds: readonly number[],
): { id: number; name: string } | undefined {
  const given =
    sql(
      db,
      "SELECT count(*) AS count FROM rule_acts a JOIN rule_runs r ON r.id = a.run_id WHERE r.rule_id = @ruleId AND a.nth = @nth AND a.state = 'done'",
    ).get<{ count: number }>({ ruleId, nth })?.count ?? 0;
  const here = sql(
    db,
    `SELECT u.id, u.name FROM json_each(@ids) i JOIN users u ON u.id = i.value WHERE u.removed_at IS NULL ORDER BY i.key`,
  ).all<{ id: number; name: string }>({ ids: JSON.stringify(userIds) });
  return here.length === 0 ? undefined : here[given % here.length];
}

/** An email to a colleague, from the mailbox of whoever the rule belongs to. */
function mail(
  app: AppTx,
  { user, prospectId }: About,
  person: Prospect,
  { userId, subject, body }: Extract<Act, { kind: "mail" }>,
): Outcome<Acted> {
  const to = userId ?? person.ownerId ?? user.id;
  const colleague = sql(app.db, "SELECT name, email FROM users WHERE id = @to AND removed_at IS NULL").get<{
    name: string;
    email: string;
  }>({ to });
  if (!colleague) return refused({ form: "The colleague who is to be written to is no longer here." });
  const from = mailboxFor(app.db, { userId: user.id, prospectId });
  if (!from) return refused({ form: "There is no mailbox from which it could go. Add one, or wake one." });
  queueServiceMail(app.db, {
    ...{ kind: "notice", mailboxId: from.id, recipient: colleague.email, recipientName: colleague.name },
    subject: filled(subject, person, user),
    body: `${filled(body, person, user)}\n\n${app.config.url}/prospects/${prospectId}`,
    ...{ meetingId: null, prospectId },
    messageId: `<${randomUUID()}@${from.address.split("@")[1]}>`,
    dueAt: app.clock.now(),
  });
  return done({ said: `wrote to ${colleague.name}`, undo: null });
}
