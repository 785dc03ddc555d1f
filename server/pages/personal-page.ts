/** A page as one prospect sees it: by its signed link only, in their language, with what is known of them and of nobody else. */

import { DAY } from "../../core/calendar.ts";
import type { PublicLanguage } from "../../core/languages.ts";
import { readCaptions } from "../../core/pages/captions.ts";
import { type Colours, contrast } from "../../core/pages/colours.ts";
import { type FilledBlock, fillPage, type Lack } from "../../core/pages/fill-page.ts";
import { type Definition, hasBlock, shownIn } from "../../core/pages/template.ts";
import type { SiteReading } from "../../core/research/site.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { pageOf } from "../db/pages.ts";
import { type Prospect, prospectValues, remainingProspect, unreadFields } from "../db/prospects.ts";
import { AppError } from "../errors.ts";
import { bookingLink, optOutLink } from "../mail/compose.ts";
import { readPageLink } from "../mail/page-links.ts";
import { type BookingPage, bookingPage, type Host, hostOf } from "../meetings/booking-page.ts";
import { type Film, filmById, filmOfPerson } from "./films.ts";
import { type PageTemplate, templateById } from "./templates.ts";

/** Whoever made the page for somebody: their prospect's owner, else the page's. */
export interface Maker {
  id: number;
  name: string;
  slug: string;
  zone: string;
}

export interface ShownFilm {
  id: number;
  type: string;
  /** From where to where it is played, in seconds. */
  from: number;
  to: number;
  hasPoster: boolean;
  captions: { language: string; lines: { from: number; text: string }[] } | null;
  /** Made for this person. */
  isOwn: boolean;
}

export interface PersonalPage {
  host: Host;
  maker: Pick<Maker, "name" | "zone">;
  language: PublicLanguage;
  languages: PublicLanguage[];
  colours: Colours;
  blocks: FilledBlock[];
  /** What this person is not shown, for whoever makes the page. */
  lacks: Lack[];
  film: ShownFilm | null;
  /** Their web site, as it stands beside the film: drawn from what was read there. */
  site: {
    domain: string;
    name: string;
    line: string;
    colour: string;
    headings: string[];
    logo: string | null;
  } | null;
  files: { id: number; name: string; type: string; bytes: number }[];
  booking:
    | (Pick<BookingPage, "times" | "length" | "daysAhead" | "where" | "place" | "questions"> & {
        slug: string;
        /** What the booking page knows them by. */
        token: string;
        address: string;
      })
    | null;
  visitor: { name: string; email: string; phone: string; zone: string | null; city: string };
  optOut: string;
  endsAt: number;
}

export interface Opened {
  template: PageTemplate;
  prospect: Prospect;
  /** The page's own number; null where it was never sent. */
  pageId: number | null;
  endsAt: number | null;
  isLook: boolean;
}

/** What a link opens. Throws `not_found` for one that we did not make, a person who was erased, and a page that was taken away. */
export function openPage(app: App, token: string): Opened {
  const ref = readPageLink(app, token);
  const template = ref && templateById(app.db, ref.templateId);
  const prospect = ref ? remainingProspect(app.db, ref.prospectId) : undefined;
  if (!ref || !template || !prospect) throw new AppError("not_found");
  const page = pageOf(app.db, template.id, prospect.id);
  return { template, prospect, pageId: page?.id ?? null, endsAt: page?.endsAt ?? null, isLook: ref.isLook };
}

/** Whose page it is for somebody. */
export function makerOf(
  db: Db,
  template: Pick<PageTemplate, "userId">,
  prospect: Pick<Prospect, "ownerId">,
): Maker {
  return (
    sql(
      db,
      `SELECT id, name, booking_slug AS slug, time_zone AS zone FROM users WHERE removed_at IS NULL
       ORDER BY id = @owner DESC, id = @maker DESC, role = 'manager' DESC, id LIMIT 1`,
    ).get<Maker>({ owner: prospect.ownerId, maker: template.userId }) ?? {
      id: 0,
      name: "",
      slug: "",
      zone: "UTC",
    }
  );
}

/** The site of a person's company as it was read; null while nobody did. */
export function siteOf(
  db: Db,
  { companyDomain: domain }: Pick<Prospect, "companyDomain">,
): { domain: string; reading: SiteReading } | null {
  if (!domain) return null;
  const row = sql(db, "SELECT reading FROM sites WHERE domain = @domain AND reading != '{}'").get<{
    reading: string;
  }>({ domain });
  return row ? { domain, reading: JSON.parse(row.reading) as SiteReading } : null;
}

/** A picture of theirs that a column found: their logo, what they show. */
export function foundPicture(
  db: Db,
  prospect: Pick<Prospect, "id" | "companyId">,
  of: "logo" | "picture",
): string | null {
  return (
    sql(
      db,
      `SELECT v.value FROM column_values v JOIN columns c ON c.id = v.column_id AND c.kind = 'site' AND c.settings ->> '$.piece' = @of
       WHERE v.state = 'found' AND (v.company_id = @companyId OR v.prospect_id = @id) AND v.value LIKE '/pictures/%' LIMIT 1`,
    ).get<{ value: string }>({ of, id: prospect.id, companyId: prospect.companyId })?.value ?? null
  );
}

/** The film that somebody is shown: their own, else the page's. */
export function filmFor(db: Db, definition: Pick<Definition, "filmId">, prospectId: number): Film | null {
  const own = filmOfPerson(db, prospectId);
  if (own) return own;
  const film = definition.filmId === null ? undefined : filmById(db, definition.filmId);
  return film && film.type !== "" ? film : null;
}

