/** What texts brought, wherever they were sent in the sequences that somebody may see: by whole text, by piece, by starting point. */
import { type Brought, broughtTogether, NOTHING_BROUGHT } from "../../core/results/worked.ts";
import { everyStep, isEmail, type Path, type Variant } from "../../core/sequence/path.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { keptCount } from "../db/kept-counts.ts";
import { type Db, sql } from "../db/open.ts";
import { figuresBySequence, outcomeRevisions, wordingOutcomes } from "../db/outcomes.ts";
import { pathOfVersion, versionsOf } from "../db/sequences.ts";
import { visibleSequences } from "./visible-sequences.ts";

interface SentText {
  subject: string;
  body: string;
  brought: Brought;
}

/**
 * Every text that was sent, with what it brought; the same words in two sequences stand twice. Of many great sequences that takes
 * seconds the first time: between them others have their turn.
 */
async function sentTexts(app: App, by: By): Promise<SentText[]> {
  const revisions = outcomeRevisions(app.db);
  const texts: SentText[] = [];
  for (const { id } of visibleSequences(app, by)) {
    const revision = revisions.get(id);
    if (revision === undefined) continue;
    const before = performance.now();
    texts.push(...keptCount(app.db, `texts ${id}`, String(revision), () => textsOf(app.db, id)));
    if (performance.now() - before > TURN) await new Promise((resolve) => setImmediate(resolve));
  }
  return texts;
}

/** In ms: what took longer was worked out anew. */
const TURN = 5;

/** A text that was written by hand for one prospect counts for the wording whose place it took. */
const textsOf = (db: Db, sequenceId: number): SentText[] =>
  wordingOutcomes(db, sequenceId).flatMap(({ version, stepId, variantId, ...brought }) => {
    const step =
      version === null
        ? undefined
        : everyStep(pathOfVersion(db, sequenceId, version)).find(({ id }) => id === stepId);
    const variant = step && isEmail(step) ? step.variants.find(({ id }) => id === variantId) : undefined;
    return variant ? [{ subject: variant.subject, body: variant.body, brought }] : [];
  });

/** What each wording of a sequence brought here as it says now, by "step wording". */
export function broughtByStep(db: Db, sequenceId: number, path: Path): Map<string, Brought> {
  const sent = wordingOutcomes(db, sequenceId).map((outcome) => ({ ...outcome, brought: outcome }));
  return new Map(
    everyStep(path)
      .filter(isEmail)
      .flatMap((step) =>
        step.variants.map((variant): [string, Brought] => {
          const versions = versionsSaying(db, sequenceId, step.id, variant);
          const same = sent.filter(
            ({ stepId, variantId, version }) =>
              stepId === step.id && variantId === variant.id && versions.has(version ?? 0),
          );
          return [`${step.id} ${variant.id}`, broughtTogether(same)];
        }),
      ),
  );
}

/** The versions in which a wording said what it says now. */
export const versionsSaying = (
  db: Db,
  sequenceId: number,
  stepId: string,
  { id, subject, body }: Variant,
): Set<number> =>
  new Set(
    versionsOf(db, sequenceId).filter((number) => {
      const step = everyStep(pathOfVersion(db, sequenceId, number)).find((each) => each.id === stepId);
      const then = step && isEmail(step) ? step.variants.find((each) => each.id === id) : undefined;
      return then !== undefined && keyOf(then) === keyOf({ subject, body });
    }),
  );

const keyOf = ({ subject, body }: Pick<SentText, "subject" | "body">) => `${subject.trim()}\n${body.trim()}`;

/** What any text brought that says the very same. */
export async function broughtByText(
  app: App,
  by: By,
): Promise<(text: Pick<SentText, "subject" | "body">) => Brought> {
  const sums = summedBy(await sentTexts(app, by), keyOf);
  return (text) => sums.get(keyOf(text)) ?? NOTHING_BROUGHT;
}

/** What the texts brought that hold a piece. */
export async function broughtWithPiece(app: App, by: By): Promise<(piece: string) => Brought> {
  const texts = await sentTexts(app, by);
  return (piece) => broughtTogether(texts.filter(({ body }) => body.includes(piece.trim())));
}

/** What the sequences brought that began from a starting point, or from which it was put on the shelf. */
export function broughtFromPoint(app: App, by: By): (pointId: string) => Brought {
  const figures = figuresBySequence(app.db);
  const visible = new Set(visibleSequences(app, by).map(({ id }) => id));
  const begun = sql(
    app.db,
    `SELECT id, begun_from AS point FROM sequences WHERE begun_from IS NOT NULL
     UNION SELECT sequence_id, 'own-' || id FROM shelf WHERE sequence_id IS NOT NULL`,
  )
    .all<{ id: number; point: string }>([])
    .filter(({ id }) => visible.has(id))
    .map(({ id, point }) => ({ point, brought: figures.get(id) ?? NOTHING_BROUGHT }));
  const sums = summedBy(begun, ({ point }) => point);
  return (pointId) => sums.get(pointId) ?? NOTHING_BROUGHT;
}

function summedBy<T extends { brought: Brought }>(
  all: readonly T[],
  keyOf: (each: T) => string,
): Map<string, Brought> {
  const sums = new Map<string, Brought>();
  for (const each of all) {
    const key = keyOf(each);
    sums.set(key, broughtTogether([each, { brought: sums.get(key) ?? NOTHING_BROUGHT }]));
  }
  return sums;
}
