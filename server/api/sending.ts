/** Mailboxes, the block list, results, and work that goes on. */
import { z } from "zod";
import { FIGURE_NAMES, type Figures } from "../../core/results/figures.ts";
import { limitToday } from "../../core/sending/sender.ts";
import { hiddenFrom, mayNot } from "../accounts/may-not.ts";
import { jobById } from "../db/jobs.ts";
import { allMailboxes, senderOf } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { done, refused, whenDone } from "../errors.ts";
import { stopJob } from "../jobs/job-state.ts";
import { applyBlocks, unblock } from "../prospects/block-list/block-list.ts";
import { importById } from "../prospects/imports/imports.ts";
import { askLookThrough } from "../prospects/imports/look-through.ts";
import { askImport } from "../prospects/imports/run-import.ts";
import { uploadImport } from "../prospects/imports/upload-import.ts";
import { keepFound, searchById } from "../prospects/searches/review-search.ts";
import { startSearch } from "../prospects/searches/search.ts";
import {
  at,
  collection,
  id,
  listingQuery,
  pageOf,
  pageOfAll,
  pathId,
  time,
  windowOf,
} from "../resources/listing.ts";
import { lookQuery } from "../results/look.ts";
import { overview } from "../results/overview.ts";
import { setMailboxState } from "../sending/mailboxes/save-mailbox.ts";
import { type Call, read, write } from "./operation.ts";

const one = { id: pathId };

const mailboxSchema = z
  .object({
    id,
    address: z.string(),
    senderName: z.string(),
    owner: z.string(),
    state: z.enum(["active", "paused", "resting"]),
    restsUntil: time.nullable(),
    limitToday: z.number().int(),
    sentToday: z.number().int(),
    trouble: z.string().nullable().meta({ description: "Why it cannot be read or cannot send." }),
  })
  .meta({ id: "Mailbox" });

const mailboxes = ({ app }: Call) =>
  allMailboxes(app.db).map((mailbox) => {
    const sender = senderOf(app.db, mailbox, app.clock.now());
    return {
      ...{
        id: mailbox.id,
        address: mailbox.address,
        senderName: mailbox.senderName,
        owner: mailbox.ownerName,
      },
      ...{ state: mailbox.state, restsUntil: at(mailbox.restUntil) },
      ...{ limitToday: limitToday(sender), sentToday: sender.sentToday },
      trouble: mailbox.trouble ?? mailbox.smtpTrouble,
    };
  });
const mailboxOf = (call: Call, mailboxId: number) =>
  mailboxes(call).find((each) => each.id === mailboxId) ?? null;

const figures = z.object(
  Object.fromEntries(FIGURE_NAMES.map((name) => [name, z.number().int()])) as Record<
    keyof Figures,
    z.ZodNumber
  >,
);

const look = lookQuery.shape;
const day = z.iso.date().optional();

const jobSchema = z
  .object({
    id,
    kind: z.string(),
    state: z.enum(["waiting", "working", "done", "failed", "cancelled"]),
    done: z.number().int(),
    total: z.number().int(),
    problem: z.string().nullable(),
  })
  .meta({ id: "Job" });

/** Another's work is not there; whoever may stop it may see it. */
function jobOf({ app, user }: Call, jobId: number) {
  const job = jobById(app.db, jobId);
  if (!job || mayNot(app, user.id, "job.stop", jobId)) return null;
  const { id, kind, state, done, total, problem } = job;
  return { id, kind, state, done, total, problem };
}

