/** Carries out one request of the API: checks what was asked, calls the operation, and remembers the answer where a key for that is given. */
import { createHash } from "node:crypto";
import { z } from "zod";
import { DAY } from "../../core/calendar.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { sql, transact } from "../db/open.ts";
import { fieldErrors, isBusy, type Outcome, type Refused } from "../errors.ts";
import type { Operation } from "./operation.ts";
import { OPERATIONS } from "./operations.ts";
import { type Problem, problem, problemOf } from "./problems.ts";

export interface Asked {
  app: App;
  user: User;
  keyId: number;
  operation: Operation;
  params: Record<string, unknown>;
  query: Record<string, unknown>;
  body: unknown;
  /** Its bytes, by which the same request is known again. */
  rawBody: string;
  idempotencyKey: string | null;
  /** Entity tags of "If-Match"; null without. */
  ifMatch: string | null;
}

export interface Answer {
  status: number;
  body: unknown;
}

export const MOST_ITEMS = 1_000;
/** So many items of a request in bulk are one transaction; between two of them others have their turn. */
const AT_ONCE = 20;
const ANSWERS_LAST = DAY;
/** How long a part waits for the database, which somebody else holds. */
const PATIENCE = 12_000;
const LOOKS_EVERY = 50;

const answered = (found: Problem): Answer => ({ status: found.status, body: found });

export const bulkBody = z.strictObject({
  items: z
    .array(z.unknown())
    .min(1, "Send at least one item.")
    .max(MOST_ITEMS, `At most ${MOST_ITEMS} at once.`),
});

/** What a read of one thing or of several is asked beside its own query. */
export const fieldsParameter = z
  .string()
  .max(1_000)
  .optional()
  .meta({ description: "Only these fields of each, with commas between." });

/** Bodies are parsed by these, which say what is not known to them. */
const queryOf = (operation: Operation) => z.strictObject({ ...operation.query, fields: fieldsParameter });

const isRefused = (value: unknown): value is Refused =>
  typeof value === "object" && value !== null && (value as { ok?: unknown }).ok === false;
const isDone = (value: unknown): value is { ok: true; value: unknown } =>
  typeof value === "object" && value !== null && (value as { ok?: unknown }).ok === true && "value" in value;

/** One call of an operation, as an answer of its own: a value, or a problem. */
function call(
  app: App,
  { user, operation }: Pick<Asked, "user" | "operation">,
  asked: { params?: unknown; query?: unknown; body?: unknown; item?: unknown },
): { value: unknown } | { problem: Problem } {
  const given = operation.run({ app, user }, asked as never);
  if (given === null) return { problem: problem("not_found") };
  if (isRefused(given)) return { problem: problemOf(given) };
  if (!isDone(given)) return { value: given };
  return given.value === null ? { problem: problem("not_found") } : { value: given.value };
}

export async function carryOut(asked: Asked): Promise<Answer> {
  const { operation } = asked;
  const params = z.object(operation.params).safeParse(asked.params);
  // An address that cannot be is one at which nothing is.
  if (!params.success) return answered(problem("not_found"));
  if (operation.method === "get") return look(asked, params.data);
  const read = readBody(operation, asked.body);
  if ("problem" in read) return answered(read.problem);
  if (operation.isLook) return plain(call(asked.app, asked, { params: params.data, body: read.body }));
  const known = rememberedOf(asked);
  if (known && "answer" in known) return known.answer;
  if (read.items) return inBulk(asked, params.data, read.items, known?.soFar ?? []);
  return once(asked, params.data, read.body);
}

const plain = (result: ReturnType<typeof call>): Answer =>
  "problem" in result ? answered(result.problem) : { status: 200, body: result.value };

