/** What the CRM holds, in a file of its own: things of several kinds, each as whatever was said of it, and who may ask. */
import { randomBytes } from "node:crypto";
import Database from "better-sqlite3";

export const KINDS = [
  "people",
  "companies",
  "deals",
  "owners",
  "views",
  "deal-stages",
  "activities",
] as const;
export type Kind = (typeof KINDS)[number];
export type Body = Record<string, unknown>;
export type Thing = Body & { id: string };

const PAGE = 100;
const ACCESS_SECONDS = 60;

interface Row {
  nr: number;
  kind: Kind;
  updated: number;
  deleted: number;
  body: string;
}

const idOf = (kind: Kind, nr: number) => `${kind.slice(0, 2)}_${nr}`;
const thingOf = ({ nr, kind, updated, deleted, body }: Row): Thing => ({
  ...(JSON.parse(body) as Body),
  id: idOf(kind, nr),
  updated_at: new Date(updated).toISOString(),
  ...(deleted ? { deleted: true } : {}),
});

const KEPT_NAMES = new Set(["id", "updated_at", "deleted", "__proto__"]);
const isObject = (value: unknown): value is Body =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** What is given stands in place of what stood there; an object is changed part by part. */
function changed(known: Body, given: Body): Body {
  const all = { ...known };
  for (const [name, value] of Object.entries(given)) {
    if (KEPT_NAMES.has(name)) continue;
    const was = all[name];
    all[name] = isObject(value) ? changed(isObject(was) ? was : {}, value) : value;
  }
  return all;
}

export class Things {
  private readonly db: Database.Database;

  constructor(
    path: string,
    /** Called after each change. */
    private readonly onChange: () => void,
  ) {
    this.db = new Database(path);
    this.db.pragma("journal_mode = WAL");
    this.db.exec(`
      CREATE TABLE IF NOT EXISTS clock (id INTEGER PRIMARY KEY CHECK (id = 1), now INTEGER NOT NULL, wall INTEGER);
      CREATE TABLE IF NOT EXISTS things (nr INTEGER PRIMARY KEY AUTOINCREMENT, kind TEXT NOT NULL, external TEXT,
        updated INTEGER NOT NULL, deleted INTEGER NOT NULL DEFAULT 0, body TEXT NOT NULL);
      CREATE UNIQUE INDEX IF NOT EXISTS things_by_external ON things (kind, external);
      CREATE INDEX IF NOT EXISTS things_by_change ON things (kind, updated, nr);
      CREATE INDEX IF NOT EXISTS things_by_email ON things (kind, lower(body ->> '$.email'));
      CREATE TABLE IF NOT EXISTS tokens (token TEXT PRIMARY KEY, kind TEXT NOT NULL, until INTEGER);
      CREATE TABLE IF NOT EXISTS hooks (url TEXT PRIMARY KEY, secret TEXT NOT NULL);
    `);
  }

  close(): void {
    this.db.close();
  }

  setClock(now: number, runs: boolean): void {
    this.db.prepare("INSERT OR REPLACE INTO clock VALUES (1, ?, ?)").run(now, runs ? Date.now() : null);
  }

  private now(): number {
    const row = this.db.prepare("SELECT now, wall FROM clock").get() as
      | { now: number; wall: number | null }
      | undefined;
    if (!row) return Date.now();
    return row.wall === null ? row.now : row.now + Date.now() - row.wall;
  }

  private row(kind: Kind, id: string): Row | undefined {
    return this.db
      .prepare("SELECT * FROM things WHERE kind = ? AND nr = ?")
      .get(kind, Number(id.split("_")[1] ?? 0)) as Row | undefined;
  }

  get(kind: Kind, id: string): Thing | undefined {
    const row = this.row(kind, id);
    return row && thingOf(row);
  }

  /** Made under an external id that is known, it is what was made before. */
  make(kind: Kind, given: Body): { isNew: boolean; thing: Thing } {
    const external = typeof given.external_id === "string" ? given.external_id : null;
    const known = this.db
      .prepare("SELECT * FROM things WHERE kind = ? AND external = ?")
      .get(kind, external) as Row | undefined;
    if (known) return { isNew: false, thing: thingOf(known) };
    const { lastInsertRowid } = this.db
      .prepare("INSERT INTO things (kind, external, updated, body) VALUES (?, ?, ?, ?)")
      .run(kind, external, this.now(), JSON.stringify(changed({}, given)));
    this.onChange();
    return { isNew: true, thing: this.get(kind, idOf(kind, Number(lastInsertRowid))) as Thing };
  }

  change(kind: Kind, id: string, given: Body): Thing | undefined {
    const row = this.row(kind, id);
    if (!row || row.deleted) return undefined;
    const body = JSON.stringify(changed(JSON.parse(row.body) as Body, given));
    if (body !== row.body) {
      this.db
        .prepare("UPDATE things SET body = ?, updated = ? WHERE nr = ?")
        .run(body, Math.max(this.now(), row.updated + 1), row.nr);
      this.onChange();
    }
    return this.get(kind, id);
  }

