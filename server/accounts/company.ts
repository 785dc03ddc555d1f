/** What holds for everybody of this installation: the company on public pages, and choices about sending. */

import { z } from "zod";
import type { App } from "../app.ts";
import { settingReader, writeSetting } from "../db/settings.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { type By, mayNot } from "./may-not.ts";

const NAME = "company";
/** A picture is shown 64 px high; more is a photograph that nobody meant. */
const MOST_PICTURE_BYTES = 200_000;

const company = z.object({
  /** "" until somebody has typed it. */
  name: z.string().trim().max(80, "At most 80 characters.").default(""),
  /** ISO 3166 code of the country whose public holidays are no working days; "" for none. */
  country: z
    .string()
    .regex(/^([A-Z]{2})?$/, "Choose a country.")
    .default(""),
  /** A picture for public pages as a data URL; "" for none. */
  picture: z
    .string()
    .regex(/^(data:image\/(png|jpeg|webp);base64,[A-Za-z0-9+/=]+)?$/, "Choose a PNG, JPEG or WebP picture.")
    .max(MOST_PICTURE_BYTES * 1.4, "Choose a picture of at most 200 kB.")
    .default(""),
  /**
   * Which emails carry the header by which mail programs show an opt-out button (RFC 8058). Mail servers take an
   * email with it for a mailing list's and send no automatic answer, so first emails go without; the opt-out link is
   * in the text of each.
   */
  optOutHeader: z.enum(["follow_ups", "always"]).default("follow_ups"),
  /** What to do with an email of which nobody can tell whether it left: ask (rather once too few), or send it again. */
  unsettled: z.enum(["ask", "send_again"]).default("ask"),
});
export type Company = z.infer<typeof company>;

export const readCompany = settingReader<Company>(NAME, (value) => company.parse(value));

/** Changes what the form names; the rest stays. */
export function saveCompany(app: App, by: By, input: Record<string, unknown>): Outcome<null> {
  const { db } = app;
  const no = mayNot(app, by, "settings.team");
  if (no) return no;
  const read = company.safeParse({ ...readCompany(db), ...input });
  if (!read.success) return refused(fieldErrors(read.error));
  writeSetting(db, NAME, JSON.stringify(read.data));
  return done(null);
}
