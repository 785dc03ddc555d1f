/** The block list as a rep works on it: look, add, replace, take off. */

import Papa from "papaparse";
import { z } from "zod";
import { checkAddress } from "../../../core/prospects/address.ts";
import { webDomain } from "../../../core/prospects/cleaning/web.ts";
import { decodeText } from "../../../core/prospects/decode.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { apply } from "../../consequences/apply.ts";
import { remember } from "../../consequences/remember.ts";
import { ofBlocks } from "../../consequences/scopes.ts";
import { blockEntry, unblockEntry } from "../../db/block-list.ts";
import { sql, transact } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";

export type BlockKind = "address" | "domain";

export interface Blocked {
  id: number;
  kind: BlockKind;
  value: string;
  reason: "opted_out" | "bounced" | "added_by_rep";
  note: string;
  by: string | null;
  at: number;
  prospectId: number | null;
}

export const BLOCKED_PAGE = 100;

export function listBlocked({ db }: App, q: string, page: number): { rows: Blocked[]; total: number } {
  const values = { like: `%${q.replace(/[%_]/g, "")}%`, offset: page * BLOCKED_PAGE };
  return {
    rows: sql(
      db,
      `SELECT b.id, b.kind, b.value, b.reason, b.note, u.name AS "by", b.at,
         (SELECT coalesce(merged_into, id) FROM prospects WHERE email = b.value) AS prospectId
       FROM block_list b LEFT JOIN users u ON u.id = b.user_id
       WHERE b.value LIKE @like ORDER BY b.at DESC, b.id DESC LIMIT ${BLOCKED_PAGE} OFFSET @offset`,
    ).all<Blocked>(values),
    total:
      sql(db, "SELECT count(*) AS count FROM block_list WHERE value LIKE @like").get<{ count: number }>({
        like: values.like,
      })?.count ?? 0,
  };
}

interface Entry {
  kind: BlockKind;
  value: string;
}

/** Addresses and domains out of pasted text or a CSV file, one in each line's first filled cell; and the lines that are neither. */
export function readEntries(text: string): { entries: Entry[]; broken: { line: number; text: string }[] } {
  const found = new Map<string, Entry>();
  const broken: { line: number; text: string }[] = [];
  const rows = Papa.parse<string[]>(text.replace(/^\ufeff/, ""), { skipEmptyLines: false }).data;
  rows.forEach((row, index) => {
    const cells = row.flatMap((cell) => cell.split(/[\s;,]+/)).filter((cell) => cell !== "");
    if (cells.length === 0) return;
    const entries = cells.flatMap((cell) => entryOf(cell) ?? []);
    // A first line of column names is no mistake.
    if (entries.length === 0 && !(index === 0 && /mail|address|domain|block/i.test(row.join(" "))))
      broken.push({ line: index + 1, text: row.join(" ").slice(0, 80) });
    for (const entry of entries) found.set(`${entry.kind} ${entry.value}`, entry);
  });
  return { entries: [...found.values()], broken };
}

function entryOf(cell: string): Entry | null {
  if (cell.includes("@") && !cell.startsWith("@")) {
    const checked = checkAddress(cell);
    return checked.ok ? { kind: "address", value: checked.address } : null;
  }
  const typed = cell.replace(/^@|^\*\.?@?/, "");
  if (!/^(https?:\/\/)?[\w-]+(\.[\w-]+)+/.test(typed)) return null;
  const domain = webDomain(typed);
  return domain ? { kind: "domain", value: domain } : null;
}

const form = z.object({
  text: z.string().max(5_000_000),
  mode: z.enum(["append", "replace"]),
  note: z.string().trim().max(200).default(""),
});

export interface BlockPreview {
  add: Entry[];
  /** Entries of our own that a replacement takes off. */
  remove: (Entry & { id: number })[];
  same: number;
  /** Opt-outs and bounces that a replacement leaves where they are. */
  stay: number;
  broken: { line: number; text: string }[];
  /** Prospects with something planned that will stop. */
  stops: number;
}

/** What a paste or file would change; nothing is stored. */
export function previewBlocks(app: App, input: unknown): Outcome<BlockPreview> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { entries, broken } = readEntries(read.data.text);
  if (entries.length === 0)
    return refused({
      text: broken[0]
        ? `No line holds an address or a domain. Line ${broken[0].line}: “${broken[0].text}”.`
        : "Paste addresses or domains, one in each line.",
    });
  const { db } = app;
  const known = sql(db, "SELECT id, kind, value, reason FROM block_list").all<
    Entry & { id: number; reason: string }
  >([]);
  const have = new Set(known.map(({ kind, value }) => `${kind} ${value}`));
  const wanted = new Set(entries.map(({ kind, value }) => `${kind} ${value}`));
  const add = entries.filter(({ kind, value }) => !have.has(`${kind} ${value}`));
  const gone =
    read.data.mode === "append" ? [] : known.filter(({ kind, value }) => !wanted.has(`${kind} ${value}`));
  return done({
    add,
    remove: gone
      .filter(({ reason }) => reason === "added_by_rep")
      .map(({ id, kind, value }) => ({ id, kind, value })),
    same: entries.length - add.length,
    stay: gone.filter(({ reason }) => reason !== "added_by_rep").length,
    broken,
    stops: activeAmong(app, add).length,
  });
}

