/** How a page for one prospect is reached: through a signed link, and through a moving picture that leads there. */

import { asText } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { readLink, signLink } from "../secrets.ts";

/** `look`: by somebody it was not made for, such as whoever gets a copy: nothing that happens there is noted. */
type Purpose = "theirs" | "look";

const tokenOf = (
  { key }: Pick<App, "key">,
  templateId: number,
  prospectId: number,
  purpose: Purpose = "theirs",
) => signLink("page", [templateId, prospectId, ...(purpose === "look" ? ["look"] : [])].join(" "), key);

export interface PageRef {
  templateId: number;
  prospectId: number;
  isLook: boolean;
}

/** What a link names; null for one that we did not make. */
export function readPageLink({ key }: Pick<App, "key">, token: string): PageRef | null {
  const [templateId, prospectId, look] = (readLink("page", token, key) ?? "").split(" ");
  return templateId && prospectId
    ? { templateId: Number(templateId), prospectId: Number(prospectId), isLook: look === "look" }
    : null;
}

export const pageLink = (
  app: Pick<App, "key" | "config">,
  templateId: number,
  prospectId: number,
  purpose?: Purpose,
): string => `${app.config.url}/for/${tokenOf(app, templateId, prospectId, purpose)}`;

/** The same link where it names a person, as one that acts for nobody. */
export const withoutActing = (app: App, text: string): string =>
  text.replace(
    /\/for\/([\w.-]{1,300})|\(page:([\w.-]{1,300})\)/g,
    (whole, link?: string, picture?: string) => {
      const ref = readPageLink(app, link ?? picture ?? "");
      if (!ref) return whole;
      const token = tokenOf(app, ref.templateId, ref.prospectId, "look");
      return link === undefined ? `(page:${token})` : `/for/${token}`;
    },
  );

/** What texts call `page_link` and `page_picture`, the second as Markdown; both empty where there is no page. */
export function pageFields(
  app: App,
  templateId: number | null,
  { id, firstName, sender }: { id: number; firstName: string; sender: string },
  purpose?: Purpose,
): { page_link: string; page_picture: string } {
  if (templateId === null) return { page_link: "", page_picture: "" };
  const token = tokenOf(app, templateId, id, purpose);
  const link = `${app.config.url}/for/${token}`;
  const alt = firstName === "" ? `A short film by ${sender}` : `For ${firstName}: a short film by ${sender}`;
  return { page_link: link, page_picture: `[![${asText(alt)}](page:${token})](${link})` };
}

export interface MovingPicture {
  /** The file's name; null while there is none. */
  file: string | null;
  /** It travels inside the email. */
  isInside: boolean;
}

export function movingPictureOf({ db, key }: App, token: string): MovingPicture | null {
  const ref = readPageLink({ key }, token);
  if (!ref) return null;
  const row = sql(
    db,
    `SELECT g.picture AS file, t.definition ->> '$.picture' = 'inside' AS isInside FROM page_templates t
     LEFT JOIN pages g ON g.template_id = t.id AND g.prospect_id = @prospectId WHERE t.id = @templateId`,
  ).get<{ file: string | null; isInside: 0 | 1 }>({ templateId: ref.templateId, prospectId: ref.prospectId });
  return row ? { file: row.file, isInside: row.isInside === 1 } : null;
}