/** What texts of a page say of somebody. What the assistant wrote and nobody has read is not said. */
export function pageValues(app: App, prospect: Prospect, maker: Maker): Record<string, string> {
  const values: Record<string, string> = { ...prospectValues(prospect) };
  for (const field of unreadFields(prospect)) values[field] = "";
  return {
    ...values,
    sender_name: maker.name,
    sender_first_name: maker.name.split(" ")[0] ?? "",
    booking_link: bookingLink(app, maker.slug, prospect.id),
    opt_out_link: optOutLink(app, prospect.id),
  };
}

/**
 * The page for somebody. `wanted`: the language that they asked for, or are known by; `plainGreeting`: what greets nobody by name,
 * in the language that it is shown in; `definition`: one that is not saved yet, for its preview.
 */
export function personalPage(
  app: App,
  { template, prospect, endsAt }: Pick<Opened, "template" | "prospect" | "endsAt">,
  {
    wanted,
    plainGreeting,
    definition = template.definition,
  }: {
    wanted: PublicLanguage | null;
    plainGreeting: (language: PublicLanguage) => string;
    definition?: Definition;
  },
): PersonalPage {
  const { db } = app;
  const language = shownIn(definition, wanted);
  const maker = makerOf(db, template, prospect);
  const film = hasBlock(definition, "film") ? filmFor(db, definition, prospect.id) : null;
  const site = siteOf(db, prospect);
  const logo = foundPicture(db, prospect, "logo");
  const files = filesOfPage(db, definition);
  const booking = hasBlock(definition, "times") ? timesFor(app, definition, maker, prospect.id) : null;
  const { blocks, lacks } = fillPage(definition, language, pageValues(app, prospect, maker), {
    film: film !== null,
    logo,
    site: site !== null,
    files: new Set(files.map(({ id }) => id)),
    times: booking !== null && booking.times.length > 0,
    plainGreeting: plainGreeting(language),
  });
  return {
    host: hostOf(db),
    maker: { name: maker.name, zone: maker.zone },
    language,
    languages: definition.languages,
    colours: definition.colours,
    blocks,
    lacks,
    film: film && shownFilm(film, prospect.id, db),
    site: site && {
      domain: site.domain,
      name: site.reading.name || prospect.company,
      line: site.reading.line?.value ?? "",
      colour: deepEnough(site.reading.color),
      headings: (site.reading.pages[0]?.headings ?? []).slice(0, 3),
      logo,
    },
    files,
    booking,
    visitor: {
      name: [prospect.firstName, prospect.lastName].filter(Boolean).join(" "),
      email: prospect.email,
      phone: prospect.phone,
      zone: prospect.timeZone,
      city: prospect.city,
    },
    optOut: optOutLink(app, prospect.id),
    endsAt: endsAt ?? app.clock.now() + definition.days * DAY,
  };
}

/** A site's colour, where white words can be read on it; else a quiet one. */
const deepEnough = (colour: string): string =>
  /^#[0-9a-f]{6}$/i.test(colour) && contrast(colour, "#ffffff") >= 4.5 ? colour : "#3d5a80";

function shownFilm(film: Film, prospectId: number, db: Db): ShownFilm {
  const said = readCaptions(film.captions);
  const captions = "captions" in said && said.captions.length > 0 ? said.captions : null;
  return {
    id: film.id,
    type: film.type,
    from: film.startsMs / 1000,
    to: film.endsMs / 1000,
    hasPoster:
      sql(db, "SELECT poster IS NOT NULL AS has FROM films WHERE id = @id").get<{ has: 0 | 1 }>({
        id: film.id,
      })?.has === 1,
    captions: captions && {
      language: film.captionsLanguage,
      lines: captions.map(({ from, text }) => ({ from, text })),
    },
    isOwn: film.prospectId === prospectId,
  };
}

/** Pictures and files that the page names and that are still here. */
function filesOfPage(db: Db, { blocks }: Definition): PersonalPage["files"] {
  const ids = blocks.flatMap((block) =>
    block.kind === "files"
      ? block.files
      : block.kind === "picture" && block.fileId !== null
        ? [block.fileId]
        : [],
  );
  return sql(
    db,
    "SELECT id, name, type, length(bytes) AS bytes FROM files WHERE id IN (SELECT value FROM json_each(@ids))",
  ).all<PersonalPage["files"][number]>({ ids: JSON.stringify(ids) });
}

/** Whether a page shows a file: its links hand out no others. */
export const showsFile = ({ blocks }: Definition, fileId: number): boolean =>
  blocks.some(
    (block) =>
      (block.kind === "files" && block.files.includes(fileId)) ||
      (block.kind === "picture" && block.fileId === fileId),
  );

function timesFor(
  app: App,
  definition: Definition,
  maker: Maker,
  prospectId: number,
): PersonalPage["booking"] {
  const block = definition.blocks.find(({ kind }) => kind === "times") as Extract<
    Definition["blocks"][number],
    { kind: "times" }
  >;
  const slug = block.slug || maker.slug;
  const address = bookingLink(app, slug, prospectId);
  const token = new URL(address).searchParams.get("p") ?? "";
  try {
    const { times, length, daysAhead, where, place, questions } = bookingPage(app, slug, token);
    return { times, length, daysAhead, where, place, questions, slug, token, address };
  } catch (error) {
    if (error instanceof AppError) return null;
    throw error;
  }
}
