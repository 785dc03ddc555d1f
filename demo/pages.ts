/** Marta's page with her film, the sequence that leads to it, and what two people did on theirs: through the real use cases. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Readable } from "node:stream";
import { definitionSchema } from "../core/pages/template.ts";
import type { Share } from "../core/pages/watching.ts";
import type { Path } from "../core/sequence/path.ts";
import type { App } from "../server/app.ts";
import { setDemoClock } from "../server/clock.ts";
import { projectRoot } from "../server/config.ts";
import { sql } from "../server/db/open.ts";
import { keepFile } from "../server/mail/files.ts";
import { pageLink } from "../server/mail/page-links.ts";
import { fileOfPage, noteReading, noteSaved, openFile } from "../server/pages/file-looks.ts";
import { addPart, beginFilm, changeFilm, finishFilm, stopReadingFilms } from "../server/pages/films.ts";
import { openPage } from "../server/pages/personal-page.ts";
import { createTemplate, saveTemplate } from "../server/pages/templates.ts";
import { noteSeen, noteVisit } from "../server/pages/visits.ts";
import { sequenceForm, sequenceOf } from "../server/sequences/open-sequence.ts";
import { saveSequence } from "../server/sequences/save-sequence.ts";
import { LENDERS_SHEET } from "./lenders-sheet.ts";
import { value } from "./value.ts";

const file = (name: string) => readFileSync(join(projectRoot, "demo/film", name));

const CAPTIONS = `0:00 Good morning. I am Marta, of Quillwater.
0:03 This is the sheet that a lender gets from us when a piece travels.
0:07 It is one page: how warm, how damp, and for how long.
0:10 If it is of use to you, choose a time below, and I call.`;

const WORDS = {
  en: 'Dear {{ first_name | default: "colleague" }},\n\nwhen {{ company }} lends a piece, somebody has to show what its case was like on the way. I filmed what that sheet looks like for a house like yours. It is a minute.\n\n{{ sender_first_name }}',
  de: 'Guten Tag {{ first_name | default: "" }},\n\nwenn {{ company }} ein Stück verleiht, muss jemand zeigen, wie es seiner Vitrine unterwegs ging. Ich habe gefilmt, wie dieses Blatt für ein Haus wie Ihres aussieht. Es dauert eine Minute.\n\n{{ sender_first_name }}',
};

/** What two people did this morning: how much of the film they watched, and how many seconds each page of the sheet was before them. */
const DID: { minutesAgo: number; shares: Share[]; read: number[] }[] = [
  { minutesAgo: 190, shares: [0, 25, 50, 75], read: [24, 51, 9] },
  { minutesAgo: 95, shares: [], read: [] },
];
const BROWSER =
  "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0 Safari/537.36";

/** `addSequence`: how the demo writes one. The answer is the page's number. */
export async function makePages(
  app: App,
  marta: number,
  addSequence: (path: Path) => number,
): Promise<number> {
  const templateId = value(createTemplate(app, marta, { name: "A minute on film" }));
  const sheet = value(
    await keepFile(app, marta, {
      name: "A lender's sheet.pdf",
      bytes: Buffer.from(LENDERS_SHEET),
      as: "attachment",
    }),
  );
  const filmId = await addFilm(app, marta);
  const definition = definitionSchema.parse({
    languages: ["en", "de"],
    filmId,
    pictureText: { en: "A short film for you" },
    blocks: [
      {
        id: "film",
        kind: "film",
        text: {
          en: "{{ sender_name }}, filmed for registrars",
          de: "{{ sender_name }}, für Registrare gefilmt",
        },
      },
      {
        id: "greeting",
        kind: "greeting",
        text: { en: "For {{ first_name }} {{ last_name }}", de: "Für {{ first_name }} {{ last_name }}" },
      },
      { id: "company", kind: "company" },
      { id: "words", kind: "words", text: WORDS },
      { id: "files", kind: "files", files: [sheet.id] },
      {
        id: "times",
        kind: "times",
        text: { en: "Would half an hour suit you?", de: "Passt Ihnen eine halbe Stunde?" },
      },
    ],
  });
  value(saveTemplate(app, marta, templateId, { name: "A minute on film", definition }));
  const sequenceId = addSequence(PATH);
  const sequence = sequenceOf(app, marta, sequenceId);
  if (sequence) {
    const { revision: _, ...form } = sequenceForm(sequence);
    value(saveSequence(app, { ...form, settings: { ...form.settings, pageId: templateId } }, marta));
  }
  lookAtPages(app, templateId, sheet.id);
  return templateId;
}

