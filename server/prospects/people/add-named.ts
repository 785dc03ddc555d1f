/** Somebody whom a reply names instead: added as a prospect, with a first letter, and thanks to who pointed there. */

import { z } from "zod";
import { companyDomain } from "../../../core/replies/match.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { User } from "../../accounts/session.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { prospectById } from "../../db/prospects.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { answerReply } from "../../replies/answer-reply.ts";
import { writeOneEmail } from "../../sequences/one-email.ts";
import { addProspect } from "./add-prospect.ts";

const form = z.object({
  replyId: z.coerce.number().int(),
  firstName: z.string().trim().max(100).default(""),
  lastName: z.string().trim().max(100).default(""),
  email: z.string().trim().max(254).default(""),
  phone: z.string().trim().max(40).default(""),
  /** The first letter; an empty text writes none. */
  subject: z.string().trim().max(200).default(""),
  opening: z.string().trim().max(20_000).default(""),
  /** To who pointed there; empty for none. */
  thanks: z.string().trim().max(20_000).default(""),
  key: z.string().regex(/^[\w-]{8,64}$/),
});

export interface AddedNamed {
  prospectId: number;
  isNew: boolean;
  /** Whether a first letter is on its way. */
  writes: boolean;
}

/** They join the list “Named in replies”, with the company of who named them. All of it happens, or nothing. */
export function addNamed(app: App, user: User, input: unknown): Outcome<AddedNamed> {
  let outcome: Outcome<AddedNamed> | null = null;
  try {
    return app.db
      .transaction(() => {
        outcome = addAndWrite(app, user, input);
        if (!outcome.ok) throw new Refused();
        return outcome;
      })
      .immediate();
  } catch (error) {
    if (error instanceof Refused && outcome) return outcome;
    throw error;
  }
}

/** Takes back what was begun. */
class Refused extends Error {}

function addAndWrite(app: App, user: User, input: unknown): Outcome<AddedNamed> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { replyId, firstName, lastName, email, phone, subject, opening, thanks, key } = read.data;
  const { db } = app;
  const no = mayNot(app, user.id, "reply.change", replyId);
  if (no) return no;
  const by = sql(
    db,
    "SELECT prospect_id AS prospectId FROM replies WHERE id = @replyId AND prospect_id IS NOT NULL",
  ).get<{ prospectId: number }>({ replyId });
  const namer = by && prospectById(db, by.prospectId);
  if (!namer) return refused({ form: "This reply is no longer here." });
  if (email === "" && opening !== "")
    return refused({ email: "Type their address, or leave the first letter out: it can be found later." });
  // A colleague at the same domain is of the same company; elsewhere the address says which.
  const isSame = email === "" || companyDomain(email) === companyDomain(namer.email);
  const added = addProspect(
    app,
    user.id,
    {
      email,
      firstName,
      lastName,
      phone,
      company: isSame ? namer.company : "",
      companyDomain: email === "" ? (companyDomain(namer.email) ?? "") : "",
      country: isSame ? namer.country : "",
      city: isSame ? namer.city : "",
      title: "",
      profile: "",
      listName: "Named in replies",
    },
    "change",
  );
  if (!added.ok) return added;
  if (isSame && namer.timeZone)
    sql(db, "UPDATE prospects SET time_zone = @zone WHERE id = @id AND time_zone IS NULL").run({
      id: added.value.id,
      zone: namer.timeZone,
    });
  let writes = false;
  if (opening !== "") {
    const written = writeOneEmail(app, user, {
      prospectId: added.value.id,
      subject,
      body: opening,
      when: "now",
      remindAfter: 5,
    });
    if (!written.ok) {
      const { body, ...others } = written.errors;
      return refused(body === undefined ? others : { ...others, opening: body });
    }
    writes = true;
  }
  if (thanks !== "") {
    const answered = answerReply(app, user, { replyId, text: thanks, key });
    if (!answered.ok) return refused(answered.errors);
  }
  return done({ prospectId: added.value.id, isNew: added.value.isNew, writes });
}
