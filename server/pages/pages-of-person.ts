/** What stands of pages on somebody's own page: their links, what they did there, the film that was made for them. */
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { pageOf } from "../db/pages.ts";
import { pageLink } from "../mail/page-links.ts";
import { filmOfPerson } from "./films.ts";
import { templateChoices } from "./templates.ts";

export interface PagesOfPerson {
  pages: {
    templateId: number;
    name: string;
    /** The one that they get. */
    link: string;
    /** For who is signed in: nothing is noted. */
    look: string;
    /** Null where nobody has sent it yet. */
    endsAt: number | null;
    watched: number;
    visitedAt: number | null;
  }[];
  /** Made for them alone. */
  film: { id: number; durationMs: number; madeAt: number } | null;
  mayFilm: boolean;
}

/** Null while the team has no page. */
export function pagesOfPerson(app: App, by: By, prospectId: number): PagesOfPerson | null {
  const { db } = app;
  const templates = templateChoices(app, by);
  if (templates.length === 0) return null;
  const visitedAt =
    sql(
      db,
      "SELECT max(at) AS at FROM events WHERE prospect_id = @prospectId AND kind = 'page_visited'",
    ).get<{ at: number | null }>({
      prospectId,
    })?.at ?? null;
  const all = templates.map(({ id, name }) => {
    const page = pageOf(db, id, prospectId);
    return {
      ...{
        templateId: id,
        name,
        link: pageLink(app, id, prospectId),
        look: pageLink(app, id, prospectId, "look"),
      },
      ...{ endsAt: page?.endsAt ?? null, watched: page?.watched ?? 0, visitedAt: page ? visitedAt : null },
    };
  });
  // Those that they have; before that, the ones that they could get.
  const sent = all.filter(({ endsAt }) => endsAt !== null);
  const film = filmOfPerson(db, prospectId);
  return {
    pages: sent.length > 0 ? sent : all.slice(0, 3),
    film: film ? { id: film.id, durationMs: film.endsMs - film.startsMs, madeAt: film.madeAt } : null,
    mayFilm: mayNot(app, by, "prospect.change", prospectId) === null,
  };
}
