/** What the page before a start shows: how everybody on the list stands, and one of them with what they will get. */
import { everyStep, textsOf } from "../../../core/sequence/path";
import { STANDINGS } from "../../../core/sequence/standing";
import { fieldsIn } from "../../../core/writing/merge";
import type { User } from "../../../server/accounts/session";
import type { App } from "../../../server/app";
import { researchOfPerson } from "../../../server/research/research-of-list";
import { checkSequence } from "../../../server/sequences/check-sequence";
import { mailboxChoices, sequenceOf } from "../../../server/sequences/open-sequence";
import { previewFor } from "../../../server/sequences/preview-step";
import { START_PAGE, startAddresses, startCheck, startPeople } from "../../../server/sequences/start-check";
import { readPage } from "../../desk/read-form";

/** `query`: the page of the list, a standing, a person and a step that are looked at. Null for a sequence that is none. */
export function openStart(app: App, user: User, sequenceId: number, query: URLSearchParams) {
  const sequence = sequenceOf(app, user.id, sequenceId);
  if (!sequence || sequence.deletedAt !== null) return null;
  const standing = STANDINGS.find((each) => each === query.get("standing")) ?? null;
  const page = readPage(query);
  const people = startPeople(app, sequence, standing, page);
  const { problems, start } = checkSequence(app, sequence);
  const personId = Number(query.get("person")) || (people[0]?.id ?? null);
  const used = new Set(everyStep(sequence.path).flatMap(textsOf).flatMap(fieldsIn));
  const steps = everyStep(sequence.path).map(({ id, name, kind }) => ({ id, name, kind }));
  const stepId = steps.find(({ id }) => id === query.get("step"))?.id ?? steps[0]?.id ?? "";
  return {
    id: sequence.id,
    name: sequence.name,
    version: sequence.version,
    state: sequence.state,
    listId: sequence.listId,
    writesTo: sequence.writesTo,
    addresses: startAddresses(app, sequence),
    approval: sequence.settings.approval,
    hours: sequence.hours,
    zone: user.zone,
    mailboxes: mailboxChoices(app, user.id).filter(({ id }) => sequence.mailboxIds.includes(id)),
    problems,
    check: startCheck(app, sequence, start),
    standing,
    page,
    pageSize: START_PAGE,
    people,
    steps,
    stepId,
    preview: personId === null ? null : previewFor(app, sequence, stepId, personId),
    personId,
    /** What columns found about them and the texts say, the unread and the doubtful first. */
    research: personId === null ? [] : researchOfPerson(app, personId).filter(({ code }) => used.has(code)),
  };
}

export type StartData = NonNullable<ReturnType<typeof openStart>>;
