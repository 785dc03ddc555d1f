/**
 * No route fails at anything that a browser, or somebody who is none, can send: every field of every request and every
 * parameter of every address is replaced by what no form would hold. An answer is a page, a field's error or a refusal.
 */

import { readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { APP, installation, type Line, LOADERS, lines, one, requestFor } from "./every-route";

let installed: Awaited<ReturnType<typeof installation>>;
beforeAll(async () => {
  installed = await installation();
});
afterAll(() => installed.close());

const LONG = "x".repeat(70_000);
/** What stands in a field of a form, or in an address. */
const WORDS = [
  "",
  ",",
  ",,,",
  "1e308",
  "1e400",
  "-1",
  "0.5",
  "NaN",
  "null",
  "[]",
  "[null]",
  '{"all":[{}]}',
  "9007199254740993",
  "99999999999999999999",
  "2026-02-31",
  "\u0000",
  "\ud800",
  "__proto__",
  LONG,
];
/** What stands in a JSON body besides. */
const VALUES = [
  null,
  true,
  [],
  [null],
  {},
  1e308,
  -1,
  0.5,
  Number.MAX_SAFE_INTEGER + 2,
  ["__proto__"],
  ...WORDS,
];

const FEW = [null, {}, -1, 1e308, "1e308", LONG];

/** Each of a body's values in turn, however deep, as something else; and one more that nobody asked for. */
function* spoiled(body: unknown, values: readonly unknown[]): Generator<unknown> {
  for (const value of values) yield value;
  if (Array.isArray(body)) {
    for (const [index, item] of body.entries())
      for (const other of spoiled(item, values)) yield body.with(index, other);
  } else if (typeof body === "object" && body !== null) {
    for (const [name, item] of Object.entries(body))
      for (const other of spoiled(item, values)) yield { ...body, [name]: other };
  }
}

/** The bodies of a line, spoiled; JSON in a form's field is spoiled inside as well. */
function* bodies(line: Line): Generator<Record<string, unknown>> {
  const body = (line.body ?? {}) as Record<string, unknown>;
  if (line.as === "json") {
    for (const [name, item] of Object.entries(body))
      for (const other of spoiled(item, VALUES)) yield { ...body, [name]: other };
    return;
  }
  for (const [name, item] of Object.entries(body)) {
    for (const word of WORDS) yield { ...body, [name]: word };
    if (typeof item === "string" && item.startsWith("{"))
      for (const other of spoiled(JSON.parse(item), VALUES)) yield { ...body, [name]: JSON.stringify(other) };
  }
}

const post = (body: BodyInit, type: string) =>
  new Request("http://here.example/", { method: "POST", body, headers: { "content-type": type } });
/** Bodies that are none. */
const TORN = [
  () => post("{", "application/json"),
  () => post("null", "application/json"),
  () => post("[]", "application/json"),
  () => post('"x"', "application/json"),
  () => post("", "application/json"),
  () => post("intent=%E0%A4%A", "application/x-www-form-urlencoded"),
  () => post("--x\r\n", "multipart/form-data; boundary=x"),
  () => post("x", "multipart/form-data"),
  () => post("x", "text/plain"),
];

/** Fields that an intent may read and the table does not name. */
const MORE = [
  "id",
  "ids",
  "page",
  "text",
  "form",
  "name",
  "day",
  "date",
  "time",
  "at",
  "zone",
  "limit",
  "value",
  "email",
  "listId",
];

describe("an action", () => {
  it.each(lines.filter(({ line }) => !line.far))("$name", async ({ file, key, line }) => {
    const intent = key.split(":")[0] ?? "";
    const problems: string[] = [];
    const ask = async (told: string, changed: Line, request?: Request) => {
      const { text, failed } = await installed.attempt(file, intent, changed, "manager", request);
      if (failed || /^5\d\d /.test(text)) problems.push(`${told.slice(0, 200)} → ${text.slice(0, 500)}`);
    };
    for (const torn of TORN) await ask("a torn body", line, torn());
    for (const body of bodies(line)) await ask(JSON.stringify(body), { ...line, body });
    for (const name of MORE)
      for (const value of line.as === "json" ? FEW : ["1e308", ",,,", "-1", LONG])
        if (!(name in ((line.body ?? {}) as object)))
          await ask(`${name}: ${JSON.stringify(value)}`, {
            ...line,
            body: { ...(line.body as object), [name]: value },
          });
    for (const word of WORDS)
      if (line.params) {
        const params = { ...line.params, id: word };
        await ask(JSON.stringify(params), { ...line, params }, requestFor(line, intent));
      }
    expect(problems).toEqual([]);
  });
});

/** What a loader asks its address for. */
function searched(file: string): string[] {
  const source = readFileSync(join(APP, file), "utf8");
  return [
    ...new Set(
      [...source.matchAll(/(?:\.get|\.getAll|has)\("([\w-]+)"\)/g)].map(([, name]) => name as string),
    ),
  ];
}

describe("a page", () => {
  it.each(Object.keys(LOADERS))("%s", async (file) => {
    const { loader } = (await import(/* @vite-ignore */ join(APP, file))) as {
      loader: (args: unknown) => unknown;
    };
    const problems: string[] = [];
    const look = async (told: string, params: object, search: string) => {
      try {
        await loader({
          params,
          context: installed.contextOf("manager"),
          request: new Request(`http://here.example/x${search}`),
        });
      } catch (thrown) {
        if (thrown instanceof Error)
          problems.push(`${told.slice(0, 200)} → ${String(thrown.stack).slice(0, 500)}`);
        else if (thrown instanceof Response && thrown.status >= 500)
          problems.push(`${told} → ${thrown.status}`);
      }
    };
    for (const word of WORDS) await look(JSON.stringify({ id: word }), { id: word }, "");
    for (const name of [
      ...new Set([...searched(file), "f", "q", "sort", "page", "after", "from", "to", "week", "list"]),
    ])
      for (const word of WORDS) await look(`${name}=${word}`, one, `?${new URLSearchParams([[name, word]])}`);
    expect(problems).toEqual([]);
  });
});