/** Whom entries concern: by address, or by the domain of theirs. */
function peopleAmong({ db }: App, entries: Entry[]): number[] {
  const values = (kind: BlockKind) =>
    JSON.stringify(entries.filter((entry) => entry.kind === kind).map(({ value }) => value));
  return sql(
    db,
    `SELECT id FROM prospects WHERE live = 1 AND email IN (SELECT value FROM json_each(@addresses))
     UNION SELECT id FROM prospects WHERE live = 1 AND substr(email, instr(email, '@') + 1) IN (SELECT value FROM json_each(@domains))`,
  )
    .all<{ id: number }>({ addresses: values("address"), domains: values("domain") })
    .map(({ id }) => id);
}

/** Those of them with something planned. */
const activeAmong = (app: App, entries: Entry[]): number[] =>
  sql(
    app.db,
    "SELECT prospect_id AS id FROM journeys WHERE state = 'active' AND prospect_id IN (SELECT value FROM json_each(@ids))",
  )
    .all<{ id: number }>({ ids: JSON.stringify(peopleAmong(app, entries)) })
    .map(({ id }) => id);

/** Carries out what the preview said, and stops whoever is blocked by it. */
export function applyBlocks(
  app: App,
  userId: By,
  input: unknown,
): Outcome<BlockPreview & { undoId: number }> {
  const { clock } = app;
  return transact(app, (app): Outcome<BlockPreview & { undoId: number }> => {
    const { db } = app;
    const preview = previewBlocks(app, input);
    if (!preview.ok) return preview;
    const { note } = form.parse(input);
    const now = clock.now();
    const { add, remove } = preview.value;
    const no =
      mayNot(app, userId, "prospect.block", peopleAmong(app, add)) ??
      mayNot(
        app,
        userId,
        "block.remove",
        remove.map(({ id }) => id),
      );
    if (no) return no;
    const stopped = activeAmong(app, add);
    const entries = [...add, ...remove];
    const what =
      add.length === 1 && remove.length === 0
        ? `${add[0]?.value} was put on the block list`
        : `${add.length} entries were put on the block list${remove.length > 0 ? `, ${remove.length} taken off` : ""}`;
    const scope = ofBlocks(
      db,
      entries.map(({ value }) => value),
      stopped,
    );
    const about = { kind: "block" as const, prospectId: null, userId, what, at: now };
    const undoId = remember(db, about, scope, () => {
      for (const prospectId of stopped) apply(db, { kind: "blocked" }, { at: now, prospectId });
      for (const entry of add) blockEntry(db, { ...entry, reason: "added_by_rep", note, userId, at: now });
      for (const { kind, value } of remove)
        unblockEntry(db, { kind, value, why: "replaced by a new list", userId, now });
    });
    return done({ ...preview.value, undoId });
  });
}

const removal = z.object({ id: z.coerce.number().int(), why: z.string().trim().max(300).default("") });
/** "ok" explains nothing. */
const SHORTEST_WHY = 10;

/** Takes an entry off. Somebody who opted out comes off only with the reason in words, which is kept. */
export function unblock(app: App, userId: By, input: unknown): Outcome<number | null> {
  const read = removal.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  return transact(app, (app): Outcome<number | null> => {
    const { db } = app;
    const entry = sql(db, "SELECT kind, value, reason FROM block_list WHERE id = @id").get<
      Entry & { reason: string }
    >({ id: read.data.id });
    if (!entry) return done(null);
    const no = mayNot(app, userId, "block.remove", read.data.id);
    if (no) return no;
    if (entry.reason === "opted_out" && read.data.why.length < SHORTEST_WHY)
      return refused({
        why: "They asked not to be written to. Type why they may be again; it is kept with your name.",
      });
    const what = `${entry.value} was taken off the block list`;
    const about = { kind: "unblock" as const, prospectId: null, userId, what, at: app.clock.now() };
    return done(
      remember(db, about, ofBlocks(db, [entry.value], []), () =>
        unblockEntry(db, { ...entry, why: read.data.why, userId, now: app.clock.now() }),
      ),
    );
  });
}

/** The text of an uploaded CSV file, or what is wrong with it. */
export function textOfFile(bytes: Uint8Array): Outcome<string> {
  const decoded = decodeText(bytes);
  return decoded.ok ? done(decoded.text) : refused({ text: "This is no text file. Save it as CSV first." });
}