  remove(kind: Kind, id: string): boolean {
    const row = this.row(kind, id);
    if (!row || row.deleted) return false;
    this.db
      .prepare("UPDATE things SET deleted = 1, updated = ?, external = NULL WHERE nr = ?")
      .run(Math.max(this.now(), row.updated + 1), row.nr);
    this.onChange();
    return true;
  }

  /** Whether something belongs to a saved filter: its fields say what that asks. */
  private isInView(thing: Thing, view: string | null): boolean {
    const where = view ? (this.get("views", view)?.where as Body | undefined) : undefined;
    return Object.entries(where ?? {}).every(([name, value]) => thing[name] === value);
  }

  /** A page, in the order in which things changed; what is gone only for whoever says since when. */
  list(kind: Kind, params: URLSearchParams): { items: Thing[]; next_cursor: string | null } {
    const email = params.get("email")?.toLowerCase();
    if (email !== undefined) {
      const found = this.db
        .prepare("SELECT * FROM things WHERE kind = ? AND lower(body ->> '$.email') = ? AND deleted = 0")
        .all(kind, email) as Row[];
      return { items: found.map(thingOf), next_cursor: null };
    }
    const limit = Math.min(PAGE, Math.max(1, Number(params.get("limit") ?? PAGE) || PAGE));
    const since = Date.parse(params.get("updated_since") ?? "") || 0;
    const [updated, nr] = (params.get("cursor") ?? `${since}.0`).split(".").map(Number);
    const rows = this.db
      .prepare(
        "SELECT * FROM things WHERE kind = @kind AND (updated, nr) > (@updated, @nr) ORDER BY updated, nr LIMIT @limit",
      )
      .all({ kind, updated, nr, limit }) as Row[];
    const last = rows.at(-1);
    return {
      items: rows
        .map(thingOf)
        .filter((thing) => (since > 0 || !thing.deleted) && this.isInView(thing, params.get("view"))),
      next_cursor: last && rows.length === limit ? `${last.updated}.${last.nr}` : null,
    };
  }

  all(): Record<Kind, Thing[]> {
    const of = (kind: Kind) =>
      (this.db.prepare("SELECT * FROM things WHERE kind = ? ORDER BY nr").all(kind) as Row[]).map(thingOf);
    return Object.fromEntries(KINDS.map((kind) => [kind, of(kind)])) as Record<Kind, Thing[]>;
  }

  /** Things as they were there before; one may name an earlier one of the same seed by "$n", its place. */
  seed(refreshToken: string, things: readonly { kind: Kind; body: Body }[]): string[] {
    const ids: string[] = [];
    this.db.transaction(() => {
      this.db.prepare("INSERT OR IGNORE INTO tokens VALUES (?, 'refresh', NULL)").run(refreshToken);
      for (const { kind, body } of things) {
        const known = Object.entries(body).map(([name, value]) => {
          const nth = typeof value === "string" ? value.match(/^\$(\d+)$/)?.[1] : undefined;
          return [name, nth === undefined ? value : ids[Number(nth)]];
        });
        ids.push(this.make(kind, Object.fromEntries(known) as Body).thing.id);
      }
    })();
    return ids;
  }

  isAccess(token: string): boolean {
    return this.isGood(token, "access");
  }

  private isGood(token: string, kind: string): boolean {
    const known = this.db.prepare("SELECT until FROM tokens WHERE token = ? AND kind = ?").get(token, kind) as
      | { until: number | null }
      | undefined;
    return known !== undefined && (known.until === null || known.until > Date.now());
  }

  /** Access for a minute (RFC 6749 6); the refresh token changes with each use. Null for one that is not known. */
  access(refresh: string): Body | null {
    if (!this.isGood(refresh, "refresh")) return null;
    this.db.prepare("DELETE FROM tokens WHERE token = ? OR until < ?").run(refresh, Date.now());
    const fresh = (kind: string, until: number | null) => {
      const token = `${kind}-${randomBytes(12).toString("hex")}`;
      this.db.prepare("INSERT INTO tokens VALUES (?, ?, ?)").run(token, kind, until);
      return token;
    };
    return {
      access_token: fresh("access", Date.now() + ACCESS_SECONDS * 1_000),
      token_type: "bearer",
      expires_in: ACCESS_SECONDS,
      refresh_token: fresh("refresh", null),
    };
  }

  /** Access ends now, or with it every way in. */
  forgetTokens(all: boolean): void {
    this.db.prepare(all ? "DELETE FROM tokens" : "DELETE FROM tokens WHERE kind = 'access'").run();
  }

  addHook(url: string, secret: string): void {
    this.db.prepare("INSERT OR REPLACE INTO hooks VALUES (?, ?)").run(url, secret);
  }

  hooks(): { url: string; secret: string }[] {
    return this.db.prepare("SELECT url, secret FROM hooks").all() as { url: string; secret: string }[];
  }
}
