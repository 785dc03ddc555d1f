/**
 * Every route and intent, tried by the rep whose things they are, by another rep, by a manager and by nobody: what is
 * refused and what is not stands in one table (core/team/may.ts). An intent without a line here fails.
 */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { RouteConfigEntry } from "@react-router/dev/routes";
import { RouterContextProvider } from "react-router";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Act, lineOf } from "../../core/team/may";
import type { User } from "../../server/accounts/session.ts";
import { desk } from "../../server/desk/reading-desk";
import { unwatched } from "../../server/jobs/report";
import { openDuplicates } from "../../server/prospects/duplicates/duplicates";
import { type Import, importById, setImport } from "../../server/prospects/imports/imports";
import { lookThrough } from "../../server/prospects/imports/look-through";
import { openImport } from "../../server/prospects/imports/open-import";
import { runImport } from "../../server/prospects/imports/run-import";
import { uploadImport } from "../../server/prospects/imports/upload-import";
import { exportCsv } from "../../server/prospects/people/export-prospects";
import { countProspects, prospectsQuery } from "../../server/prospects/people/list-prospects";
import { prospectStory } from "../../server/prospects/people/prospect-story";
import { listChoices } from "../../server/replies/labels";
import { restored } from "../../server/sending/restored";
import { setAsideMessages, undecidedEmails } from "../../server/sending/undecided";
import { today } from "../../server/today/today";
import { todoList } from "../../server/today/todo-list";
import { whyOf } from "../../server/why/why";
import routes from "../routes";
import {
  ACTIONS,
  APP,
  installation,
  type Line,
  LOADERS,
  lines,
  one,
  requestFor,
  SEQUENCE,
  sequence,
  USERS,
  type Who,
} from "../tests/every-route";
import { requireUser, userContext } from "./session";

let installed: Awaited<ReturnType<typeof installation>>;
beforeAll(async () => {
  installed = await installation();
});
afterAll(() => installed.close());

/** Open to whoever has the link, or nobody's but the visitor's own session. */
const PUBLIC = [
  "accounts/routes/first-run.tsx",
  "accounts/routes/sign-in.tsx",
  "accounts/routes/sign-out.tsx",
  "accounts/routes/welcome.tsx",
  "meetings/routes/booked-calendar.tsx",
  "meetings/routes/booked.tsx",
  "meetings/routes/booking.tsx",
  "meetings/routes/calendar-feed.tsx",
  "meetings/routes/confirm.tsx",
  "pages/routes/look.tsx",
  "pages/routes/personal.tsx",
  "prospects/routes/opt-out.tsx",
  "prospects/routes/picture.ts",
];

const all = (entries: readonly RouteConfigEntry[]): string[] =>
  entries.flatMap(({ file, children }) => [file, ...all(children ?? [])]);
const config = (await routes) as RouteConfigEntry[];
const behind = config.find(({ file }) => file === "desk/routes/desk.tsx");
const behindDesk = ["desk/routes/desk.tsx", ...all(behind?.children ?? [])];
const sourceOf = (file: string) => readFileSync(join(APP, file), "utf8");
const hasExport = (file: string, name: string) =>
  new RegExp(`export (async )?(function|const) ${name}\\b`).test(sourceOf(file));

/** The intents that an action's source knows. */
function intentsOf(file: string): string[] {
  const source = sourceOf(file);
  const from = source.search(/export async function action|export function action/);
  const body = source.slice(from, source.indexOf("\n}\n", from));
  const found = [...body.matchAll(/case "([\w-]+)":|(?:intent|task) [!=]== "([\w-]+)"/g)];
  return [...new Set(found.map(([, by, or]) => (by ?? or) as string))].toSorted();
}