async function addFilm(app: App, marta: number): Promise<number> {
  const film = file("film.webm");
  const { id } = value(beginFilm(app, marta, { name: "What a lender gets", bytes: film.length }));
  value(await addPart(app, marta, id, 0, Readable.from([film])));
  const pictures = { poster: file("film-poster.jpg"), frames: file("film-frames.jpg") };
  const { durationMs } = value(await finishFilm(app, marta, id, {}, pictures));
  value(
    await changeFilm(app, marta, id, {
      ...{
        name: "What a lender gets",
        startsMs: 0,
        endsMs: durationMs,
        captions: CAPTIONS,
        captionsLanguage: "en",
      },
    }),
  );
  await stopReadingFilms();
  return id;
}

/** Two of those who are being written to have got their link by hand. */
function lookAtPages(app: App, templateId: number, fileId: number): void {
  const now = app.clock.now();
  const people = sql(
    app.db,
    `SELECT p.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id AND p.live = 1 WHERE j.state = 'active' AND p.stage = 'contacted'
       AND NOT EXISTS (SELECT 1 FROM events e WHERE e.prospect_id = p.id AND e.kind IN ('replied', 'clicked', 'opened', 'booked'))
       AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.state IN ('open', 'draft'))
     ORDER BY p.id LIMIT ${DID.length}`,
  ).all<{ id: number }>([]);
  for (const [nth, { minutesAgo, shares, read }] of DID.entries()) {
    const person = people[nth];
    if (!person) continue;
    setDemoClock(app.db, now - minutesAgo * 60_000, false);
    const opened = openPage(
      app,
      new URL(pageLink(app, templateId, person.id)).pathname.slice("/for/".length),
    );
    const asker = { agent: BROWSER, ip: `203.0.113.${10 + nth}`, isHead: false, isOwn: false };
    noteVisit(app, opened, asker);
    for (const share of shares) noteSeen(app, opened, asker, { what: "watched", share });
    if (read.length === 0) continue;
    const look = fileOfPage(app, opened, fileId);
    const file = openFile(app, look.slice("/look/".length));
    const seconds = Object.fromEntries(read.map((each, page) => [String(page + 1), each]));
    noteReading(app, file, asker, { pages: 4, seconds });
    noteSaved(app, file, asker);
  }
  setDemoClock(app.db, now, false);
}

const email = (id: string, name: string, days: number, subject: string, body: string) => ({
  ...{ id, kind: "email" as const, name, note: "", wait: { days, working: true } },
  variants: [{ id: `${id}-a`, weight: 1, subject, body }],
  ...{ format: "formatted" as const, quotes: false, attachments: [] },
});

const PATH: Path = [
  email(
    "film",
    "The film",
    0,
    "A minute for {{ company }}",
    `Dear {{ first_name | default: "colleague" }},

I filmed what a lender gets from us when a piece travels, with your house in mind.

{{ page_picture }}

It is a minute: {{ page_link }}`,
  ),
  {
    ...{
      id: "watched",
      kind: "fork",
      name: "",
      ask: { about: "watched", share: 50 },
      patience: { days: 4, working: true },
    },
    yes: [
      {
        ...{ id: "ring", kind: "call", name: "Ring them", note: "", wait: { days: 0, working: true } },
        text: "They watched the film. What of the sheet would {{ company }} use first?",
        ...{ journey: "waits", skipAfter: 4, asNote: false },
      },
    ],
    no: [
      email(
        "again",
        "In words",
        1,
        "",
        `{{ first_name }}, if a film is not for you: the sheet says how warm and how damp a case was on the way, on one page.

Shall I send it?`,
      ),
    ],
  },
];
