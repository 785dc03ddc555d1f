/** The page that a person has by a template: its link, and whether its moving picture is made. */
import { DAY } from "../../core/calendar.ts";
import { type Db, sql } from "./open.ts";

export interface Page {
  id: number;
  templateId: number;
  prospectId: number;
  madeAt: number;
  /** Null until they have its link. */
  endsAt: number | null;
  /** The moving picture's file; null while there is none. */
  picture: string | null;
  /** It is there, and shows what it should by now. */
  isDrawn: 0 | 1;
  pictureProblem: string | null;
  /** In hundredths. */
  watched: number;
}

const COLUMNS = `id, template_id AS templateId, prospect_id AS prospectId, made_at AS madeAt, ends_at AS endsAt,
  picture, picture IS NOT NULL AND picture_of != '' AS isDrawn, picture_problem AS pictureProblem, watched`;

export const pageOf = (db: Db, templateId: number, prospectId: number): Page | undefined =>
  sql(
    db,
    `SELECT ${COLUMNS} FROM pages WHERE template_id = @templateId AND prospect_id = @prospectId`,
  ).get<Page>({
    templateId,
    prospectId,
  });

/** Their page, made now if there is none. */
export function ensurePage(db: Db, templateId: number, prospectId: number, now: number): Page {
  sql(
    db,
    `INSERT INTO pages (template_id, prospect_id, made_at) VALUES (@templateId, @prospectId, @now) ON CONFLICT DO NOTHING`,
  ).run({ templateId, prospectId, now });
  return pageOf(db, templateId, prospectId) as Page;
}

const DAYS = "(SELECT definition ->> '$.days' FROM page_templates t WHERE t.id = template_id)";

/** They are given the link: from now on it lasts for all of its days. */
export function handOutPage(db: Db, templateId: number, prospectId: number, now: number): void {
  const { id } = ensurePage(db, templateId, prospectId, now);
  sql(db, `UPDATE pages SET ends_at = max(coalesce(ends_at, 0), @now + ${DAYS} * ${DAY}) WHERE id = @id`).run(
    { id, now },
  );
}

/** They are there, whoever gave them the link: from then on it ends, and no visit puts that off. */
export function visitPage(db: Db, templateId: number, prospectId: number, now: number): Page {
  const page = ensurePage(db, templateId, prospectId, now);
  if (page.endsAt === null)
    sql(db, `UPDATE pages SET ends_at = @now + ${DAYS} * ${DAY} WHERE id = @id`).run({ id: page.id, now });
  return page;
}

/** The template that a sequence writes with; null for none. */
export const templateOfSequence = (db: Db, sequenceId: number): number | null =>
  sql(
    db,
    `SELECT t.id FROM sequences s JOIN page_templates t ON t.id = s.settings ->> '$.pageId' AND t.removed_at IS NULL
     WHERE s.id = @sequenceId`,
  ).get<{ id: number }>({ sequenceId })?.id ?? null;

/** What pictures show is another by now, of a page or of somebody's pages: they are drawn anew where an email is to show them. */
export function redrawPictures(
  db: Db,
  of: { templateId: number } | { prospectId: number } | { filmId: number },
): void {
  const where =
    "templateId" in of
      ? "template_id = @id"
      : "prospectId" in of
        ? "prospect_id = @id"
        : "template_id IN (SELECT id FROM page_templates WHERE definition ->> '$.filmId' = @id)";
  sql(db, `UPDATE pages SET picture_of = '', picture_problem = NULL WHERE ${where}`).run({
    id: Object.values(of)[0] as number,
  });
}
