/**
 * No route fails at anything that a browser, or somebody who is none, can send: every field of every request and every
 * parameter of every address is replaced by what no form would hold. An answer is a page, a field's error or a refusal.
 */

import { readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { makePasswordLink } from "../../server/accounts/password";
import type { App } from "../../server/app";
import { signLink } from "../../server/secrets";
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

/** What a stranger can send, to which page: fields that are well, each of which is spoiled in turn. */
const OPEN_TO_STRANGERS: Record<
  string,
  { params: Record<string, (app: App) => string>; form: Record<string, string> }
> = {
  "accounts/routes/sign-in.tsx": {
    params: {},
    form: { email: "a@b.example", password: "x", to: "/", demo: "" },
  },
  "accounts/routes/welcome.tsx": {
    params: { token: (app) => makePasswordLink(app, 2) },
    form: { password: "river lantern gravel" },
  },
  "accounts/routes/first-run.tsx": {
    params: {},
    form: { name: "A", email: "a@b.example", password: "x", zone: "UTC" },
  },
  "meetings/routes/booking.tsx": {
    params: {
      slug: ({ db }) =>
        (db.prepare("SELECT booking_slug AS slug FROM users WHERE id = 1").get() as { slug: string }).slug,
    },
    form: {
      start: "1781074800000",
      zone: "UTC",
      length: "30",
      name: "A",
      email: "a@b.example",
      phone: "1",
      question0: "x",
    },
  },
  "meetings/routes/confirm.tsx": { params: { token: ({ key }) => signLink("confirm", "1", key) }, form: {} },
  "meetings/routes/booked.tsx": {
    params: { token: () => "token-1" },
    form: { intent: "move", start: "1781074800000", zone: "UTC" },
  },
  "meetings/routes/booked-calendar.tsx": { params: { token: () => "token-1" }, form: {} },
  "meetings/routes/calendar-feed.tsx": {
    params: { token: ({ key }) => `${signLink("calendar", "1", key)}.ics` },
    form: {},
  },
  "pages/routes/look.tsx": {
    params: { token: ({ key }) => signLink("file", "1 1", key) },
    form: { password: "x" },
  },
  "pages/routes/personal.tsx": { params: { token: ({ key }) => signLink("page", "1 1", key) }, form: {} },
  "prospects/routes/opt-out.tsx": {
    params: { token: ({ key }) => signLink("opt-out", "1", key) },
    form: { "List-Unsubscribe": "One-Click" },
  },
};

describe("a page that strangers open", () => {
  it.each(Object.entries(OPEN_TO_STRANGERS))("%s", async (file, { params: made, form }) => {
    const params = Object.fromEntries(
      Object.entries(made).map(([name, make]) => [name, make(installed.app)]),
    );
    type Handler = (args: unknown) => unknown;
    const page = (await import(/* @vite-ignore */ join(APP, file))) as { loader?: Handler; action?: Handler };
    const problems: string[] = [];
    const context = installed.contextOf("manager");
    const ask = async (told: string, handler: Handler | undefined, changed: object, request: Request) => {
      installed.app.db.exec("SAVEPOINT ask");
      try {
        await handler?.({ params: changed, context, request });
      } catch (thrown) {
        if (thrown instanceof Error)
          problems.push(`${told.slice(0, 200)} → ${String(thrown.stack).slice(0, 400)}`);
        else if (thrown instanceof Response && thrown.status >= 500)
          problems.push(`${told} → ${thrown.status}`);
      } finally {
        installed.app.db.exec("ROLLBACK TO ask; RELEASE ask");
      }
    };
    if (page.loader && Object.keys(params).length > 0)
      expect(
        await page.loader({ params, context, request: new Request("http://here.example/x") }),
      ).toBeTruthy();
    const sent = (fields: Record<string, string>) =>
      new Request("http://here.example/x?length=30&p=x", {
        method: "POST",
        body: new URLSearchParams(fields),
      });
    for (const torn of TORN) await ask("a torn body", page.action, params, torn());
    for (const name of [...Object.keys(form), "intent"])
      for (const word of WORDS)
        await ask(`${name}: ${word}`, page.action, params, sent({ ...form, [name]: word }));
    for (const word of WORDS) {
      const changed = Object.fromEntries(Object.keys(params).map((name) => [name, word]));
      await ask(`in the address: ${word}`, page.action, changed, sent(form));
      for (const name of ["p", "length", "to", "zone", "start"])
        await ask(
          `${name}=${word}`,
          page.loader,
          { ...params, ...(name === "p" ? changed : {}) },
          new Request(`http://here.example/x?${new URLSearchParams([[name, word]])}`),
        );
    }
    expect(problems).toEqual([]);
  });
});
