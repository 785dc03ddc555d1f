/** What the writing assistant is asked about sequences. Its drafts are for the rep to read. */
import { z } from "zod";
import type { Path } from "../../core/sequence/path.ts";
import {
  type Brief,
  briefSchema,
  draftSchema,
  pathOfDraft,
  wordingsSchema,
} from "../../core/writing/brief.ts";
import { WISHES } from "../../core/writing/brief-choices.ts";
import type { App } from "../app.ts";
import { askAssistant } from "../assistant/ask.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";

const FIELDS =
  'Merge fields may be used: {{ first_name | default: "there" }}, {{ company }}, {{ title }}, {{ city }}, {{ booking_link }}.';

async function asked<T>(work: Promise<T>): Promise<Outcome<T>> {
  try {
    return done(await work);
  } catch (error) {
    if (error instanceof AppError) return refused({ form: error.message });
    throw error;
  }
}

/** A whole sequence from a brief. */
export async function draftSequence(
  app: App,
  input: unknown,
  signal?: AbortSignal,
): Promise<Outcome<{ name: string; path: Path }>> {
  const read = briefSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const brief: Brief = read.data;
  const answer = await asked(
    askAssistant(
      app,
      {
        path: "/sequence",
        body: brief,
        instructions: `Write a sequence of ${brief.steps} touches in the language "${brief.language}". ${FIELDS} The object is {"name": string, "steps": [{"kind": "email"|"approved_email"|"profile_view"|"invitation"|"social_message"|"call"|"errand", "name": string, "days": number of working days after the touch before, "subject": string, empty for the same thread, "text": string}]}.`,
        answer: draftSchema,
      },
      signal,
    ),
  );
  if (!answer.ok) return answer;
  let number = 0;
  const stamp = Date.now().toString(36);
  return done({ name: answer.value.name, path: pathOfDraft(answer.value, () => `d${stamp}${number++}`) });
}

const emailSchema = z.object({ subject: z.string().max(200), text: z.string().min(1).max(20_000) });

/** One email from a brief. */
export async function draftEmail(
  app: App,
  input: unknown,
  signal?: AbortSignal,
): Promise<Outcome<z.infer<typeof emailSchema>>> {
  const read = briefSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  return asked(
    askAssistant(
      app,
      {
        path: "/email",
        body: read.data,
        instructions: `Write one email in the language "${read.data.language}". ${FIELDS} The object is {"subject": string, "text": string}.`,
        answer: emailSchema,
      },
      signal,
    ),
  );
}

const wishForm = z.object({
  text: z.string().trim().min(1, "Select some text first.").max(20_000),
  wish: z.enum(WISHES),
});

/** Shorter or plainer wordings of a text; merge fields in it stay. */
export async function otherWordings(
  app: App,
  input: unknown,
  signal?: AbortSignal,
): Promise<Outcome<string[]>> {
  const read = wishForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const answer = await asked(
    askAssistant(
      app,
      {
        path: "/wordings",
        body: read.data,
        instructions: `Give up to three ${read.data.wish} wordings of the text, in its language; keep everything in double braces as it is. The object is {"wordings": [string]}.`,
        answer: wordingsSchema,
      },
      signal,
    ),
  );
  return answer.ok ? done(answer.value.wordings) : answer;
}