function readBody(
  { body: schema, item }: Operation,
  body: unknown,
): { body?: unknown; items?: readonly unknown[] } | { problem: Problem } {
  if (item) {
    const read = bulkBody.safeParse(body);
    return read.success ? { items: read.data.items } : { problem: wrong(read.error) };
  }
  if (!schema) return {};
  const read = schema.safeParse(body ?? {});
  return read.success ? { body: read.data } : { problem: wrong(read.error) };
}

const wrong = (error: z.ZodError): Problem => problemOf({ ok: false, errors: fieldErrors(error) });

function look(asked: Asked, params: unknown): Answer {
  const { operation } = asked;
  const read = queryOf(operation).safeParse(asked.query);
  if (!read.success) return answered(wrong(read.error));
  const { fields, ...query } = read.data;
  const names = fields?.split(",").map((name) => name.trim());
  const known = Object.keys(shownShape(operation.answer));
  const unknown = names?.find((name) => !known.includes(name));
  if (unknown !== undefined)
    return answered(
      problem("invalid", `There is no field “${unknown.slice(0, 60)}”; there are ${known.join(", ")}.`, [
        { field: "fields", message: "Name fields of the answer." },
      ]),
    );
  const result = call(asked.app, asked, { params, query });
  return "problem" in result || names === undefined
    ? plain(result)
    : { status: 200, body: only(result.value, new Set(["id", ...names])) };
}

/** The fields of each that a read shows: of a collection those of its items. */
function shownShape(answer: z.ZodType): Record<string, z.ZodType> {
  const shape = answer instanceof z.ZodObject ? answer.shape : {};
  const { data } = shape as { data?: z.ZodType };
  if (data instanceof z.ZodArray && data.element instanceof z.ZodObject) return data.element.shape;
  return shape;
}

function only(value: unknown, names: ReadonlySet<string>): unknown {
  const cut = (thing: object) =>
    Object.fromEntries(Object.entries(thing).filter(([name]) => names.has(name)));
  const { data, ...rest } = value as { data?: object[] };
  return Array.isArray(data) ? { data: data.map(cut), ...rest } : cut(value as object);
}

/** The entity tag of what is answered (RFC 9110 8.8.3). */
export const tagOf = (body: unknown): string =>
  `"${createHash("sha256").update(JSON.stringify(body)).digest("base64url").slice(0, 27)}"`;

