import { z } from "zod";
import { USUALLY, WRITES_TO } from "../../core/prospects/verdict.ts";
import { isEmail, isSameThread, isTouch, spotsOf } from "../../core/sequence/path.ts";
import { pathSchema } from "../../core/sequence/path-schema.ts";
import { sequenceSettingsSchema } from "../../core/sequence/settings.ts";
import { formatEmail } from "../../core/writing/format.ts";
import type { App } from "../app.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { fullName, type Prospect, prospectById, prospectsOfList, prospectValues } from "../db/prospects.ts";
import type { Sequence } from "../db/sequences.ts";
import { type RenderedStep, renderStep, sequencePage, textFor } from "./render-step.ts";

export interface StepPreview {
  /** Which prospect of how many, counted from 0. */
  index: number;
  total: number;
  prospect: { id: number; name: string; company: string } | null;
  from: string;
  sameThread: boolean;
  rendered: RenderedStep | null;
  /** The wording before it is filled in, if it is an email. */
  template: { subject: string; body: string } | null;
  /** The HTML part, if the text is formatted. */
  html: string | null;
  /** What the merge fields say for this prospect. */
  samples: Record<string, string>;
}

/** What the page sends to have a step previewed: what is typed, saved or not. */
export const previewForm = z.object({
  stepId: z.string(),
  variantId: z.string().nullable().default(null),
  index: z.number().int(),
  form: z.object({
    listId: z.number().int().nullable(),
    mailboxIds: z.array(z.number().int()),
    writesTo: z.enum(WRITES_TO).default(USUALLY),
    settings: sequenceSettingsSchema,
    path: pathSchema,
  }),
});

type Looked = Pick<Sequence, "path" | "mailboxIds"> & {
  stepId: string;
  variantId?: string | null;
  sequenceId?: number | null;
  /** The page that it writes with, where that is not saved yet. */
  pageId?: number | null;
};

/** A step as the prospect at `index` of the list would get it. */
export function previewStep(app: App, input: Looked & { listId: number | null; index: number }): StepPreview {
  const total =
    input.listId === null
      ? 0
      : (sql(app.db, "SELECT count(*) AS count FROM list_prospects WHERE list_id = @listId").get<{
          count: number;
        }>({ listId: input.listId })?.count ?? 0);
  const index = total === 0 ? 0 : ((input.index % total) + total) % total;
  const [prospect] = input.listId === null ? [] : prospectsOfList(app.db, input.listId, 1, index);
  return { ...look(app, input, prospect), index, total };
}

/** A stored sequence's step as one prospect would get it; null if there is no such prospect. */
export function previewFor(
  app: App,
  sequence: Sequence,
  stepId: string,
  prospectId: number,
): StepPreview | null {
  const prospect = prospectById(app.db, prospectId);
  return prospect
    ? { ...look(app, { ...sequence, sequenceId: sequence.id, stepId }, prospect), index: 0, total: 1 }
    : null;
}

function look(app: App, input: Looked, prospect: Prospect | undefined): Omit<StepPreview, "index" | "total"> {
  const { db } = app;
  const mailboxes = allMailboxes(db);
  const mailbox = mailboxes.find(({ id }) => input.mailboxIds.includes(id)) ?? mailboxes[0];
  const { path, variantId = null, sequenceId = null, pageId } = input;
  const step = spotsOf(path).get(input.stepId)?.node;
  const email = step && isEmail(step) ? step : null;
  const rendered =
    !prospect || !step || !isTouch(step)
      ? null
      : !isEmail(step)
        ? textFor(app, step, prospect, mailbox?.userId ?? 0, pageId ?? sequencePage(app, sequenceId))
        : mailbox
          ? renderStep(app, {
              ...{ path, step, prospect, mailbox, variantId, sequenceId },
              ...(pageId !== undefined && { pageId }),
            })
          : null;
  const wording = email?.variants.find(({ id }) => id === rendered?.variantId);
  return {
    prospect: prospect ? { id: prospect.id, name: fullName(prospect), company: prospect.company } : null,
    from: mailbox?.address ?? "",
    sameThread: wording !== undefined && isSameThread(wording),
    rendered,
    template: wording ? { subject: wording.subject, body: wording.body } : null,
    samples: prospect
      ? {
          ...prospectValues(prospect),
          sender_name: mailbox?.senderName ?? "",
          sender_first_name: mailbox?.senderName.split(" ")[0] ?? "",
        }
      : {},
    html:
      rendered?.ok && email?.format === "formatted"
        ? formatEmail(rendered.body, null, rendered.markup).html
        : null,
  };
}
