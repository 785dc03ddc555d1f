/** Finds messages by their words, in any language: SQLite's FTS5, and by pieces where words are not set apart. */
import { fold } from "../../core/fold.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { keepWordsIfFree } from "../db/words.ts";

const MOST_FOUND = 100;
const MOST_WORDS = 12;
const UNSPACED = /[\u0e00-\u0e7f\u3040-\u30ff\u3400-\u9fff\uac00-\ud7a3]/;
/** Three letters make a piece; of fewer nothing is found by pieces. */
const PIECE = 3;

/**
 * Ids of replies that hold every word, or whose conversation holds an email of ours that does; the newest first. The last
 * word may be unfinished, and words in quotation marks stand together.
 */
export function searchMessages({ db }: App, typed: string): number[] {
  const text = typed.trim().slice(0, 200);
  if (text === "") return [];
  keepWordsIfFree(db);
  const rowids = UNSPACED.test(text) ? byPieces() : byWords();
  if (rowids.length === 0) return [];
  return sql(
    db,
    `WITH found AS (SELECT value AS rowid FROM json_each(@ids)),
       people AS (SELECT DISTINCT t.prospect_id FROM found f JOIN touches t ON t.id = (f.rowid - 1) / 2 WHERE f.rowid % 2 = 1)
     SELECT id FROM (
       SELECT r.id, r.at FROM found f JOIN replies r ON r.id = f.rowid / 2 WHERE f.rowid % 2 = 0 AND r.prospect_id IS NOT NULL
       UNION
       SELECT max(r.id), max(r.at) FROM people p JOIN replies r ON r.prospect_id = p.prospect_id
         WHERE r.kind NOT IN ('receipt', 'delay') GROUP BY p.prospect_id)
     ORDER BY at DESC, id DESC LIMIT ${MOST_FOUND}`,
  )
    .all<{ id: number }>({ ids: JSON.stringify(rowids) })
    .map(({ id }) => id);

  function byWords(): number[] {
    const query = wordsQuery(text);
    return query === "" ? [] : rows("message_words", query);
  }
  function byPieces(): number[] {
    if ([...text].length >= PIECE) return rows("message_pieces", quoted(text));
    // Two signs are a word in Chinese, and no piece: the newest messages are looked through.
    return sql(
      db,
      `SELECT 2 * id AS rowid FROM (SELECT id, subject, text FROM replies ORDER BY id DESC LIMIT 20000)
       WHERE subject LIKE @like OR text LIKE @like LIMIT ${MOST_FOUND}`,
    )
      .all<{ rowid: number }>({ like: `%${text.replace(/[%_]/g, "")}%` })
      .map(({ rowid }) => rowid);
  }
  function rows(table: "message_words" | "message_pieces", query: string): number[] {
    return sql(
      db,
      `SELECT rowid FROM ${table} WHERE ${table} MATCH @query ORDER BY rowid DESC LIMIT ${2 * MOST_FOUND}`,
    )
      .all<{ rowid: number }>({ query })
      .map(({ rowid }) => rowid);
  }
}

const quoted = (text: string) => `"${text.replaceAll('"', "")}"`;

/** Every word, the last as a beginning; what stands in quotation marks as it stands. */
function wordsQuery(text: string): string {
  const parts: string[] = [];
  const [phrases, rest] = [
    [...text.matchAll(/"([^"]+)"/g)].map(([, phrase]) => phrase ?? ""),
    text.replace(/"[^"]*"/g, " "),
  ];
  for (const phrase of phrases) parts.push(quoted(phrase));
  const words = rest.match(/[\p{L}\p{M}\p{N}]+/gu) ?? [];
  words.slice(0, MOST_WORDS).forEach((word, index) => {
    // A beginning of two letters is half the language.
    const isLast = index === words.length - 1 && !/\s$/.test(rest) && fold(word).length > 2;
    parts.push(`${quoted(word)}${isLast ? "*" : ""}`);
  });
  return parts.join(" AND ");
}
