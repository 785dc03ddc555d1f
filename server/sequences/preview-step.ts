import { z } from "zod";
import { WRITES_TO } from "../../core/prospects/verdict.ts";
import { isSameThread, type Step, stepsSchema } from "../../core/sequence/steps.ts";
import { formatEmail } from "../../core/writing/format.ts";
import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { fullName, prospectsOfList } from "../db/prospects.ts";
import { type RenderedStep, renderStep } from "./render-step.ts";

export interface StepPreview {
  /** Which prospect of how many, counted from 0. */
  index: number;
  total: number;
  prospect: { id: number; name: string; company: string } | null;
  from: string;
  sameThread: boolean;
  rendered: RenderedStep | null;
  /** The HTML part, if the text is formatted. */
  html: string | null;
}

/** What the page sends to have a step previewed: what is typed, saved or not. */
export const previewForm = z.object({
  stepId: z.string(),
  index: z.number().int(),
  form: z.object({
    listId: z.number().int().nullable(),
    mailboxIds: z.array(z.number().int()),
    writesTo: z.enum(WRITES_TO).default("good"),
    steps: stepsSchema,
  }),
});

/** A step as the prospect at `index` of the list would get it. */
export function previewStep(
  app: App,
  input: { steps: Step[]; stepId: string; listId: number | null; mailboxIds: number[]; index: number },
): StepPreview {
  const { db } = app;
  const total =
    input.listId === null
      ? 0
      : (sql<{ listId: number }, { count: number }>(
          db,
          "SELECT count(*) AS count FROM list_prospects WHERE list_id = @listId",
        ).get({ listId: input.listId })?.count ?? 0);
  const index = total === 0 ? 0 : ((input.index % total) + total) % total;
  const [prospect] = input.listId === null ? [] : prospectsOfList(db, input.listId, 1, index);
  const mailboxes = allMailboxes(db);
  const mailbox = mailboxes.find(({ id }) => input.mailboxIds.includes(id)) ?? mailboxes[0];
  const step = input.steps.find(({ id }) => id === input.stepId);
  const rendered =
    prospect && mailbox && step ? renderStep(app, { sequence: input, step, prospect, mailbox }) : null;
  return {
    index,
    total,
    prospect: prospect ? { id: prospect.id, name: fullName(prospect), company: prospect.company } : null,
    from: mailbox?.address ?? "",
    sameThread: step ? isSameThread(input.steps, input.steps.indexOf(step)) : false,
    rendered,
    html: rendered?.ok ? formatEmail(rendered.body, null, rendered.markup).html : null,
  };
}