describe("the table of routes", () => {
  it("lets nobody in without a session, but at the doors that are public on purpose", () => {
    expect(
      config
        .filter(({ file }) => file !== "desk/routes/desk.tsx")
        .map(({ file }) => file)
        .toSorted(),
    ).toEqual(PUBLIC.toSorted());
    expect(sourceOf("desk/routes/desk.tsx")).toMatch(/middleware[^=]*= \[requireUser\]/);
  });

  it("is the folders' contents: no route's file is left out", () => {
    const files = readdirSync(APP, { recursive: true, encoding: "utf8" })
      .map((file) => file.replaceAll("\\", "/"))
      .filter((file) => /\/routes\/[\w-]+\.tsx?$/.test(file));
    expect(files.filter((file) => ![...PUBLIC, ...behindDesk].includes(file))).toEqual([]);
  });

  it("has a line for every intent of every action, and for every loader", () => {
    const missing: string[] = [];
    for (const file of behindDesk) {
      if (hasExport(file, "loader") && LOADERS[file] === undefined) missing.push(`${file}: loader`);
      if (!hasExport(file, "action")) continue;
      const lines = ACTIONS[file] ?? {};
      const known = Object.keys(lines).map((key) => key.split(":")[0]);
      if (Object.keys(lines).length === 0) missing.push(`${file}: action`);
      for (const intent of intentsOf(file)) if (!known.includes(intent)) missing.push(`${file}: ${intent}`);
      for (const key of known)
        if (key !== "" && !intentsOf(file).includes(key ?? "")) missing.push(`${file}: no ${key} any more`);
    }
    expect(missing).toEqual([]);
  });

  it("sends nobody's session to the sign-in before anything is read", async () => {
    const request = new Request("http://here.example/sequences/1", { method: "POST" });
    const knocked = requireUser({ request, context: new RouterContextProvider(), params: {} } as never, () =>
      Promise.reject(new Error("let in")),
    );
    await expect(knocked).rejects.toMatchObject({ status: 302 });
  });
});

const REFUSAL =
  /They, or a manager, can (change|answer)|the managers'\. One of them can|Only a manager changes|somebody else's/;

/** Whom the table lets: the things are Marta's, and shared as they are at first. */
function mayBy(act: Act, who: Who): boolean {
  const { who: rule } = lineOf(act);
  if (rule === "managers") return who === "manager";
  if (rule === "everybody" || rule === "users" || rule === "self") return true;
  return who !== "colleague";
}

describe("an action", () => {
  it.each(lines)("$name", async ({ file, key, line }) => {
    const intent = key.split(":")[0] ?? "";
    for (const who of Object.keys(USERS) as Who[]) {
      const allowed = mayBy(line.act, who);
      if (allowed && line.far) continue;
      const { text, wrote } = await installed.attempt(file, intent, line, who);
      const context = `${who}: ${text.slice(0, 600)}`;
      expect(text, context).not.toMatch(/SqliteError|TypeError/);
      if (allowed) expect(text, context).not.toMatch(REFUSAL);
      else {
        expect(text, context).toMatch(REFUSAL);
        expect(wrote, context).toBe(0);
      }
    }
  });
});

describe("what waits", () => {
  it("is asked of whoever can do it: the owner and managers, and of no colleague", () => {
    const { app } = installed;
    const user = (who: Who) => installed.contextOf(who).get(userContext);
    app.db.exec(`SAVEPOINT waits;
      UPDATE mailboxes SET state = 'resting', rest_reason = 'bounces' WHERE id = 1;
      UPDATE journeys SET wait_reason = 'merge_field_empty', wait_detail = 'city' WHERE id = 1`);
    // A manager meets a colleague's things once they look at them.
    const kinds = (who: Who, looksAt: User["looksAt"] = "mine") => [
      ...new Set(todoList(app, { ...user(who), looksAt }).items.map(({ kind }) => kind)),
    ];
    const wanted = ["replies", "drafts", "mailbox", "company", "field"];
    expect(kinds("owner")).toEqual(expect.arrayContaining(wanted));
    expect(kinds("manager")).toEqual([]);
    expect(kinds("manager", "all")).toEqual(expect.arrayContaining(wanted));
    expect(kinds("colleague")).toEqual([]);
    expect(today(app, user("colleague")).unread).toBe(0);
    app.db.exec("ROLLBACK TO waits; RELEASE waits");
  });

  it("and so on Sending: emails, letters and people about whom nobody can tell are counted for whoever decides", () => {
    const { app } = installed;
    app.db.exec(
      "SAVEPOINT cases; INSERT INTO recoveries (reason, since, until, found, ended_at) VALUES ('restored', 0, 1, 2, 1)",
    );
    const cases = (who: Who) => [
      undecidedEmails(app, USERS[who]).total,
      setAsideMessages(app, USERS[who]).total,
      restored(app, USERS[who])?.total ?? null,
    ];
    expect(cases("owner")).toEqual([1, 1, 1]);
    expect(cases("manager")).toEqual([1, 1, 1]);
    expect(cases("colleague")).toEqual([0, 0, null]);
    app.db.exec("ROLLBACK TO cases; RELEASE cases");
  });

  it("letters to colleagues are one press away, to be read; opting out is all that a reader may note", () => {
    const query = { filter: "unread", label: "", search: "", open: null } as const;
    const look = (who: Who, looksAt: User["looksAt"] = "mine") =>
      desk(installed.app, { ...installed.contextOf(who).get(userContext), looksAt }, query);
    const owner = installed.contextOf("owner").get(userContext);
    expect(look("owner")).toMatchObject({ notYours: null, unreadOfOthers: 0 });
    expect(look("owner").replies).toHaveLength(3);
    // Nor does a manager meet them at first.
    for (const who of ["colleague", "manager"] as const)
      expect(look(who)).toMatchObject({
        replies: [],
        open: null,
        unreadOfOthers: 3,
        looking: { at: "mine" },
      });
    for (const at of ["all", owner.id] as const) expect(look("colleague", at).replies).toHaveLength(3);
    expect(look("colleague", owner.id).looking.name).toBe(owner.name);
    expect(look("colleague", "all").notYours).toMatch(REFUSAL);
    expect(look("manager", "all").notYours).toBeNull();
  });

  it("a colleague's piece that is theirs alone is not among those for an answer", () => {
    const { app } = installed;
    const names = (who: Who) =>
      desk(
        app,
        { ...installed.contextOf(who).get(userContext), looksAt: "all" },
        { filter: "unread", label: "", search: "", open: null },
      ).pieces.map(({ name }) => name);
    expect(names("colleague")).toEqual(["Greeting"]);
    app.db.exec("UPDATE pieces SET sharing = 'mine'");
    expect([names("owner"), names("colleague")]).toEqual([["Greeting"], []]);
    app.db.exec("UPDATE pieces SET sharing = 'use'");
  });
});

