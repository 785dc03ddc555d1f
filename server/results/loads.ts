/** What loaded the pictures of a sequence's emails and followed their links, by whom it is taken for, with the reasons. */

import type { Trust } from "../../core/replies/loads.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { keepOutcomes } from "../db/outcomes.ts";
import { sequenceOf } from "../sequences/open-sequence.ts";
import { type Look, narrowed } from "./look.ts";

export interface LoadLine {
  trust: Trust;
  opened: number;
  clicked: number;
  /** Emails on which there was any. */
  emails: number;
  /** Why they are taken for that, the most frequent first; of numbers only that there was one. */
  because: string[];
}

const MOST_REASONS = 3;

export function loadLines(app: App, by: By, sequenceId: number, look: Look, zone: string): LoadLine[] {
  if (!sequenceOf(app, by, sequenceId)) return [];
  keepOutcomes(app.db);
  const { where, values } = narrowed(app, by, look, zone);
  const rows = sql(
    app.db,
    `SELECT l.trust, l.because, sum(l.kind = 'opened') AS opened, sum(l.kind = 'clicked') AS clicked, count(DISTINCT l.touch_id) AS emails
     FROM journey_outcomes o JOIN touches t ON t.journey_id = o.journey_id JOIN loads l ON l.touch_id = t.id
     WHERE o.sequence_id = @sequenceId AND l.trust IS NOT NULL${where} GROUP BY l.trust, l.because`,
  ).all<Omit<LoadLine, "because"> & { because: string }>({ ...values, sequenceId });
  const lines = new Map<Trust, LoadLine & { reasons: Map<string, number> }>();
  for (const { trust, because, opened, clicked, emails } of rows) {
    const line = lines.get(trust) ?? {
      trust,
      opened: 0,
      clicked: 0,
      emails: 0,
      because: [],
      reasons: new Map(),
    };
    const reason = because.replace(/\d+/g, "some");
    line.opened += opened;
    line.clicked += clicked;
    line.emails += emails;
    line.reasons.set(reason, (line.reasons.get(reason) ?? 0) + opened + clicked);
    lines.set(trust, line);
  }
  return [...lines.values()]
    .map(({ reasons, ...line }) => ({
      ...line,
      because: [...reasons]
        .sort(([, a], [, b]) => b - a)
        .slice(0, MOST_REASONS)
        .map(([reason]) => reason),
    }))
    .sort((a, b) => b.opened + b.clicked - (a.opened + a.clicked));
}
