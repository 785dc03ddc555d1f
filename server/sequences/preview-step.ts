import { z } from "zod";
import { WRITES_TO } from "../../core/prospects/verdict.ts";
import { isEmail, isSameThread, type Path, pathSchema, spotsOf } from "../../core/sequence/path.ts";
import { formatEmail } from "../../core/writing/format.ts";
import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { fullName, prospectsOfList } from "../db/prospects.ts";
import { type RenderedStep, renderStep, textFor } from "./render-step.ts";

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
  variantId: z.string().nullable().default(null),
  index: z.number().int(),
  form: z.object({
    listId: z.number().int().nullable(),
    mailboxIds: z.array(z.number().int()),
    writesTo: z.enum(WRITES_TO).default("good"),
    path: pathSchema,
  }),
});

/** A step as the prospect at `index` of the list would get it. */
export function previewStep(
  app: App,
  input: {
    path: Path;
    stepId: string;
    variantId?: string | null;
    listId: number | null;
    mailboxIds: number[];
    index: number;
    sequenceId?: number | null;
  },
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
  const step = spotsOf(input.path).get(input.stepId)?.node;
  const { path, variantId = null, sequenceId = null } = input;
  const rendered =
    !prospect || !step || step.kind === "fork" || step.kind === "end"
      ? null
      : !isEmail(step)
        ? textFor(app, step, prospect, mailbox?.userId ?? 0)
        : mailbox
          ? renderStep(app, { path, step, prospect, mailbox, variantId, sequenceId })
          : null;
  const wording =
    step && isEmail(step) ? step.variants.find(({ id }) => id === rendered?.variantId) : undefined;
  return {
    index,
    total,
    prospect: prospect ? { id: prospect.id, name: fullName(prospect), company: prospect.company } : null,
    from: mailbox?.address ?? "",
    sameThread: wording !== undefined && isSameThread(wording),
    rendered,
    html:
      rendered?.ok && step && isEmail(step) && step.format === "formatted"
        ? formatEmail(rendered.body, null, rendered.markup).html
        : null,
  };
}