describe("somebody else's things inside one's own", () => {
  const save = (mailboxIds: number[], change: object = {}) =>
    installed.attempt(
      "sequences/routes/sequence.tsx",
      "save",
      { act: "mailbox.use", ...sequence, body: { form: { ...SEQUENCE(1, mailboxIds), ...change } } },
      "owner",
    );

  it("a sequence sends from no colleague's mailbox, nor through their account", async () => {
    expect((await save([1])).text).toContain('"ok":true');
    expect((await save([1, 2])).text).toMatch(REFUSAL);
    installed.app.db.exec("UPDATE social_accounts SET user_id = 2");
    expect((await save([1], { settings: { accountId: 1 } })).text).toMatch(REFUSAL);
    installed.app.db.exec("UPDATE social_accounts SET user_id = 1");
  });

  it("a list that a colleague's sequence runs for is not deleted under it", async () => {
    installed.app.db.exec("UPDATE lists SET owner_id = 2");
    const gone = await installed.attempt(
      "prospects/routes/list.tsx",
      "delete",
      { act: "list.change", params: one },
      "colleague",
    );
    expect(gone.text).toMatch(REFUSAL);
    installed.app.db.exec("UPDATE lists SET owner_id = 1");
  });

  it("a list that may be changed is changed by everybody; one that is kept to oneself is not even there", async () => {
    const rename = { act: "list.change", params: one, body: { name: "Ours" } } as const;
    installed.app.db.exec("UPDATE lists SET sharing = 'change'");
    expect(
      (await installed.attempt("prospects/routes/list.tsx", "rename", rename, "colleague")).text,
    ).toContain('"ok":true');
    installed.app.db.exec("UPDATE lists SET sharing = 'mine'");
    const { loader } = (await import("../prospects/routes/list")) as unknown as {
      loader: (args: unknown) => unknown;
    };
    const look = (who: Who) => {
      try {
        return loader({
          params: one,
          context: installed.contextOf(who),
          request: new Request("http://here.example/"),
        });
      } catch (thrown) {
        return thrown;
      }
    };
    expect(look("colleague")).toBeNull();
    expect(look("manager")).toHaveProperty("shared");
    installed.app.db.exec("UPDATE lists SET sharing = 'use'");
  });

  /** What an action answers to Rui while the installation is changed by `sql`; then it is as it was. */
  const asRui = async (sql: string, file: string, line: Line) => {
    const intent = (line.body as { intent?: string }).intent ?? "";
    return installed.attempt(file, intent, line, "colleague", requestFor(line, intent), sql);
  };

  it("a conversation in one's own mailbox hands no colleague's person over", async () => {
    const body = { intent: "hand-over", replyId: 1, to: 3 };
    const said = await asRui("UPDATE replies SET mailbox_id = 2 WHERE id = 1", "replies/routes/replies.tsx", {
      act: "reply.change",
      body,
    });
    expect(said.text).toMatch(REFUSAL);
  });

  it("a company's hold stays while a colleague's emails wait for it, whoever else is theirs there", async () => {
    const said = await asRui("UPDATE prospects SET owner_id = 2 WHERE id = 1", "today/routes/today.tsx", {
      act: "company.release",
      as: "json",
      body: { intent: "release", companyId: 1 },
    });
    expect(said.text).toMatch(REFUSAL);
  });

  it("a booking page books calls with nobody who does not let it", async () => {
    const page = {
      name: "Ours",
      slug: "ours-now",
      days: [1],
      lengths: [30],
      opens: "09:00",
      closes: "17:00",
    };
    const line = (hostIds: number[]) =>
      ({
        act: "host.use",
        body: { intent: "booking", id: "", form: JSON.stringify({ ...page, hostIds }) },
      }) as const;
    const off = `UPDATE users SET settings = '{"colleaguesBook":false}' WHERE id = 1`;
    expect((await asRui(off, "settings/routes/settings.tsx", line([1, 2]))).text).toMatch(REFUSAL);
    expect((await asRui(off, "settings/routes/settings.tsx", line([2]))).text).toContain("Saved");
    expect((await asRui("", "settings/routes/settings.tsx", line([1, 2]))).text).toContain("Saved");
  });

  it("what somebody keeps to themselves is found by no filter, named nowhere, and explained to nobody", async () => {
    const { app } = installed;
    app.db.exec("UPDATE lists SET sharing = 'mine'; UPDATE sequences SET is_personal = 1 WHERE id = 1");
    const f = (field: string, value: string, op = "is") =>
      JSON.stringify({ groups: [{ conditions: [{ field, op, value }] }] });
    const found = (who: Who, query: Record<string, string>) =>
      countProspects(app, USERS[who], prospectsQuery.parse(query));
    const seen = (who: Who) => [
      found(who, { f: f("list", "1") }),
      found(who, { f: f("list", "1", "is_not") }),
      found(who, { f: f("outcome", "1 started") }),
      found(who, { list: "1" }),
      exportCsv(app, USERS[who], {}).includes("Museums"),
      prospectStory(app, USERS[who], 1).lists.length,
      openDuplicates(app, USERS[who], null).groups[0]?.sides[0]?.lists,
      openImport(app, USERS[who], 1)?.listName,
      listChoices(app, USERS[who]).length,
      whyOf(app, USERS[who], 1)?.sequenceName,
    ];
    app.db.exec("UPDATE imports SET list_id = 1");
    const hers = [4, 0, 3, 4, true, 1, "Museums", "Museums", 1, "Loans"];
    expect(seen("owner")).toEqual(hers);
    expect(seen("manager")).toEqual(hers);
    expect(seen("colleague")).toEqual([0, 4, 0, 0, false, 0, "", null, 0, undefined]);
    app.db.exec("UPDATE lists SET sharing = 'use'; UPDATE sequences SET is_personal = 0 WHERE id = 1");
    expect(seen("colleague")).toEqual(hers);
  });

  it("a file changes nothing of a colleague's people, and says so", async () => {
    const { app } = installed;
    const csv = "email,first name,city\nana@kai.example,Anabela,Porto\nown@kai.example,Olga,Faro\n";
    const bring = async (by: number) => {
      app.db.exec("SAVEPOINT bring");
      const uploaded = uploadImport(app, by, { name: "a.csv", bytes: Buffer.from(csv), listName: "Fair" });
      const id = uploaded.ok ? uploaded.value : 0;
      const { settings } = importById(app, id) as Import;
      setImport(app, id, {
        state: "columns",
        settings: { ...settings, known: { firstName: "replace", city: "replace" } },
      });
      await lookThrough(app, id, unwatched);
      await runImport(app, id, unwatched);
      const ana = app.db.prepare("SELECT first_name AS name, city FROM prospects WHERE id = 1").get();
      const { report } = importById(app, id) as Import;
      app.db.exec("ROLLBACK TO bring; RELEASE bring");
      return { ana, anothers: report.anothers, added: report.added };
    };
    expect(await bring(2)).toEqual({ ana: { name: "Ana", city: "" }, anothers: 1, added: 1 });
    expect(await bring(1)).toEqual({ ana: { name: "Anabela", city: "Porto" }, anothers: 0, added: 1 });
  });

  it("a personal sequence is not there for a colleague, by any of its pages", async () => {
    installed.app.db.exec("UPDATE sequences SET is_personal = 1 WHERE id = 1");
    for (const file of ["people", "versions", "rehearsal", "sequence", "start", "sequence-file"]) {
      const { loader } = (await import(/* @vite-ignore */ join(APP, `sequences/routes/${file}.tsx`))) as {
        loader: (args: unknown) => unknown;
      };
      const look = () =>
        loader({
          params: one,
          context: installed.contextOf("colleague"),
          request: new Request("http://here.example/"),
        });
      expect(look, file).toThrow();
    }
    installed.app.db.exec("UPDATE sequences SET is_personal = 0 WHERE id = 1");
  });
});