export const tagsMatch = (header: string, tag: string): boolean =>
  header.trim() === "*" || header.split(",").some((each) => each.trim().replace(/^W\//, "") === tag);

/** Whether the thing is as whoever asks last saw it; asked in the transaction that changes it. */
function hasChanged(app: App, { user, operation, ifMatch }: Asked, params: unknown): boolean {
  if (ifMatch === null) return false;
  const reader = OPERATIONS.find(({ method, path }) => method === "get" && path === operation.path);
  if (!reader) return false;
  const now = call(app, { user, operation: reader }, { params, query: {} });
  return "problem" in now || !tagsMatch(ifMatch, tagOf(now.value));
}

function once(asked: Asked, params: unknown, body: unknown): Answer {
  // A refusal takes back what was written before it; what is kept of the answer goes with what was done.
  let answer: Answer | null = null;
  transact(asked.app, (app): Outcome<null> => {
    if (hasChanged(app, asked, params))
      answer = answered(
        problem("precondition_failed", "Read it again, and send the change with the ETag of what you read."),
      );
    else answer = plain(call(app, asked, { params, body }));
    if (answer.status >= 400) return { ok: false, errors: {} };
    remember(app, asked, answer.status, answer.body);
    return { ok: true, value: null };
  });
  return answer ?? answered(problem("failed"));
}

/** Under way in this process, which is the only one that answers here. */
const underWay = new Set<string>();

async function inBulk(
  asked: Asked,
  params: unknown,
  items: readonly unknown[],
  soFar: readonly unknown[],
): Promise<Answer> {
  const { app, operation, keyId, idempotencyKey } = asked;
  const name = idempotencyKey === null ? null : `${keyId} ${idempotencyKey}`;
  if (name !== null && underWay.has(name))
    return answered(problem("in_progress", "Wait for its answer, or ask again in a moment."));
  if (name !== null) underWay.add(name);
  try {
    const results = [...soFar];
    while (results.length < items.length) {
      const part = items.slice(results.length, results.length + AT_ONCE);
      const more = await untilFree(() =>
        transact(app, (app) => {
          const more = part.map((item, nth) => oneOf(app, asked, params, item, results.length + nth));
          const isWhole = results.length + more.length === items.length;
          remember(app, asked, isWhole ? 200 : null, { results: [...results, ...more] });
          return more;
        }),
      );
      results.push(...more);
      await new Promise((resolve) => setImmediate(resolve));
    }
    return { status: 200, body: { results } };
  } finally {
    if (name !== null) underWay.delete(name);
  }

  function oneOf(app: App, asked: Asked, params: unknown, item: unknown, index: number) {
    const read = (operation.item as z.ZodType).safeParse(item);
    const result = read.success ? transactOne(app, asked, params, read.data) : { problem: wrong(read.error) };
    return "problem" in result
      ? { index, status: result.problem.status, problem: result.problem }
      : { index, status: 200, value: result.value };
  }
}

/** One item as a whole or not at all, whatever becomes of the others. */
function transactOne(app: App, asked: Asked, params: unknown, item: unknown): ReturnType<typeof call> {
  let result: ReturnType<typeof call> = { problem: problem("failed") };
  transact(app, (app): Outcome<null> => {
    result = call(app, asked, { params, item });
    return "problem" in result ? { ok: false, errors: {} } : { ok: true, value: null };
  });
  return result;
}

async function untilFree<T>(work: () => T): Promise<T> {
  const until = Date.now() + PATIENCE;
  for (;;)
    try {
      return work();
    } catch (error) {
      if (!isBusy(error) || Date.now() > until) throw error;
      await new Promise((resolve) => setTimeout(resolve, LOOKS_EVERY));
    }
}

const requestHash = ({ operation, params, rawBody }: Asked): string =>
  createHash("sha256")
    .update(`${operation.name}\n${JSON.stringify(params)}\n${rawBody}`)
    .digest("base64url");

/** What was answered to the same request before, or how far its items have come. */
function rememberedOf(asked: Asked): { answer: Answer } | { soFar: unknown[] } | null {
  const { app, keyId, idempotencyKey } = asked;
  if (idempotencyKey === null) return null;
  const row = sql(
    app.db,
    "SELECT request, status, body FROM api_answers WHERE key_id = @keyId AND idempotency_key = @idempotencyKey AND at_wall > @since",
  ).get<{ request: string; status: number | null; body: string }>({
    ...{ keyId, idempotencyKey, since: Date.now() - ANSWERS_LAST },
  });
  if (!row) return null;
  if (row.request !== requestHash(asked))
    return { answer: answered(problem("key_reused", "Give each request an Idempotency-Key of its own.")) };
  const body: unknown = JSON.parse(row.body);
  return row.status === null
    ? { soFar: (body as { results: unknown[] }).results }
    : { answer: { status: row.status, body } };
}

/** In the transaction of what was done. */
function remember(app: App, asked: Asked, status: number | null, body: unknown): void {
  const { keyId, idempotencyKey } = asked;
  if (idempotencyKey === null) return;
  const wall = Date.now();
  sql(app.db, "DELETE FROM api_answers WHERE at_wall <= @before").run({ before: wall - ANSWERS_LAST });
  sql(
    app.db,
    `INSERT INTO api_answers (key_id, idempotency_key, request, status, body, at_wall)
     VALUES (@keyId, @idempotencyKey, @request, @status, @body, @wall)
     ON CONFLICT DO UPDATE SET request = @request, status = @status, body = @body, at_wall = @wall`,
  ).run({ keyId, idempotencyKey, request: requestHash(asked), status, body: JSON.stringify(body), wall });
}