export const sending = [
  read({
    name: "listMailboxes",
    path: "/mailboxes",
    area: "sending",
    does: "Mailboxes, and what each may send today.",
    query: listingQuery,
    answer: collection(mailboxSchema),
    example: {},
    run: (call, { query }) => pageOfAll(mailboxes(call), query),
  }),
  read({
    name: "getMailbox",
    path: "/mailboxes/{id}",
    area: "sending",
    does: "One mailbox.",
    params: one,
    answer: mailboxSchema,
    example: { params: { id: "1" } },
    run: (call, { params }) => mailboxOf(call, params.id),
  }),
  write("post", {
    name: "setMailboxState",
    path: "/mailboxes/{id}/state",
    area: "sending",
    does: "Lets a mailbox pause, or go on; one that rests is brought back.",
    params: one,
    body: z.strictObject({ state: z.enum(["active", "paused"]) }),
    answer: mailboxSchema,
    example: { params: { id: "1" }, body: { state: "paused" } },
    run: (call, { params, body }) => {
      if (!mailboxOf(call, params.id)) return null;
      const set = setMailboxState(call.app, call.user, params.id, body.state);
      return set.ok ? mailboxOf(call, params.id) : set;
    },
  }),

  read({
    name: "listBlocked",
    path: "/block-list",
    area: "sending",
    does: "Addresses and domains that nothing is sent to.",
    query: {
      ...listingQuery,
      q: z.string().max(200).optional().meta({ description: "A part of the entry." }),
    },
    answer: collection(
      z
        .object({
          id,
          kind: z.enum(["address", "domain"]),
          value: z.string(),
          reason: z.string(),
          note: z.string(),
          at: time,
        })
        .meta({ id: "Block" }),
    ),
    example: { query: { q: "old" } },
    run: ({ app }, { query: { q, ...listing } }) => {
      const window = windowOf(listing, "b.id");
      const rows = sql(
        app.db,
        `SELECT id, kind, value, reason, note, at FROM block_list b
         WHERE (@like IS NULL OR value LIKE @like) AND ${window.where} ORDER BY ${window.order}`,
      ).all<{
        id: number;
        kind: "address" | "domain";
        value: string;
        reason: string;
        note: string;
        at: number;
      }>({
        ...window.values,
        like: q === undefined ? null : `%${q.replace(/[%_]/g, "")}%`,
      });
      return pageOf(rows, listing, (row) => ({ ...row, at: at(row.at) }));
    },
  }),
  write("post", {
    name: "block",
    path: "/block-list",
    area: "sending",
    does: "Puts addresses and domains on the block list, and stops whoever they concern.",
    body: z.strictObject({
      values: z.array(z.string().min(3).max(254)).min(1).max(1_000),
      note: z.string().max(200).default(""),
    }),
    answer: z.object({ added: z.number().int(), known: z.number().int(), broken: z.array(z.string()) }),
    example: { body: { values: ["rival.example", "stop@harbour.example"], note: "Asked by phone." } },
    run: ({ app, user }, { body: { values, note } }) =>
      // A line break within a value would make two of it.
      values.some((each) => /[\r\n]/.test(each))
        ? refused({ values: "An address or a domain has no line break." })
        : whenDone(
            applyBlocks(app, user.id, { text: values.join("\n"), mode: "append", note }),
            ({ add, same, broken }) => ({
              added: add.length,
              known: same,
              broken: broken.map(({ text }) => text),
            }),
          ),
  }),
  write("delete", {
    name: "unblock",
    path: "/block-list/{id}",
    area: "sending",
    does: "Takes an entry off the block list. Of somebody who opted out, why has to be said.",
    params: one,
    body: z.strictObject({ why: z.string().max(300).default("") }),
    answer: z.object({}),
    example: { params: { id: "1" }, body: { why: "They are a customer again." } },
    run: ({ app, user }, { params, body }) => {
      const outcome = unblock(app, user.id, { id: params.id, ...body });
      if (outcome.ok && outcome.value === null) return null;
      return whenDone(outcome, () => ({}));
    },
  }),

  read({
    name: "getResults",
    path: "/results",
    area: "results",
    does: "Results of all sequences: of people who were started, each counted once; shares are of those who were reached.",
    query: {
      since: day.meta({ description: "Started on this day or later, where you are." }),
      until: day.meta({ description: "Started on this day or earlier." }),
      ...{ list: look.list, mailbox: look.mailbox, rep: look.rep, country: look.country, stage: look.stage },
    },
    answer: z.object({
      all: figures,
      sequences: z.array(z.object({ id, name: z.string(), figures })),
    }),
    example: { query: { country: "PT" } },
    run: ({ app, user }, { query }) => {
      const { lines, all } = overview(app, user.id, lookQuery.parse(query), user.zone);
      return { all, sequences: lines.map(({ id, name, figures }) => ({ id, name, figures })) };
    },
  }),

  write("post", {
    name: "importPeople",
    path: "/imports",
    area: "jobs",
    does: "Takes a list of people as CSV, tells its columns, and looks through it; nobody is added yet.",
    body: z.strictObject({
      fileName: z.string().min(1).max(200).default("api.csv"),
      list: z.string().trim().min(1).max(80),
      csv: z.string().min(1).meta({ description: "As much as a request holds; longer lists go in parts." }),
      columns: z
        .array(z.string().max(60))
        .max(200)
        .optional()
        .meta({ description: "What each column is; told by its name and content without it." }),
    }),
    answer: z.object({ importId: id, jobId: id, columns: z.array(z.string()) }),
    example: { body: { list: "Fair", csv: "email,first name\nann@quay.example,Ann\n" } },
    run: ({ app, user }, { body: { fileName, list, csv, columns } }) => {
      const uploaded = uploadImport(app, user.id, {
        name: fileName,
        listName: list,
        bytes: new TextEncoder().encode(csv),
      });
      if (!uploaded.ok) return uploaded;
      const found = importById(app, uploaded.value);
      if (!found) return null;
      const uses = columns ?? found.settings.uses;
      return whenDone(askLookThrough(app, user.id, found.id, { ...found.settings, uses }), (jobId) => ({
        ...{ importId: found.id, jobId, columns: [...uses] },
      }));
    },
  }),
  write("post", {
    name: "runImport",
    path: "/imports/{id}/run",
    area: "jobs",
    does: "Adds the people of a file that was looked through.",
    params: one,
    answer: z.object({ jobId: id }),
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) => whenDone(askImport(app, user.id, params.id), (jobId) => ({ jobId })),
  }),
  write("post", {
    name: "search",
    path: "/searches",
    area: "jobs",
    does: "Searches the directory with a saved profile.",
    body: z.strictObject({ profileId: id }),
    answer: z.object({ searchId: id, jobId: id.nullable() }),
    example: { body: { profileId: 1 } },
    run: ({ app, user }, { body }) =>
      hiddenFrom(app, user.id, "profile.use").has(body.profileId)
        ? null
        : whenDone(startSearch(app, user.id, body.profileId), (searchId) => ({
            searchId,
            jobId: jobOfSearch(app, searchId),
          })),
  }),
  write("post", {
    name: "keepFound",
    path: "/searches/{id}/keep",
    area: "jobs",
    does: "Keeps whom a search found on a list: everybody who fits and is not known, or only some.",
    params: one,
    body: z.strictObject({ list: z.string().min(1).max(80), foundIds: z.array(id).max(1_000).optional() }),
    answer: z.object({ listId: id, kept: z.number().int() }),
    example: { params: { id: "1" }, body: { list: "Found" } },
    run: ({ app, user }, { params, body }) => {
      if (!searchById(app, params.id)) return null;
      return keepFound(app, user.id, {
        searchId: params.id,
        listName: body.list,
        ids: body.foundIds ?? null,
      });
    },
  }),
  read({
    name: "getJob",
    path: "/jobs/{id}",
    area: "jobs",
    does: "How far some work is.",
    params: one,
    answer: jobSchema,
    example: { params: { id: "1" } },
    run: (call, { params }) => jobOf(call, params.id),
  }),
  write("delete", {
    name: "stopJob",
    path: "/jobs/{id}",
    area: "jobs",
    does: "Ends some work; what it has done stays, but for an import, which takes itself back.",
    params: one,
    answer: jobSchema,
    example: { params: { id: "1" } },
    run: (call, { params }) => {
      if (!jobOf(call, params.id)) return null;
      const stopped = stopJob(call.app, call.user.id, params.id);
      return stopped.ok ? done(jobOf(call, params.id) as NonNullable<ReturnType<typeof jobOf>>) : stopped;
    },
  }),
];

const jobOfSearch = ({ db }: Call["app"], searchId: number): number | null =>
  sql(db, "SELECT job_id AS id FROM searches WHERE id = @searchId").get<{ id: number | null }>({ searchId })
    ?.id ?? null;
